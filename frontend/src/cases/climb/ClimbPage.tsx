import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { KnownNow } from "../../advice/notices/KnownNow";
import { RemarkDialog } from "../../advice/remarks/RemarkDialog";
import type { ClimbView, HazardKind } from "../../api/types";
import { DoneRunning } from "../../shell/DoneRunning";
import { FINDING } from "../../shell/finds";
import { KeysDialog } from "../../shell/KeysDialog";
import { MayBeOld } from "../../shell/MayBeOld";
import { fitsAnywhere } from "../../shell/outbox/outbox";
import { Trouble } from "../../shell/outbox/Trouble";
import { WhoStrip } from "../../shell/WhoStrip";
import { isCovered, isTyping, toHeading } from "../../ui/focus";
import { minutes } from "../../ui/format";
import { useTitle } from "../../ui/Heading";
import { Key } from "../../ui/Key";
import { LoadFailed, Loading } from "../../ui/States";
import { useKeys } from "../../ui/useKeys";
import { useNow } from "../../ui/useNow";
import { AnswerBar } from "./AnswerBar";
import { ClimbPath } from "./ClimbPath";
import { EndDialog } from "./EndDialog";
import type { PutRight } from "./harm";
import { LaterDialog } from "./LaterDialog";
import { placeOf } from "./moves";
import { NextCase } from "./NextCase";
import { NowPane } from "./NowPane";
import { OffLadderDialog } from "./OffLadderDialog";
import { PauseDialog } from "./PauseDialog";
import { SideNotes } from "./SideNotes";
import { TakeOver, useHasCase } from "./TakeOver";
import { useClimb } from "./useClimb";

/** A guided case: the path so far, the one current thing, what is known, and the answers in one place below. */
export const ClimbPage = () => {
  const { climbId = "" } = useParams();
  const climb = useClimb(climbId);
  const { data, error, refetch } = climb.query;
  if (!data) {
    return (
      <main tabIndex={-1} className="outline-none">
        <p className="px-6 pt-4">
          <Link to="/" className="link">
            To the desk
          </Link>
        </p>
        {error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading />}
      </main>
    );
  }
  // Whatever is opened, marked or typed on this page is about this case alone.
  return <Guide key={climbId} view={data} climb={climb} />;
};

interface GuideProps {
  view: ClimbView;
  climb: ReturnType<typeof useClimb>;
}

const Guide = ({ view, climb }: GuideProps) => {
  const navigate = useNavigate();
  const [isEnding, setEnding] = useState(false);
  const [isPausing, setPausing] = useState(false);
  const [isTakingLater, setTakingLater] = useState(false);
  const [isOff, setOff] = useState(false);
  const [isRemarking, setRemarking] = useState(false);
  const [areKeysShown, setKeysShown] = useState(false);
  const isMine = useHasCase(view);
  const isAtRung = isMine && (view.later.length > 0 || view.may_go_off);
  const harm = useMarked<HazardKind>(view);
  const ways = useMarked<string>(view);
  const copy = useMarked<PutRight>(view);
  const isOpen = view.place !== "ended";
  const canPause = isOpen && view.place !== "paused";
  const isAnswering = climb.queue.unsent.some(({ move }) => !fitsAnywhere(move));
  useKeys({
    end: () => isOpen && setEnding(true),
    pause: () => canPause && setPausing(true),
    "text-wrong": () => view.current && setRemarking(true),
    later: () => isAtRung && view.later.length > 0 && setTakingLater(true),
    "off-ladder": () => isMine && view.may_go_off && setOff(true),
    keys: () => setKeysShown(true),
    start: () => navigate("/start"),
    find: () => navigate("/", { state: FINDING }),
  });
  useTitle(view.case, view.title);
  useCursor(view);
  return (
    <div className="flex h-dvh flex-col max-md:h-auto max-md:min-h-dvh print:block print:h-auto">
      <header className="flex shrink-0 flex-wrap items-center gap-x-5 gap-y-1 border-rule border-b px-6 py-3 max-md:flex-nowrap max-md:gap-x-1 max-md:px-4 max-md:py-1">
        <Link
          to="/"
          aria-label="Mild Ladder, to the Desk"
          className="font-bold text-lead max-md:font-normal max-md:text-body"
        >
          <span className="max-md:hidden">Mild Ladder</span>
          <span aria-hidden="true" className="link py-3 pr-2 md:hidden">
            Desk
          </span>
        </Link>
        <span title={view.title} className="font-semibold max-md:min-w-0 max-md:flex-1 max-md:truncate">
          {view.title}
        </span>
        <span className="text-faint max-md:hidden">
          {[view.case, view.ticket, view.unit, view.caller, view.call_back].filter(Boolean).join(" · ")}
        </span>
        <span className="ml-auto text-faint max-md:hidden">
          <OnTheClock view={view} />
        </span>
        <NextCase climbId={view.id} />
        {canPause && isMine && (
          <button type="button" className="button" data-tone="quiet" onClick={() => setPausing(true)}>
            <span>
              <span className="max-md:sr-only">Let it </span>wait
            </span>{" "}
            <Key>p</Key>
          </button>
        )}
        {isOpen && isMine && (
          <button type="button" className="button" data-tone="quiet" onClick={() => setEnding(true)}>
            <span>
              <span className="max-md:sr-only">Hand off or </span>close
            </span>{" "}
            <Key>h</Key>
          </button>
        )}
      </header>
      <WhoStrip />
      <MayBeOld />
      <DoneRunning but={view.id} />
      <TakeOver view={view} onRecord={climb.record} />
      {isOpen && (
        <KnownNow
          caller={{ playbook: view.playbook, facts: factsOf(view) }}
          {...(isMine && {
            giving: {
              give: (notice: number) => climb.record({ kind: "end", end: "abandoned", notice }),
              looseEnds: view.loose_ends.filter((end) => end.why_left == null).length,
            },
          })}
        />
      )}
      <Trouble climbId={view.id} queue={climb.queue} />
      <main
        tabIndex={-1}
        className="grid min-h-0 flex-1 grid-cols-[15rem_minmax(0,1fr)_19rem] grid-rows-[minmax(0,max-content)_auto_minmax(0,1fr)] max-lg:grid-cols-[minmax(0,1fr)_16rem] max-md:flex max-md:flex-col print:block"
      >
        <ClimbPath view={view} />
        <NowPane view={view} ways={{ worked: ways.seen, toggle: ways.toggle }} onRecord={climb.record}>
          {isOpen && isMine && (
            <AnswerBar
              key={placeOf(view)}
              view={view}
              harms={harm.seen}
              onToggleHarm={harm.toggle}
              putRight={copy.seen.at(-1)}
              onPutRight={copy.toggle}
              ways={ways.seen}
              isSending={isAnswering}
              onRecord={climb.record}
            />
          )}
        </NowPane>
        <SideNotes view={view} unsent={climb.queue.unsent} onRecord={climb.record}>
          {isAtRung && (
            <p className="flex flex-wrap gap-x-4 gap-y-1 text-dense">
              {view.current && (
                <button type="button" className="link" onClick={() => setRemarking(true)}>
                  This text is wrong <Key>w</Key>
                </button>
              )}
              {view.may_go_off && (
                <button type="button" className="link" onClick={() => setOff(true)}>
                  Something else was done <Key>e</Key>
                </button>
              )}
              {view.later.length > 0 && (
                <button type="button" className="link" onClick={() => setTakingLater(true)}>
                  A later rung now <Key>j</Key>
                </button>
              )}
              <Link to={`/climbs/${view.id}/sheet`} className="link">
                A sheet to take along
              </Link>
            </p>
          )}
        </SideNotes>
      </main>
      <EndDialog view={view} isOpen={isEnding} onOpenChange={setEnding} onRecord={climb.record} />
      <LaterDialog view={view} isOpen={isTakingLater} onOpenChange={setTakingLater} onRecord={climb.record} />
      <OffLadderDialog view={view} isOpen={isOff} onOpenChange={setOff} onRecord={climb.record} />
      {view.current && (
        <RemarkDialog about={aboutStep(view, view.current)} isOpen={isRemarking} onOpenChange={setRemarking} />
      )}
      <PauseDialog view={view} isOpen={isPausing} onOpenChange={setPausing} onRecord={climb.record} />
      <KeysDialog isOpen={areKeysShown} onOpenChange={setKeysShown} />
    </div>
  );
};

const factsOf = (view: ClimbView) => Object.fromEntries(view.known.map(({ fact, said }) => [fact, said]));

/** The texts of the step at hand, as they are shown. */
function aboutStep(view: ClimbView, { step, before, do: items }: NonNullable<ClimbView["current"]>) {
  const shown = [...before.flatMap((one) => one.do), ...items].flatMap(({ text, copy_text }) => [text, copy_text]);
  const others = [...(step.guard ?? []).map(({ ask }) => ask), step.say, step.expect, step.missing, step.stuck];
  const texts = [...new Set([...shown, ...others].filter((one): one is string => Boolean(one)))];
  return { playbook: view.playbook, edition: view.edition, step: step.id, title: step.title, texts };
}

/** Where the cursor goes when something else is asked: into the value that is to be typed, else to the heading; never
 * out of a text that somebody is typing, nor out of an open dialog. */
function useCursor(view: ClimbView): void {
  const place = placeOf(view);
  const before = useRef<string>(undefined);
  useEffect(() => {
    if (before.current === place) return;
    before.current = place;
    if (isTyping() || isCovered()) return;
    const asked = document.querySelector<HTMLInputElement>("[data-asked]");
    if (asked) asked.select();
    else toHeading();
  }, [place]);
}

/** What was marked at the rung where the case is, such as the harm that it did; it outlasts a watch. */
const useMarked = <T extends string>(view: ClimbView) => {
  const [marked, setMarked] = useState<{ at: string; kinds: T[] }>({ at: "", kinds: [] });
  const at = view.path.find((rung) => rung.state === "now")?.path ?? "";
  const seen = marked.at === at ? marked.kinds : [];
  const toggle = (kind: T) =>
    setMarked({ at, kinds: seen.includes(kind) ? seen.filter((one) => one !== kind) : [...seen, kind] });
  return { seen, toggle };
};

const OnTheClock = ({ view }: { view: ClimbView }) => {
  const now = useNow();
  const since = view.pause?.reason === "runs" ? undefined : view.pause?.since;
  const end = new Date(view.closed ?? since ?? now).getTime();
  const worked = (end - new Date(view.opened).getTime()) / 60_000 - view.waited;
  return <>{minutes(Math.max(0, Math.round(worked)))} on this case</>;
};
