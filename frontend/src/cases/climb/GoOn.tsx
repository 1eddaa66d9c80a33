import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { useNavigate } from "react-router";
import { openClimbsKey } from "../../api/keys";
import { symptomsQuery } from "../../api/lists";
import { useSending } from "../../ui/useSending";
import { goOn } from "./queries";

/** A case that was sent on goes on in the other playbook, with all that is known of it. */
export const GoOn = ({ climbId, playbook }: { climbId: string; playbook: string }) => {
  const { data: symptoms } = useQuery(symptomsQuery);
  const newId = useRef(crypto.randomUUID());
  const navigate = useNavigate();
  const client = useQueryClient();
  const opening = useSending({
    mutationFn: () => goOn(climbId, newId.current),
    onSuccess: (view) => {
      void client.invalidateQueries({ queryKey: openClimbsKey });
      navigate(`/climbs/${view.id}`);
    },
  });
  const there = symptoms?.find(({ id }) => id === playbook);
  if (symptoms && !there) return <Absent />;
  return (
    <div className="mt-4">
      <button
        type="button"
        className="button"
        data-tone="main"
        disabled={opening.isPending || !there}
        onClick={() => opening.mutate()}
      >
        Go on in: {there?.title}
      </button>
      <p className="mt-1 text-dense text-faint">Everything known and tried goes along: nothing is asked twice.</p>
      {opening.error && (
        <p role="alert" className="mt-2 border-clay border-l-4 pl-3">
          {opening.error.message}
        </p>
      )}
    </div>
  );
};

const Absent = () => (
  <p className="mt-4 border-brass border-l-4 pl-3">
    This desk does not have the playbook that it leads into: tell the next team what is known.
  </p>
);

/** Where a ladder leads into another one, before the case goes there. */
export const LeadsInto = ({ playbook }: { playbook: string }) => {
  const { data: symptoms } = useQuery(symptomsQuery);
  const there = symptoms?.find(({ id }) => id === playbook);
  if (there?.edition) return <p className="mt-2">It goes on in “{there.title}”, with all that is known.</p>;
  return symptoms ? <Absent /> : null;
};
