import type { QuickStep } from "./queries";

/** What was understood of a line, and which of its words were not. */
export const Said = ({ quick }: { quick: QuickStep }) => (
  <span className="block text-dense">
    {quick.wrong ? (
      <span className="text-clay">{quick.wrong}</span>
    ) : (
      <>
        <strong>{quick.title}</strong>
        {quick.says && <span className="text-faint"> · {quick.says}</span>}
      </>
    )}
    {!quick.wrong && (quick.doubts ?? []).length > 0 && (
      <span className="block text-brass">{(quick.doubts ?? []).join("; ")}</span>
    )}
    {(quick.unread ?? []).length > 0 && (
      <span className="block text-brass">
        not understood: {(quick.unread ?? []).map(({ text }) => `“${text}”`).join(", ")}
      </span>
    )}
  </span>
);
