import { Link } from "react-router";
import { inMonth, percent, plural, tenths } from "../../ui/format";
import { type NamedDrift, useDecline } from "./queries";

interface DriftRowProps {
  playbook: string;
  /** Of the symptom. */
  title: string;
  drift: NamedDrift;
}

/** A step that has stopped working, and since when: told until somebody has seen it. */
export const DriftRow = ({ playbook, title, drift }: DriftRowProps) => {
  const declining = useDecline();
  const seen = () => declining.mutate({ playbook, key: drift.key, isForGood: false, why: "" });
  return (
    <li className="grid grid-cols-[4rem_minmax(0,1fr)_9.5rem_6.5rem] items-start gap-x-4 gap-y-2 border-rule border-b py-3 max-md:grid-cols-[minmax(0,1fr)_6.5rem]">
      <div className="md:col-span-2 md:pl-20">
        <p className="text-dense text-faint">{title}</p>
        <p className="text-lead">
          <b>{drift.title}</b> has ended less since {inMonth(drift.since)}
        </p>
        <p className="text-dense text-faint">
          {drift.resolved_after} of {plural(drift.tries_after, "try", "tries")} since; {tenths(drift.expected_after)}{" "}
          were to be expected
        </p>
        {declining.error && (
          <p role="alert" className="text-clay">
            {declining.error.message}
          </p>
        )}
      </div>
      <p className="text-dense max-md:col-start-1">
        <span className="block font-semibold text-clay text-body">
          {percent(drift.resolved_after / drift.tries_after)} since
        </span>
        <span className="block text-faint">{percent(drift.resolved_before / drift.tries_before)} before</span>
      </p>
      <div className="flex flex-col items-start gap-1 text-dense max-md:col-start-2 max-md:row-start-1">
        <Link to={`/playbooks/${playbook}/evidence?step=${drift.step}`} className="link font-semibold">
          See the cases
        </Link>
        <button type="button" className="link text-faint" disabled={declining.isPending} onClick={seen}>
          seen
        </button>
      </div>
    </li>
  );
};
