import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { useNavigate } from "react-router";
import { symptomsQuery } from "../shell/queries";
import { goOn } from "./queries";

/** A case that was sent on goes on in the other playbook, with all that is known of it. */
export const GoOn = ({ climbId, playbook }: { climbId: string; playbook: string }) => {
  const { data: symptoms = [] } = useQuery(symptomsQuery);
  const newId = useRef(crypto.randomUUID());
  const navigate = useNavigate();
  const opening = useMutation({
    mutationFn: () => goOn(climbId, newId.current),
    onSuccess: (view) => navigate(`/climbs/${view.id}`),
  });
  const title = symptoms.find(({ id }) => id === playbook)?.title ?? playbook;
  return (
    <div className="mt-4">
      <button
        type="button"
        className="button"
        data-tone="main"
        disabled={opening.isPending}
        onClick={() => opening.mutate()}
      >
        Go on in: {title}
      </button>
      <p className="mt-1 text-dense text-faint">With what is known and what was tried: nothing is asked twice.</p>
      {opening.error && (
        <p role="alert" className="mt-2 border-clay border-l-4 pl-3">
          {opening.error.message}
        </p>
      )}
    </div>
  );
};
