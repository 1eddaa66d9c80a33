import type { By } from "./useBasis";

const NAMES: Record<By, string> = { cases: "by the cases", judged: "as judged" };

/** Whether figures, orders and reasons are by what the cases have taught, or by the lead's guesses. */
export const BasisSwitch = ({ by, onChoose }: { by: By; onChoose: (by: By) => void }) => (
  <fieldset
    aria-label="Figures"
    className="flex shrink-0 justify-end gap-x-3 text-dense low:hidden max-xl:flex-col max-xl:items-start"
  >
    <span aria-hidden="true" className="text-faint max-xl:hidden">
      Figures
    </span>
    {(["cases", "judged"] as const).map((one) => (
      <button
        key={one}
        type="button"
        aria-pressed={by === one}
        className={`text-left ${by === one ? "font-semibold" : "link"}`}
        onClick={() => onChoose(one)}
      >
        {NAMES[one]}
      </button>
    ))}
  </fieldset>
);
