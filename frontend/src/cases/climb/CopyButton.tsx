import { useState } from "react";
import { Key } from "../../ui/Key";
import { say } from "../../ui/say";

interface CopyButtonProps {
  text: string;
  label: string;
  hotkey?: string;
}

/** Copies a text as it is, so that nobody types it again. */
export const CopyButton = ({ text, label, hotkey }: CopyButtonProps) => {
  const [told, setTold] = useState({ of: text, says: "" });
  // What was said of one text says nothing of the next that comes to stand here.
  const state = told.of === text ? told.says : "";
  const copy = async () => {
    const done = await navigator.clipboard.writeText(text).then(
      () => "copied",
      () => "this browser does not let it be copied: mark it and copy by hand",
    );
    setTold({ of: text, says: done });
    say(done);
  };
  return (
    <button
      type="button"
      data-copy={hotkey}
      className="text-slate text-dense underline-offset-2 hover:underline"
      onClick={copy}
    >
      {state || label} {hotkey && !state && <Key>{hotkey}</Key>}
    </button>
  );
};
