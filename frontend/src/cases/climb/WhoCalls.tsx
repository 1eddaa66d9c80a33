/** The other system's number, who is on the line, and where to reach them: in every text of the case, and found by it. */
export interface Who {
  ticket: string;
  caller: string;
  call_back: string;
}

export const trimmedAll = ({ ticket, caller, call_back }: Who): Who => ({
  ticket: ticket.trim(),
  caller: caller.trim(),
  call_back: call_back.trim(),
});

const FIELDS: readonly { name: keyof Who; label: string }[] = [
  { name: "caller", label: "Who is calling" },
  { name: "call_back", label: "Where to call back" },
  { name: "ticket", label: "Number in the other system" },
];

export const WhoCalls = ({ who, onChange }: { who: Who; onChange: (who: Who) => void }) => (
  <div className="mt-3 grid grid-cols-2 gap-x-3 gap-y-2">
    {FIELDS.map(({ name, label }) => (
      <div key={name} className={name === "ticket" ? "col-span-2" : ""}>
        <label htmlFor={`who-${name}`} className="label">
          {label}
        </label>
        <input
          id={`who-${name}`}
          className="field w-full"
          maxLength={120}
          autoComplete="off"
          value={who[name]}
          onChange={(event) => onChange({ ...who, [name]: event.target.value })}
        />
      </div>
    ))}
  </div>
);
