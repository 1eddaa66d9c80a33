import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import type { CurvePoint, DraftView, Suggestion } from "../../api/types";
import { MarksKey } from "../../ui/MarksKey";
import { useSettled } from "../../ui/useSettled";
import { CurveChart } from "./CurveChart";
import { CURVE_MARKS } from "./marks";
import { curveQuery, suggestionsQuery } from "./queries";
import { againstDraft, called, type NamedPoint, namedPoints } from "./words";

interface OrdersPanelProps {
  draft: DraftView;
  onPreview: (point: CurvePoint | undefined) => void;
  onChoose: (point: CurvePoint, label: string) => void;
  onTake: (suggestion: Suggestion) => void;
  onClose: () => void;
}

/** Milder or quicker, beside the whole ladder: every best order as a point, the draft among them, and changes beyond the
 * order that would pay. */
export const OrdersPanel = ({ draft, onPreview, onChoose, onTake, onClose }: OrdersPanelProps) => {
  const isSettled = useSettled(draft.revision) !== undefined && !draft.isBehind;
  const curve = useQuery({ ...curveQuery(draft), enabled: isSettled });
  const [pointed, setPointed] = useState<NamedPoint>();
  const made = draft.isBehind ? undefined : curve.data?.answer;
  const points = made ? namedPoints(made) : [];
  const shown = pointed ?? points.find(({ name }) => name === "draft");
  const point = (next: NamedPoint | undefined) => {
    setPointed(next);
    onPreview(next && next.name !== "draft" ? next.point : undefined);
  };
  return (
    <aside
      aria-label="Orders"
      className="w-[20rem] shrink-0 overflow-auto border-rule border-l px-5 py-3 max-xl:w-72 low:w-full low:overflow-visible low:border-t low:border-l-0"
    >
      <div className="mb-2 flex items-baseline justify-between gap-3">
        <h2 className="font-bold text-lead">Milder or quicker</h2>
        <button type="button" className="link text-dense" onClick={onClose}>
          back to the rung
        </button>
      </div>
      {curve.error ? (
        <p className="max-w-prose border-brass border-l-4 pl-3">{curve.error.message}.</p>
      ) : !made || !shown ? (
        <Working>{curve.data?.says ?? "Working out the best orders …"}</Working>
      ) : (
        <>
          <CurveChart
            points={points}
            shown={shown}
            onPoint={point}
            onChoose={({ point: order, name }) => {
              if (name !== "draft") onChoose(order, called(name));
            }}
          />
          <MarksKey of="the mild-quick curve" marks={CURVE_MARKS} />
          <div className="mt-2 min-h-24 text-dense" aria-live="polite">
            <p className="font-semibold">{called(shown.name)}</p>
            <p className="mt-0.5">{againstDraft(shown, made)}</p>
            <p className="mt-1 text-faint">{shown.point.says}</p>
            {!made.exact && <p className="mt-1 text-brass">The best orders found; better ones may exist.</p>}
            {made.no_mildest && <p className="mt-1 text-brass">With the mildest first, {made.no_mildest}.</p>}
            {shown.name !== "draft" && (
              <p className="mt-1 text-faint">Its outline lies over the ladder. Press the point to use it.</p>
            )}
          </div>
        </>
      )}
      <Suggestions draft={draft} onTake={onTake} />
    </aside>
  );
};

const Working = ({ children }: { children: ReactNode }) => (
  <p role="status" className="min-h-48 text-faint">
    {children}
  </p>
);

const Suggestions = ({ draft, onTake }: { draft: DraftView; onTake: (suggestion: Suggestion) => void }) => {
  const isSettled = useSettled(draft.revision) !== undefined && !draft.isBehind;
  const { data, error } = useQuery({ ...suggestionsQuery(draft), enabled: isSettled });
  const found = draft.isBehind ? undefined : data?.answer?.suggestions;
  return (
    <section aria-label="Beyond the order" className="mt-3 border-rule border-t pt-3 text-dense">
      <h3 className="font-semibold">Beyond the order</h3>
      {error ? (
        <p className="text-faint">{error.message}</p>
      ) : !found ? (
        <p role="status" className="text-faint">
          {data?.says ?? "Looking for changes that would pay …"}
        </p>
      ) : found.length === 0 ? (
        <p className="text-faint">No side rail, split or left-out check would save a hundredth of what a case costs.</p>
      ) : (
        <ul>
          {found.map((suggestion) => (
            <li key={suggestion.says} className="mt-2 flex items-start gap-2">
              <span className="flex-1">{suggestion.says}</span>
              {suggestion.ladder && (
                <button type="button" className="link shrink-0" onClick={() => onTake(suggestion)}>
                  Take it
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
};
