import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { symptomsQuery } from "../../api/lists";
import type { ClimbView, Move } from "../../api/types";
import { Prose } from "../../ui/Prose";
import { SeenSign, type SignView } from "./SeenSign";

/** Before the first rung: is it this symptom, and is the fault there now? */
export const Baseline = ({ view, onRecord }: { view: ClimbView; onRecord: (move: Move) => void }) => (
  <div className="max-w-[46rem]">
    {view.said && <p className="mt-3 border-rail border-l-4 pl-3">“{view.said}”</p>}
    <p className="mt-3 max-w-prose">
      Ask the caller to try once more what did not work. If caller or machine have already tried one of the steps, note
      it at the right: it will not be asked for again.
    </p>
    <div className="mt-6 grid gap-x-10 gap-y-6 md:grid-cols-2">
      {view.signs.length > 0 && (
        <Part title="It is this when you meet">
          {view.signs.map((sign) => (
            <Sign key={`${sign.kind} ${sign.text}`} sign={sign} onRecord={onRecord} />
          ))}
        </Part>
      )}
      {view.see_also.length > 0 && (
        <Part title="It is something else when">
          {view.see_also.map((one) => (
            <LookAlike key={one.sign} {...one} onRecord={onRecord} />
          ))}
        </Part>
      )}
      {view.leave_alone.length > 0 && (
        <Part title="Leave these alone">
          {view.leave_alone.map(({ what, why }) => (
            <li key={what}>
              <strong>{what}.</strong> {why}.
            </li>
          ))}
        </Part>
      )}
      {view.not_covered && (
        <Part title="Not covered here">
          <li>
            <Prose text={view.not_covered} />
          </li>
        </Part>
      )}
    </div>
  </div>
);

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section>
    <h2 className="font-semibold">{title}</h2>
    <ul className="mt-1 space-y-1.5">{children}</ul>
  </section>
);

/** A message with its changing parts left open. */
const asSeen = (text: string) => text.replace(/\{[a-z0-9-]+\}/g, "…");

const Sign = ({ sign, onRecord }: { sign: SignView; onRecord: (move: Move) => void }) => {
  const { kind, text, catch: how, picture } = sign;
  return (
    <li>
      {kind === "seen" ? text : <code className="bg-well px-1.5 py-0.5 font-mono text-dense">{asSeen(text)}</code>}
      {how && <span className="block text-dense text-faint">{how}</span>}
      {picture && (
        <img
          src={`/api/pictures/${picture}`}
          alt={`How it looks: ${text}`}
          className="mt-1 block max-h-40 max-w-full border border-rule"
        />
      )}
      {kind === "seen" && <SeenSign sign={sign} onRecord={onRecord} />}
    </li>
  );
};

type LookAlikeProps = ClimbView["see_also"][number] & { onRecord: (move: Move) => void };

/** A sign of another symptom, with the way into its playbook: the case is sent on there. */
const LookAlike = ({ sign, playbook, onRecord }: LookAlikeProps) => {
  const { data: symptoms = [] } = useQuery(symptomsQuery);
  const there = symptoms.find(({ id }) => id === playbook);
  return (
    <li>
      {sign}
      {there?.edition && (
        <button
          type="button"
          className="link block text-left text-dense"
          onClick={() => onRecord({ kind: "end", end: "handed-off", sent_on: playbook })}
        >
          Send it on to: {there.title}
        </button>
      )}
    </li>
  );
};
