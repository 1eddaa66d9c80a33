import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { symptomsKey } from "../../api/keys";
import { ROOT } from "../../draft/tree";
import { useDraft } from "../../draft/useDraft";
import { inserted, keyed, set } from "../../editing/fields/operations";
import { rungsFrom } from "../../editing/quick/build";
import { QuickList } from "../../editing/quick/QuickList";
import type { QuickStep } from "../../editing/quick/queries";
import { Heading, useTitle } from "../../ui/Heading";
import { say } from "../../ui/say";
import { useKept } from "../../ui/useKept";
import { useSending } from "../../ui/useSending";
import { FromFile } from "./FromFile";
import { FromLog } from "./FromLog";
import { begun } from "./queries";

/** A symptom that the desk does not have yet: a title, what callers say, and its steps, one a line; or a file. */
export const NewSymptomPage = () => {
  const [title, setTitle] = useKept("new symptom");
  const [says, setSays] = useKept("new symptom says");
  const [team, setTeam] = useKept("new symptom team");
  const [list, setList] = useKept("new symptom list");
  const [file, setFile] = useState<File>();
  const [made, setMade] = useState<{ playbook: string; lines: QuickStep[] }>();
  useTitle("New symptom");
  const client = useQueryClient();
  const beginning = useSending({
    mutationFn: async (lines: QuickStep[]) => ({ ...(await begun(title.trim())), lines }),
    onSuccess: (done) => {
      void client.invalidateQueries({ queryKey: symptomsKey });
      setMade(done);
    },
  });
  const clear = () => {
    setTitle("");
    setSays("");
    setTeam("");
    setList("");
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a file may be dropped anywhere; by keyboard there is its field
    <div
      className="min-h-0 flex-1 overflow-auto px-6 py-5 max-md:px-4"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        const [dropped] = event.dataTransfer.files;
        if (!dropped) return;
        event.preventDefault();
        setFile(dropped);
      }}
    >
      <Heading>New symptom</Heading>
      <p className="text-faint">
        What callers meet, and what is tried, one step a line. All of it can be changed later.
      </p>
      <div className="mt-4 grid max-w-4xl gap-x-6 gap-y-3 md:grid-cols-2">
        <label>
          <span className="label">Title</span>
          <input
            type="text"
            className="field font-semibold placeholder:font-normal"
            maxLength={300}
            placeholder="such as: Gate arm stays raised"
            value={title}
            onChange={({ target }) => setTitle(target.value)}
          />
        </label>
        <label>
          <span className="label">What callers say</span>
          <input
            type="text"
            className="field"
            maxLength={300}
            placeholder="such as: The arm went up and will not come down"
            value={says}
            onChange={({ target }) => setSays(target.value)}
          />
        </label>
        <label>
          <span className="label">Who takes what the ladder leaves</span>
          <input
            type="text"
            className="field"
            maxLength={300}
            placeholder="such as: Lane crew"
            value={team}
            onChange={({ target }) => setTeam(target.value)}
          />
        </label>
      </div>
      <div className="mt-4">
        <QuickList
          label="Steps in quick words: title, then minutes, person, kind, risks and what it ends, in any order"
          text={list}
          onText={setList}
          take={beginning.isPending || made ? "Beginning …" : "Begin the ladder"}
          isBusy={beginning.isPending || made !== undefined}
          {...(!title.trim() && { isIncomplete: "Give it a title first." })}
          onTake={(lines) => beginning.mutate(lines)}
        />
        {beginning.error && (
          <p role="alert" className="mt-2 text-clay">
            {beginning.error.message} What you typed is still here.
          </p>
        )}
      </div>
      <FromLog title={title} says={says} team={team} onTitle={setTitle} onBegun={clear} />
      <FromFile file={file} onFile={setFile} />
      {made && <Filling {...made} says={says} team={team} onFilled={clear} />}
    </div>
  );
};

interface FillingProps {
  playbook: string;
  lines: QuickStep[];
  says: string;
  team: string;
  onFilled: () => void;
}

/** Puts the steps into the draft that was begun, as edits that this browser keeps until they are sent. */
const Filling = ({ playbook, lines, says, team, onFilled }: FillingProps) => {
  const { draft, now } = useDraft(playbook);
  const navigate = useNavigate();
  const isDone = useRef(false);
  useEffect(() => {
    if (!now.tree || isDone.current) return;
    isDone.current = true;
    const operations = rungsFrom(now.tree, lines, { parent: ROOT, path: ["ladder"] });
    if (says.trim()) operations.unshift(set(now.tree, ROOT, ["symptom", "says"], says.trim()));
    if (team.trim()) {
      const leaves = keyed({ title: team.trim(), default: true });
      operations.push(inserted(now.tree, { parent: ROOT, path: ["hand_offs"] }, leaves));
    }
    draft.do(operations, "Begun from a list");
    onFilled();
    say("The ladder is begun");
    void navigate(`/playbooks/${playbook}/ladder`);
  }, [now.tree, draft, lines, says, team, onFilled, navigate, playbook]);
  return null;
};
