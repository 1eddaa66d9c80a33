import { useId, useState } from "react";
import { ApiError } from "../../api/client";
import { sendPicture } from "../../api/pictures";
import { useSending } from "../../ui/useSending";
import { useEditing } from "./Editing";
import type { FieldPlace } from "./Field";
import { set } from "./operations";

const MOST_BYTES = 20_000_000;
const KINDS = "image/png,image/jpeg,image/webp";

/** A picture, dropped, pasted or chosen: it is kept by the desk and shown where the text is. */
export const PictureField = ({ item, path, label }: FieldPlace & { label: string }) => {
  const { draft, tree, playbookId } = useEditing();
  const [wrong, setWrong] = useState<string>();
  const id = useId();
  const there = tree.value(item, path);
  const digest = typeof there === "string" ? tree.value("playbook", ["pictures", there]) : undefined;
  const sending = useSending({
    mutationFn: (file: File) => sendPicture(playbookId, file),
    onSuccess: ({ path: name }) => {
      setWrong(undefined);
      draft.do([set(tree, item, path, name)], `Changed: ${label}`);
      void draft.look();
    },
    onError: (error) => setWrong(error instanceof ApiError ? error.message : "The picture could not be sent."),
  });
  const take = (file: File | undefined) => {
    if (!file) return;
    if (file.size > MOST_BYTES) {
      setWrong(
        `“${file.name}” has ${Math.round(file.size / 1e6)} million bytes; at most 20 are taken. Make it smaller.`,
      );
    } else sending.mutate(file);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a picture may be dropped or pasted; by keyboard there is its field
    <div
      className="text-dense"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        take(event.dataTransfer.files[0]);
      }}
      onPaste={(event) => take(event.clipboardData.files[0])}
    >
      <label htmlFor={id} className="block text-faint text-tiny">
        {label}: drop it here, paste it, or
      </label>
      <input
        id={id}
        type="file"
        accept={KINDS}
        className="max-w-full text-tiny"
        onChange={({ target }) => {
          take(target.files?.[0]);
          target.value = ""; // the same file may be chosen again
        }}
      />
      {sending.isPending && <span className="block text-faint text-tiny">sending …</span>}
      {wrong && (
        <span role="alert" className="block text-clay text-tiny">
          {wrong}
        </span>
      )}
      {typeof there === "string" && (
        <span className="flex items-end gap-2">
          {typeof digest === "string" ? (
            <img src={`/api/pictures/${digest}`} alt={label} className="max-h-24 max-w-full border border-rule" />
          ) : (
            <span className="text-faint">kept at {there}</span>
          )}
          <button
            type="button"
            className="link text-faint text-tiny"
            onClick={() => draft.do([set(tree, item, path, null)], `${label} taken out`)}
          >
            take {label} out
          </button>
        </span>
      )}
    </div>
  );
};
