import { Dialog } from "../ui/Dialog";
import { listed } from "../ui/keys";

interface KeysDialogProps {
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
}

/** Every key of the product. */
export const KeysDialog = ({ isOpen, onOpenChange }: KeysDialogProps) => (
  <Dialog isOpen={isOpen} onOpenChange={onOpenChange} title="Keys" says="Everything here can be done without a mouse.">
    <div className="grid gap-4">
      {listed().map(({ place, keys }) => (
        <section key={place}>
          <h3 className="border-rule border-b pb-1 font-semibold">{place}</h3>
          <dl className="mt-1 grid grid-cols-[12rem_1fr] gap-y-1">
            {keys.map(({ keys: pressed, says }) => (
              <div key={pressed} className="contents">
                <dt className="font-mono text-dense">{pressed}</dt>
                <dd>{says}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </div>
    <p className="mt-4 text-right">
      <button type="button" className="button" onClick={() => onOpenChange(false)}>
        Close
      </button>
    </p>
  </Dialog>
);
