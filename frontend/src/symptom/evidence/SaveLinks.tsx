import type { RefObject } from "react";
import { saveDrawing } from "../../ui/save";

interface SaveLinksProps {
  /** What the file is called, without its ending. */
  name: string;
  /** What is drawn, in words. */
  what: string;
  drawing: RefObject<SVGSVGElement | null>;
}

/** Saves a drawing as SVG or PNG. */
export const SaveLinks = ({ name, what, drawing }: SaveLinksProps) => (
  <>
    {(["svg", "png"] as const).map((kind) => (
      <button
        key={kind}
        type="button"
        className="link"
        onClick={() => {
          if (drawing.current) void saveDrawing(name, drawing.current, kind);
        }}
      >
        Save {what} as {kind.toUpperCase()}
      </button>
    ))}
  </>
);
