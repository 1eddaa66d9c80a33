import Markdown from "react-markdown";

const LEFT_OUT = ["script", "iframe", "img"];

// It stands within a paragraph wherever it is shown, and a paragraph holds no other.
const ELEMENTS = { p: "span" } as const;

/** Authored text, which is Markdown; HTML in it stays text and is never run. */
export const Prose = ({ text }: { text: string }) => (
  <span className="instructions">
    <Markdown components={ELEMENTS} disallowedElements={LEFT_OUT} unwrapDisallowed>
      {text}
    </Markdown>
  </span>
);
