import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { moment, plural } from "../../ui/format";
import { type Remark, remarksQuery, useSettle } from "./queries";

/** What agents did that no rung asks for: the lead may want it on the ladder. */
export const OffLadder = ({ done }: { done: Schemas["OffLadderDone"][] }) => (
  <section aria-labelledby="off-ladder" className="mt-3">
    <h3 id="off-ladder" className="font-semibold">
      Done off the ladder
    </h3>
    <ul>
      {done.map(({ playbook, playbook_title, called, times, fixed }) => (
        <li key={`${playbook} ${called}`} className="border-rule border-t py-2">
          <Link to={`/playbooks/${playbook}/ladder`} className="font-semibold">
            {called}
          </Link>
          <p className="text-dense text-faint">
            {playbook_title} · {plural(times, "time")}, fixed {fixed}
          </p>
        </li>
      ))}
    </ul>
  </section>
);

/** What agents say of texts, each leading to its rung. */
export const Wrong = ({ remarks }: { remarks: Remark[] }) => (
  <section aria-labelledby="remarks" className="mt-3">
    <h3 id="remarks" className="font-semibold">
      Texts that are wrong
    </h3>
    <ul>
      {remarks.map((remark) => (
        <li key={remark.number} className="border-rule border-t py-2">
          <Link to={`/playbooks/${remark.playbook}/ladder?step=${remark.step}`} className="font-semibold">
            {remark.title}
          </Link>
          <p className="text-dense text-faint">{remark.playbook_title}</p>
          <Said remark={remark} />
        </li>
      ))}
    </ul>
  </section>
);

/** In the margin of a step: what agents say of its texts. */
export const RemarksOnStep = ({ playbook, step }: { playbook: string; step: string }) => {
  const { data } = useQuery(remarksQuery);
  const mine = data?.remarks.filter((one) => one.playbook === playbook && one.step === step) ?? [];
  if (mine.length === 0) return null;
  return (
    <section aria-label="What agents say of its texts" className="mt-2 border-brass border-l-4 pl-3">
      {mine.map((remark) => (
        <Said key={remark.number} remark={remark} />
      ))}
    </section>
  );
};

const Said = ({ remark }: { remark: Remark }) => {
  const settle = useSettle();
  return (
    <div className="text-dense">
      {remark.text && <p className="text-faint">“{remark.text}”</p>}
      <p>
        {remark.says}{" "}
        <span className="text-faint">
          {remark.who}, {moment(remark.at)}, edition {remark.edition}
        </span>{" "}
        <button type="button" className="link" disabled={settle.isPending} onClick={() => settle.mutate(remark.number)}>
          seen to
        </button>
      </p>
      {settle.error && (
        <p role="alert" className="text-clay">
          {settle.error.message}
        </p>
      )}
    </div>
  );
};
