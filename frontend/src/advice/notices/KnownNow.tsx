import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { atClock, plural } from "../../ui/format";
import { Key } from "../../ui/Key";
import { say } from "../../ui/say";
import { useKeys } from "../../ui/useKeys";
import { type Caller, concerning } from "./concerns";
import { type NewCall, type Notice, noticesQuery, useLogCall } from "./queries";

interface KnownNowProps {
  caller: Caller;
  /** Who called, where the caller can still be logged to it instead of starting a case. */
  call?: Omit<NewCall, "id">;
  onLogged?: () => void;
  /** In a case that is begun: end it by logging its caller; loose ends are closed first. */
  giving?: { give: (notice: number) => void; looseEnds: number };
}

/** What is known now of this symptom or unit, before anything is tried: the caller is logged to it in one key. */
export const KnownNow = ({ caller, call, onLogged, giving }: KnownNowProps) => {
  const { data } = useQuery(noticesQuery);
  const id = useRef(crypto.randomUUID());
  const logging = useLogCall();
  const found = concerning(data ?? [], caller, Date.now());
  const log = ({ number }: Notice) => {
    if (giving?.looseEnds === 0) giving.give(number);
    if (!call || logging.isPending) return;
    logging.mutate(
      { number, call: { ...call, id: id.current } },
      {
        onSuccess: () => {
          id.current = crypto.randomUUID();
          say("Logged to what is known now");
          onLogged?.();
        },
      },
    );
  };
  useKeys({ "log-to-notice": () => found[0] && log(found[0]) });
  if (found.length === 0) return null;
  return (
    <section aria-label="Known now" className="shrink-0 border-brass border-b bg-well px-6 py-2.5 max-md:px-4">
      {found.map((notice, at) => (
        <p key={notice.number} className="flex flex-wrap items-baseline gap-x-4">
          <span className="font-semibold">
            Known now: {notice.says}
            <span className="font-normal text-faint">
              {" "}
              {notice.who}, {atClock(notice.begun)}
              {notice.until && `, until ${atClock(notice.until)}`}
              {notice.calls.length > 0 && ` · ${plural(notice.calls.length, "caller")} so far`}
            </span>
          </span>
          {giving && giving.looseEnds > 0 && (
            <span className="text-dense text-faint">
              If it is this: close {plural(giving.looseEnds, "loose end")} first, then log the caller to it
            </span>
          )}
          {(call || giving?.looseEnds === 0) && (
            <button type="button" className="link" onClick={() => log(notice)}>
              It is this: log the caller to it {at === 0 && <Key>Alt k</Key>}
            </button>
          )}
        </p>
      ))}
      {logging.error && (
        <p role="alert" className="text-clay">
          {logging.error.message}
        </p>
      )}
    </section>
  );
};
