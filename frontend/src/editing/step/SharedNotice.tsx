import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Dialog } from "../../ui/Dialog";
import { percent, points, tenths } from "../../ui/format";
import { LoadFailed, Loading } from "../../ui/States";
import { useRested } from "../../ui/useSettled";
import { useEditing } from "../fields/Editing";
import { type Becoming, becomingQuery, besideLibraryQuery } from "./queries";

interface SharedNoticeProps {
  /** The step's key. */
  step: string;
  title: string;
  /** The state of the draft that the server has. */
  revision: number;
}

/** Of a step that other playbooks use too: whom a change may touch, and whether this draft's text is its own. */
export const SharedNotice = ({ step, title, revision }: SharedNoticeProps) => {
  const { draft, playbookId } = useEditing();
  const [isAsking, setAsking] = useState(false);
  const { data } = useQuery(besideLibraryQuery(playbookId, step, useRested(revision)));
  const there = data?.library;
  if (!there || (there.used_in.length === 0 && there.is_alike)) return null;
  const others = there.used_in.length + there.more;
  const take = () => {
    setAsking(false);
    draft.ask({ kind: "everywhere", step }, `“${title}” made the library's text`);
  };
  return (
    <div className="mt-3 border-rule border-l-4 pl-3 text-dense">
      {others > 0 && (
        <p>
          Also used in {listed(there.used_in, there.more)}. What you change stays here only, until you have it
          everywhere.
        </p>
      )}
      {!there.is_alike && (
        <p className={others > 0 ? "mt-1" : undefined}>
          Here it differs from the library's text, by {there.who}.{" "}
          <button type="button" className="link" onClick={() => setAsking(true)}>
            Have it everywhere
          </button>
        </p>
      )}
      <Dialog
        isOpen={isAsking}
        onOpenChange={setAsking}
        title={`Have “${title}” everywhere`}
        says="Its text, effort and risks become the library's. What it ends, and in which state it is done, stay each playbook's own."
      >
        {isAsking && <WhatBecomes playbook={playbookId} step={step} revision={revision} />}
        <div className="mt-5 flex justify-end gap-2">
          <button type="button" className="button" onClick={() => setAsking(false)}>
            Keep it here only
          </button>
          <button type="button" className="button" data-tone="main" onClick={take}>
            Have it everywhere
          </button>
        </div>
      </Dialog>
    </div>
  );
};

function listed(titles: readonly string[], more: number): string {
  const all = [...titles, ...(more > 0 ? [`${more} more`] : [])].map((one, at) =>
    at < titles.length ? `“${one}”` : one,
  );
  return all.length < 2 ? (all[0] ?? "") : `${all.slice(0, -1).join(", ")} and ${all.at(-1)}`;
}

/** What the figures of the other playbooks would become. */
const WhatBecomes = ({ playbook, step, revision }: { playbook: string; step: string; revision: number }) => {
  const { data, error, refetch } = useQuery(becomingQuery(playbook, step, revision));
  if (error) return <LoadFailed error={error} onRetry={() => void refetch()} />;
  if (!data) return <Loading rows={2} />;
  if (data.playbooks.length === 0) return <p>No other playbook uses it now.</p>;
  return (
    <>
      <p>In these playbooks it waits as a newer text until somebody takes it:</p>
      <table className="mt-2 w-full text-dense">
        <thead>
          <tr className="text-left text-faint">
            <th className="font-normal">playbook</th>
            <th className="text-right font-normal">effort min</th>
            <th className="text-right font-normal">harm points</th>
            <th className="text-right font-normal">resolved</th>
          </tr>
        </thead>
        <tbody>
          {data.playbooks.map((one) => (
            <tr key={one.title} className="border-rule border-t align-baseline">
              <td className="py-1 pr-3">{one.title}</td>
              <Changes one={one} />
            </tr>
          ))}
        </tbody>
      </table>
      {data.more > 0 && <p className="mt-1 text-faint">and {data.more} more</p>}
    </>
  );
};

const Changes = ({ one: { now, then, wrong } }: { one: Becoming }) => {
  if (!now || !then) {
    return (
      <td colSpan={3} className="text-clay">
        cannot be worked out: {wrong}
      </td>
    );
  }
  const cells = [
    [tenths(now.effort), tenths(then.effort)],
    [points(now.harm), points(then.harm)],
    [percent(now.resolved), percent(then.resolved)],
  ];
  return cells.map(([before, after], at) => (
    <td key={at} className="text-right">
      {before === after ? before : `${before} → ${after}`}
    </td>
  ));
};
