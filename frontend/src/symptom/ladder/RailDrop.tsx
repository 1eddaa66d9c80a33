import { pointerIntersection } from "@dnd-kit/collision";
import { useDragOperation, useDroppable } from "@dnd-kit/react";

const BEFORE = "rail of ";
/** It lies over the row that it belongs to, and comes first there. */
const FIRST = 10;

/** The rung on whose rail something was put down; undefined where it was put down between rungs. */
export const railHost = (target: unknown): string | undefined =>
  typeof target === "string" && target.startsWith(BEFORE) ? target.slice(BEFORE.length) : undefined;

/** While a rung is dragged: where it is put down to hang on another one, in a side rail. */
export const RailDrop = ({ host }: { host: string }) => {
  const { source } = useDragOperation();
  return source && source.id !== host ? <Place host={host} /> : null;
};

const Place = ({ host }: { host: string }) => {
  const { ref, isDropTarget } = useDroppable({
    id: BEFORE + host,
    collisionPriority: FIRST,
    collisionDetector: pointerIntersection,
  });
  return (
    <span
      ref={ref}
      data-over={isDropTarget || undefined}
      className="absolute top-1 right-1 bottom-1 z-10 flex w-28 items-center justify-center border border-brass border-dashed bg-paper text-brass text-tiny data-over:bg-brass data-over:text-paper"
    >
      into its side rail
    </span>
  );
};
