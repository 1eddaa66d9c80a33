import Markdown from "react-markdown";

const LEFT_OUT = ["script", "iframe", "img"];

/** Authored text, which is Markdown; HTML in it stays text and is never run. */
export const Prose = ({ text }: { text: string }) => (
  <span className="instructions">
    <Markdown disallowedElements={LEFT_OUT} unwrapDisallowed>
      {text}
    </Markdown>
  </span>
);
