import { type FormEvent, type ReactNode, useState } from "react";
import type { ClimbView, Move, Pause } from "../../api/types";
import { Dialog, DialogActions } from "../../ui/Dialog";
import { readNumber, typedNumber } from "../../ui/number";
import { WAITS_FOR, WORTH_PUTTING_ASIDE } from "./watch";

type Reason = Pause["reason"];
type Part = NonNullable<Extract<Move, { kind: "pause" }>["part"]>;

interface PauseDialogProps {
  view: ClimbView;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  onRecord: (move: Move) => void;
}

/** Minutes of a year. */
const LONGEST = 60 * 24 * 366;
const REASONS: Reason[] = ["call-back", "answer", "part", "quiet-hour"];
const NO_PART = { what: "", from: "", number: "", expected: "" };

/** Let the case wait, and take it up again where it stood. */
export const PauseDialog = ({ isOpen, onOpenChange, ...form }: PauseDialogProps) => (
  <Dialog
    isOpen={isOpen}
    onOpenChange={onOpenChange}
    title="Let the case wait"
    says="It waits on the Desk and continues from here."
  >
    <PauseForm onOpenChange={onOpenChange} {...form} />
  </Dialog>
);

const PauseForm = ({ view, onOpenChange, onRecord }: Omit<PauseDialogProps, "isOpen">) => {
  const runsFor = view.current?.unattended ?? null;
  const mustRun = view.place === "step" && view.current?.step.unbroken === true;
  const first: Reason[] = [
    ...(runsFor != null ? (["runs"] as const) : []),
    ...(view.is_restored ? (["repair"] as const) : []),
  ];
  const reasons = mustRun ? first : [...first, ...REASONS];
  const [chosen, setReason] = useState<Reason>();
  const isShort = runsFor != null && runsFor < WORTH_PUTTING_ASIDE;
  const usual = reasons.find((one) => one !== "runs" || !isShort) ?? reasons[0];
  const reason = chosen ?? usual ?? "call-back";
  const [until, setUntil] = useState("");
  const [running, setRunning] = useState(typedNumber(Math.round(runsFor ?? 0)));
  const [part, setPart] = useState(NO_PART);
  // A part is looked for on the morning of the day on which it is expected.
  const due = reason === "part" ? part.expected && `${part.expected}T08:00` : until;
  const minutes =
    reason === "runs" ? (readNumber(running) ?? 0) : due ? (new Date(due).getTime() - Date.now()) / 60_000 : null;
  const isPast = minutes != null && !(minutes > 0);
  const isFar = minutes != null && minutes > LONGEST;
  const isNothing = reasons.length === 0;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (isPast || isFar || isNothing) return;
    onOpenChange(false);
    onRecord({ kind: "pause", reason, minutes, ...(reason === "part" && part.what.trim() && { part: told(part) }) });
  };
  const partField = (name: keyof typeof NO_PART, label: string, type = "text") => (
    <Labelled label={label} name={`part-${name}`}>
      <input
        id={`part-${name}`}
        type={type}
        className="field w-56"
        maxLength={300}
        value={part[name]}
        onChange={({ target }) => setPart({ ...part, [name]: target.value })}
      />
    </Labelled>
  );
  return (
    <form className="space-y-4" onSubmit={submit}>
      {isNothing && <p className="text-clay">Once begun, this step must not be interrupted.</p>}
      <fieldset className="space-y-1">
        <legend className="sr-only">What it waits for</legend>
        {reasons.map((one) => (
          <label key={one} className="flex items-center gap-2">
            <input type="radio" name="reason" checked={reason === one} onChange={() => setReason(one)} />
            {one === "runs" ? "The step runs by itself meanwhile" : WAITS_FOR[one]}
          </label>
        ))}
      </fieldset>
      {reason === "part" && (
        <div className="grid grid-cols-2 gap-x-4 gap-y-2 max-md:grid-cols-1">
          {partField("what", "Which part")}
          {partField("from", "From where")}
          {partField("number", "Ordered under the number")}
          {partField("expected", "Expected on", "date")}
        </div>
      )}
      {reason === "runs" ? (
        <Labelled label="Minutes until it is done" name="running">
          <input
            id="running"
            className="field w-20"
            inputMode="decimal"
            maxLength={6}
            value={running}
            onChange={({ target }) => setRunning(target.value)}
          />
        </Labelled>
      ) : reason === "part" ? null : (
        <Labelled label="Until, if that is known" name="until">
          <input
            id="until"
            type="datetime-local"
            className="field w-56"
            value={until}
            onChange={({ target }) => setUntil(target.value)}
          />
        </Labelled>
      )}
      {isPast && (
        <p className="text-clay text-dense">
          {reason === "runs" ? "Say in how many minutes it is done." : "That has passed already."}
        </p>
      )}
      {isFar && <p className="text-clay text-dense">A case waits for a year at most.</p>}
      <DialogActions
        leave="Go on with the case"
        label={reason === "runs" ? "Put it aside" : "Let it wait"}
        isDisabled={isPast || isFar || isNothing}
        onLeave={() => onOpenChange(false)}
      />
    </form>
  );
};

const Labelled = ({ label, name, children }: { label: string; name: string; children: ReactNode }) => (
  <div>
    <label htmlFor={name} className="label">
      {label}
    </label>
    {children}
  </div>
);

/** What was said of the part; what was not is left out. */
function told(part: typeof NO_PART): Part {
  const said = Object.entries(part).flatMap(([name, text]) => (text.trim() ? [[name, text.trim()]] : []));
  return Object.fromEntries(said) as Part;
}
