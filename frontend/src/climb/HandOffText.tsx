import { CopyButton } from "./CopyButton";

/** What the next team is told: all that is known, ready to copy. */
export const HandOffText = ({ text }: { text: string }) => (
  <div className="mt-4 max-w-[44rem]">
    <div className="mb-1 flex items-center justify-between">
      <p className="text-faint">For the next team; nothing needs to be told again</p>
      <CopyButton text={text} label="Copy the text" />
    </div>
    <pre className="whitespace-pre-wrap border-rail border-l-4 bg-sheet p-4 font-sans">{text}</pre>
  </div>
);
