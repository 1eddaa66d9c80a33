import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useId, useState } from "react";
import { useNavigate } from "react-router";
import { symptomsKey } from "../../api/keys";
import { plural } from "../../ui/format";
import { useSending } from "../../ui/useSending";
import { brought, type Choice, type Preview } from "./queries";

const MOST_BYTES = 8_000_000;
const CHOICES: { value: Choice; label: string }[] = [
  { value: "library", label: "the library’s text" },
  { value: "file", label: "the file’s text, for all who use it" },
  { value: "copy", label: "a step of its own" },
];

interface FromFileProps {
  file: File | undefined;
  onFile: (file: File | undefined) => void;
}

/** A playbook file or an archive: what bringing it in would do, what is to be chosen, and then it is done. */
export const FromFile = ({ file, onFile }: FromFileProps) => {
  const id = useId();
  const [choices, setChoices] = useState<Record<string, Choice>>({});
  const navigate = useNavigate();
  const client = useQueryClient();
  const looking = useSending({ mutationFn: (one: File) => brought(one, true) });
  const bringing = useSending({
    mutationFn: (one: File) => brought(one, false, choices),
    onSuccess: ({ done }) => {
      void client.invalidateQueries({ queryKey: symptomsKey });
      if (done) void navigate(`/playbooks/${done.playbook}/ladder`);
    },
  });
  const { mutate: look, reset } = looking;
  const isTooBig = file !== undefined && file.size > MOST_BYTES;
  useEffect(() => {
    setChoices({});
    if (file && !isTooBig) look(file);
    else reset();
  }, [file, isTooBig, look, reset]);
  const preview = looking.data?.preview;
  const open = preview?.clashes.filter(({ step }) => !choices[step]).length ?? 0;
  const error = bringing.error ?? looking.error;
  return (
    <section aria-label="From a file" className="mt-6 max-w-4xl border-rule border-t pt-3">
      <label htmlFor={id} className="font-semibold">
        Or from a playbook file
      </label>
      <p className="text-dense text-faint">Drop a YAML, JSON or ZIP file anywhere on this page, or choose it.</p>
      <input
        id={id}
        type="file"
        accept=".yaml,.yml,.json,.zip"
        className="mt-1 max-w-full"
        onChange={({ target }) => onFile(target.files?.[0])}
      />
      {file && (
        <div className="mt-2">
          {isTooBig && (
            <p role="alert" className="text-clay">
              “{file.name}” has over 8 million bytes; so large a file is not read.
            </p>
          )}
          {looking.isPending && <p className="text-faint">reading “{file.name}” …</p>}
          {error && (
            <p role="alert" className="text-clay">
              “{file.name}”: {error.message}
            </p>
          )}
          {preview && <WouldDo preview={preview} choices={choices} onChoose={setChoices} />}
          {preview && (
            <button
              type="button"
              className="button mt-2"
              data-tone="main"
              disabled={open > 0 || bringing.isPending}
              onClick={() => bringing.mutate(file)}
            >
              {open > 0 ? `${plural(open, "step")} to choose a text for` : "Bring it in"}
            </button>
          )}
        </div>
      )}
    </section>
  );
};

interface WouldDoProps {
  preview: Preview;
  choices: Record<string, Choice>;
  onChoose: (choices: Record<string, Choice>) => void;
}

/** What bringing the file in would do, in words, and the steps whose text is to be chosen. */
const WouldDo = ({ preview, choices, onChoose }: WouldDoProps) => (
  <>
    <p>
      <strong>{preview.title}</strong>, {plural(preview.rungs, "rung")}
      {preview.is_new
        ? ": a new symptom"
        : preview.is_unchanged
          ? ": the draft is that already"
          : ": replaces the draft of that symptom, as one change that can be undone"}
      . {plural(preview.new.length, "step")} new to the library, {preview.linked.length} known there.
    </p>
    {preview.absent.length > 0 && (
      <p className="text-brass">
        It names {plural(preview.absent.length, "playbook")} that nobody has yet:{" "}
        {preview.absent.map(({ playbook }) => playbook).join(", ")}.
      </p>
    )}
    {preview.clashes.length > 0 && (
      <ul className="mt-1 border-rule border-t">
        {preview.clashes.map((clash) => (
          <li key={clash.step} className="flex flex-wrap items-baseline gap-x-4 border-rule border-b py-1 text-dense">
            <span className="min-w-48 flex-1">
              <strong>{clash.title}</strong> reads differently in the library
              {clash.used_in.length > 0 && `, where ${plural(clash.used_in.length, "playbook")} use it`}
            </span>
            <select
              aria-label={`Text of “${clash.title}”`}
              className="line"
              value={choices[clash.step] ?? ""}
              onChange={({ target }) => onChoose({ ...choices, [clash.step]: target.value as Choice })}
            >
              <option value="">take …</option>
              {CHOICES.filter(({ value }) => value === "copy" || !clash.kinds_differ).map(({ value, label }) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ul>
    )}
  </>
);
