import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { symptomsKey } from "../../api/keys";
import { minutes, plural } from "../../ui/format";
import { say } from "../../ui/say";
import { useSending } from "../../ui/useSending";
import { begunFromLog, type FirstLadder, firstLadderQuery, withoutPlaybookQuery } from "./queries";

interface FromLogProps {
  title: string;
  says: string;
  team: string;
  onTitle: (title: string) => void;
  onBegun: () => void;
}

/** A symptom that cases were logged of and that has no playbook yet: what was tried, in the best order. */
export const FromLog = ({ title, says, team, onTitle, onBegun }: FromLogProps) => {
  const { data } = useQuery(withoutPlaybookQuery);
  const [chosen, setChosen] = useState("");
  if (!data || data.symptoms.length === 0) return null;
  return (
    <section aria-label="From the log" className="mt-6 max-w-4xl border-rule border-t pt-3">
      <h2 className="font-semibold">Or from the log</h2>
      <p className="text-dense text-faint">
        Cases were logged of {plural(data.symptoms.length, "symptom")} without a playbook. What people tried, with its
        median minutes and how often it worked, is put into the best order.
      </p>
      <ul className="mt-2 flex flex-wrap gap-x-4 gap-y-1">
        {data.symptoms.map((one) => (
          <li key={one.symptom}>
            <button
              type="button"
              className="button"
              data-tone={one.symptom === chosen ? "main" : undefined}
              aria-pressed={one.symptom === chosen}
              disabled={!one.is_enough}
              onClick={() => {
                setChosen(one.symptom);
                if (!title.trim()) onTitle(one.called);
              }}
            >
              {one.called}, {plural(one.cases, "case")}
              {!one.is_enough && ", too few"}
            </button>
          </li>
        ))}
      </ul>
      {chosen && <Proposed symptom={chosen} title={title} says={says} team={team} onBegun={onBegun} />}
    </section>
  );
};

const Proposed = ({ symptom, title, says, team, onBegun }: Omit<FromLogProps, "onTitle"> & { symptom: string }) => {
  const { data, error } = useQuery(firstLadderQuery(symptom));
  const client = useQueryClient();
  const navigate = useNavigate();
  const beginning = useSending({
    mutationFn: () => begunFromLog(symptom, { title: title.trim(), says: says.trim(), team: team.trim() }),
    // It may have been begun though nobody was told, or by somebody else meanwhile.
    onSettled: () => {
      void client.invalidateQueries({ queryKey: symptomsKey });
      void client.invalidateQueries({ queryKey: withoutPlaybookQuery.queryKey });
    },
    onSuccess: ({ playbook }) => {
      onBegun();
      say("The ladder is begun");
      void navigate(`/playbooks/${playbook}/ladder`);
    },
  });
  if (error) return <p className="mt-3 text-clay">{error.message}</p>;
  if (!data?.answer) {
    return (
      <p role="status" className="mt-3 text-faint">
        {data?.says ?? "Its cases are being looked through."}
      </p>
    );
  }
  return (
    <>
      <Steps ladder={data.answer} />
      <button
        type="button"
        className="button mt-3"
        data-tone="main"
        disabled={!title.trim() || beginning.isPending || beginning.isSuccess}
        onClick={() => beginning.mutate()}
      >
        Begin with this ladder
      </button>
      {!title.trim() && <span className="ml-3 text-faint">Give it a title first.</span>}
      {beginning.error && (
        <p role="alert" className="mt-2 text-clay">
          {beginning.error.message}
        </p>
      )}
    </>
  );
};

const Steps = ({ ladder }: { ladder: FirstLadder }) => (
  <ol className="mt-3 border-rule border-t">
    {ladder.steps.map(({ title, minutes: effort, says }, number) => (
      <li key={title} className="grid grid-cols-[2rem_minmax(0,1fr)_5rem] gap-x-3 border-rule border-b py-1.5">
        <span className="text-right text-faint">{number + 1}</span>
        <span>
          {title}
          <span className="block text-dense text-faint">{says}</span>
        </span>
        <span className="text-right text-slate">{minutes(effort)}</span>
      </li>
    ))}
  </ol>
);
