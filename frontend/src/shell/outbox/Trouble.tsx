import { AlertStrip } from "../../ui/AlertStrip";
import type { CaseQueue } from "./outbox";
import { theOutbox } from "./useOutbox";

/** What has not reached the server, each thing told, and what it did not take. */
export const Trouble = ({ climbId, queue }: { climbId: string; queue: CaseQueue }) => {
  const { unsent, held, refused } = queue;
  return (
    <>
      {refused.length > 0 && (
        <AlertStrip
          actions={
            <button type="button" className="button" data-tone="quiet" onClick={() => theOutbox().understood(climbId)}>
              Understood
            </button>
          }
        >
          {refused.map(({ one, why }) => (
            <div key={one.key}>
              <p>{why}</p>
              <p className="text-dense text-faint">Not taken: {one.says}.</p>
              {one.move.kind === "note" && (
                <p className="whitespace-pre-line border-rail border-l-4 pl-2">{one.move.text}</p>
              )}
            </div>
          ))}
        </AlertStrip>
      )}
      {held !== undefined && unsent.length > 0 && (
        <AlertStrip
          actions={
            <button type="button" className="button" onClick={() => theOutbox().sendNow()}>
              Send it now
            </button>
          }
        >
          <p>
            {unsent.length === 1 ? "This has" : "These have"} not reached the server. Kept in this browser, and sent
            again by itself.
          </p>
          <ul className="text-dense">
            {unsent.map((one, number) => (
              <li key={one.key}>
                {one.says}
                {number === 0 && <span className="text-faint"> · {held}</span>}
                {number === 0 && (
                  <button type="button" className="link ml-2 text-faint" onClick={() => theOutbox().leaveOut(one)}>
                    leave it out
                  </button>
                )}
              </li>
            ))}
          </ul>
        </AlertStrip>
      )}
    </>
  );
};
