import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { plural, count as whole } from "../../ui/format";
import { useSettled } from "../../ui/useSettled";
import { type QuickStep, quickQuery } from "./queries";
import { Said } from "./Said";

interface QuickListProps {
  label: string;
  /** The playbook whose causes and states the lines may name. */
  playbook?: string;
  text: string;
  onText: (text: string) => void;
  take: string;
  isBusy?: boolean;
  isIncomplete?: string;
  onTake: (lines: QuickStep[]) => void;
}

const EXAMPLE = "such as: Reseat the lead, 5 min visit, journey 20; equipment mild; ends One lead is bad often";

/** A list in quick words, one step a line, and beside it what is understood of each. */
export const QuickList = ({ label, playbook, text, onText, take, isBusy, isIncomplete, onTake }: QuickListProps) => {
  const settled = useSettled(text, 250);
  const { data, error } = useQuery({ ...quickQuery(settled ?? "", playbook), enabled: !!settled?.trim() });
  const [isAll, setAll] = useState(false);
  const id = useId();
  const lines = text.trim() ? (data?.lines ?? []) : [];
  const good = lines.filter(({ wrong }) => !wrong);
  const doubtful = lines.filter(isDoubtful).length;
  const shown = isAll ? lines : lines.slice(0, 60);
  const isRead = settled === text && data !== undefined;
  return (
    <div className="grid gap-x-6 gap-y-3 lg:grid-cols-2">
      <div>
        <label htmlFor={id} className="label">
          {label}
        </label>
        <textarea
          id={id}
          className="field max-h-[60vh] min-h-48 field-sizing-content font-mono text-dense"
          placeholder={EXAMPLE}
          value={text}
          spellCheck={false}
          onChange={({ target }) => onText(target.value)}
        />
        <div className="mt-2 flex items-center gap-3">
          <button
            type="button"
            className="button"
            data-tone="main"
            disabled={isBusy || !!isIncomplete || (text.trim() !== "" && !isRead)}
            onClick={() => onTake(good)}
          >
            {take}
          </button>
          <span role="status" className="text-dense text-faint">
            {isIncomplete ?? (lines.length > 0 && told(lines.length, doubtful, data?.more ?? 0))}
          </span>
        </div>
      </div>
      <section aria-label="What is understood" className="min-w-0">
        {error && <p className="text-clay">{error.message} The list stays here.</p>}
        <ol className={lines.length > 0 ? "border-rule border-t" : ""}>
          {shown.map((line, number) => (
            <li key={number} className="grid grid-cols-[2rem_minmax(0,1fr)] border-rule border-b py-1">
              <span className="text-faint">{number + 1}</span>
              <Said quick={line} />
            </li>
          ))}
        </ol>
        {lines.length > shown.length && (
          <button type="button" className="link mt-1 text-dense" onClick={() => setAll(true)}>
            show the other {lines.length - shown.length}
          </button>
        )}
      </section>
    </div>
  );
};

const isDoubtful = ({ wrong, unread, doubts }: QuickStep) => !!wrong || !!unread?.length || !!doubts?.length;

function told(count: number, doubtful: number, more: number): string {
  const parts = [plural(count, "step")];
  if (doubtful > 0) parts.push(`${doubtful} to look at`);
  if (more > 0) parts.push(`${whole(more)} more do not fit on one ladder: they stay here`);
  return parts.join("; ");
}
