import { useQuery } from "@tanstack/react-query";
import { type FormEvent, type KeyboardEvent, useState } from "react";
import { symptomsQuery } from "../../api/lists";
import { atClock, moment, plural } from "../../ui/format";
import { isOver } from "./concerns";
import { type Notice, noticesQuery, useCalledBack, useEnd, usePutUp } from "./queries";

/** What is known now, on the Desk: put up, ended, and whoever called about it called back. */
export const Notices = () => {
  const { data, error } = useQuery(noticesQuery);
  const [isWriting, setWriting] = useState(false);
  return (
    <section aria-labelledby="known-now" className="mb-6">
      <h2 id="known-now" className="font-semibold text-lead">
        Known now
      </h2>
      {error && <p role="alert">{error.message}</p>}
      <ul>
        {data?.map((notice) => (
          <OneNotice key={notice.number} notice={notice} />
        ))}
      </ul>
      {isWriting ? (
        <NewNotice onDone={() => setWriting(false)} />
      ) : (
        <button type="button" className="link mt-1 text-dense" onClick={() => setWriting(true)}>
          Tell everybody what is known now
        </button>
      )}
    </section>
  );
};

const OneNotice = ({ notice }: { notice: Notice }) => {
  const { data: symptoms } = useQuery(symptomsQuery);
  const end = useEnd();
  const calledBack = useCalledBack();
  const over = isOver(notice, Date.now());
  const waiting = notice.calls.filter((call) => call.called_back == null);
  if (over && waiting.length === 0) return null;
  const of = symptoms?.find(({ id }) => id === notice.playbook)?.title;
  return (
    <li className="border-rule border-t py-2">
      <p className={over ? "text-faint" : "font-semibold"}>{notice.says}</p>
      <p className="text-dense text-faint">
        {[of, notice.value].filter(Boolean).join(" · ") || "everything"} · {notice.who}, {atClock(notice.begun)}
        {over ? " · over" : notice.until && ` · until ${moment(notice.until)}`}
      </p>
      {waiting.length > 0 && (
        <details open={over} className="text-dense">
          <summary>
            {over ? "Call back: " : ""}
            {plural(waiting.length, "caller")}
          </summary>
          <ul>
            {waiting.map((call) => (
              <li key={call.id} className="py-0.5">
                {[call.caller || "somebody", call.call_back, call.unit].filter(Boolean).join(" · ")}{" "}
                {over && (
                  <button
                    type="button"
                    className="link"
                    onClick={() => calledBack.mutate({ number: notice.number, call_id: call.id })}
                  >
                    called back
                  </button>
                )}
              </li>
            ))}
          </ul>
        </details>
      )}
      {!over && (
        <button type="button" className="link text-dense" onClick={() => end.mutate(notice.number)}>
          It is over
        </button>
      )}
    </li>
  );
};

/** A key that is held down tells it once. */
const refuseHeld = (event: KeyboardEvent) => {
  if (event.repeat && event.key === "Enter") event.preventDefault();
};

const NewNotice = ({ onDone }: { onDone: () => void }) => {
  const { data: symptoms } = useQuery(symptomsQuery);
  const [says, setSays] = useState("");
  const [playbook, setPlaybook] = useState("");
  const [kind, setKind] = useState("");
  const [until, setUntil] = useState("");
  const putUp = usePutUp();
  const chosen = symptoms?.find(({ id }) => id === playbook);
  const kinds = (chosen?.facts ?? []).flatMap((fact) =>
    Object.keys(fact.choices ?? {}).map((value) => ({ fact: fact.id, ask: fact.ask, value })),
  );
  const of = kinds[Number(kind)];
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!says.trim() || putUp.isPending) return;
    const notice = {
      says: says.trim(),
      playbook: playbook || null,
      fact: kind && of ? of.fact : null,
      value: kind && of ? of.value : null,
      until: until ? new Date(until).toISOString() : null,
    };
    putUp.mutate(notice, { onSuccess: onDone });
  };
  return (
    <form className="mt-2 space-y-2 border-rule border-t pt-2" onSubmit={submit} onKeyDown={refuseHeld}>
      <label className="block text-dense">
        What is known
        <input
          className="field w-full"
          maxLength={200}
          value={says}
          onChange={(event) => setSays(event.target.value)}
        />
      </label>
      <label className="block text-dense">
        Of which symptom
        <select
          className="field w-full"
          value={playbook}
          onChange={(event) => {
            setPlaybook(event.target.value);
            setKind("");
          }}
        >
          <option value="">Any</option>
          {symptoms?.map(({ id, title }) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
      </label>
      {kinds.length > 0 && (
        <label className="block text-dense">
          Of which units
          <select className="field w-full" value={kind} onChange={(event) => setKind(event.target.value)}>
            <option value="">All</option>
            {kinds.map(({ fact, ask, value }, at) => (
              <option key={`${fact} ${value}`} value={at}>
                {ask} {value}
              </option>
            ))}
          </select>
        </label>
      )}
      <label className="block text-dense">
        Until, if that is known
        <input
          type="datetime-local"
          className="field w-full"
          value={until}
          onChange={(event) => setUntil(event.target.value)}
        />
      </label>
      {putUp.error && (
        <p role="alert" className="text-clay text-dense">
          {putUp.error.message}
        </p>
      )}
      <p className="flex gap-3">
        <button type="submit" className="button" data-tone="main" disabled={!says.trim() || putUp.isPending}>
          Tell everybody
        </button>
        <button type="button" className="button" data-tone="quiet" onClick={onDone}>
          Leave it
        </button>
      </p>
    </form>
  );
};
