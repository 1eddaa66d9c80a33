import { useQuery } from "@tanstack/react-query";
import { meQuery } from "../../api/me";
import type { ClimbView, Move } from "../../api/types";
import { AlertStrip } from "../../ui/AlertStrip";
import { atClock } from "../../ui/format";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";

/** Whether the case is with whoever sits at this browser; true while nobody knows. */
export function useHasCase(view: ClimbView): boolean {
  const { data: me } = useQuery(meQuery);
  const holder = view.hands.at(-1);
  return view.place === "ended" || !me?.person || !holder || holder.id === me.person.id;
}

/** Somebody else has the case: it is taken over before it is answered, so that two never answer it at once. */
export const TakeOver = ({ view, onRecord }: { view: ClimbView; onRecord: (move: Move) => void }) => {
  const holder = view.hands.at(-1);
  const isElsewhere = !useHasCase(view) && holder !== undefined;
  const takeOver = () => onRecord({ kind: "taken-over" });
  useKeys(isElsewhere ? { "take-over": takeOver } : {});
  if (!isElsewhere) return null;
  return (
    <AlertStrip>
      {holder.name} has this case since {atClock(holder.since)}.{" "}
      <button type="button" className="link" onClick={takeOver}>
        Take it over <Key>k</Key>
      </button>{" "}
      to answer; it goes on where it stands.
    </AlertStrip>
  );
};
