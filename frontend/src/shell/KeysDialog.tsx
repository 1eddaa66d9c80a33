import { Dialog } from "../ui/Dialog";

const KEYS: { place: string; keys: [string, string][] }[] = [
  {
    place: "Everywhere",
    keys: [
      ["/", "find a sign, a step or a case"],
      ["s", "start a case"],
      ["?", "this list"],
    ],
  },
  {
    place: "Ladder",
    keys: [
      ["↑ ↓", "go from rung to rung"],
      ["Alt + ↑ ↓", "move the rung up or down"],
      ["Ctrl + Z", "undo"],
      ["Ctrl + Shift + Z", "redo"],
    ],
  },
  {
    place: "Guided case",
    keys: [
      ["1 … 8", "answer"],
      ["9", "the rarer answers"],
      ["y n", "a guard question, or the caller's consent"],
      ["u", "take back the last answer"],
      ["c", "copy the next command"],
      ["t", "note what was tried before the call"],
      ["m", "write a note"],
      ["x c v", "mark harm that the step did"],
      ["p", "let the case wait"],
      ["h", "hand on"],
    ],
  },
];

interface KeysDialogProps {
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
}

/** Every key of the product. */
export const KeysDialog = ({ isOpen, onOpenChange }: KeysDialogProps) => (
  <Dialog isOpen={isOpen} onOpenChange={onOpenChange} title="Keys" says="Everything here can be done without a mouse.">
    <div className="grid gap-4">
      {KEYS.map(({ place, keys }) => (
        <section key={place}>
          <h3 className="border-rule border-b pb-1 font-semibold">{place}</h3>
          <dl className="mt-1 grid grid-cols-[9rem_1fr] gap-y-1">
            {keys.map(([key, does]) => (
              <div key={key} className="contents">
                <dt className="font-mono text-dense">{key}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </div>
  </Dialog>
);
