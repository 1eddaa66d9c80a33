"""Where a guided case stands: what has been answered, what lies ahead, and what is asked for now.

Kept apart from `climb.py`, which says where each event leads, so that screens and records can look without acting.
"""

from dataclasses import dataclass, field, replace
from datetime import timedelta
from functools import cached_property
from typing import Literal

from pydantic import AwareDatetime

from mildladder.core.climb.agenda import (
    AgainTask,
    EndTask,
    RungTask,
    Task,
    TrialTask,
)
from mildladder.core.climb.between import on_the_way
from mildladder.core.climb.done import Carried
from mildladder.core.climb.entering import with_entering
from mildladder.core.climb.lacking import UNDONE, Lack, lacking
from mildladder.core.climb.leaving import Leaving
from mildladder.core.climb.loose_ends import LooseEnd
from mildladder.core.climb.searching import Standing, standing
from mildladder.core.climb.values import Values, count_of
from mildladder.core.climb.wanting import INTERVAL, before_step, within_step
from mildladder.core.figures.judgement import ROUGH, risk_grade
from mildladder.core.ladder.conditions import (
    EarlierCases,
    EarlierResolved,
    World,
)
from mildladder.core.ladder.footings import chain, footings_of, way
from mildladder.core.ladder.shared import taken_away
from mildladder.core.ladder.units import on_unit
from mildladder.core.ladder.values import seconds
from mildladder.core.model import (
    Attempt,
    AwaitedPart,
    Baseline,
    Consent,
    Fact,
    Footing,
    Guard,
    Input,
    Passed,
    Playbook,
    Step,
)
from mildladder.core.model.events import Ended, KnownBefore, PauseReason, Started
from mildladder.core.model.outcomes import NOT_DONE

__all__ = ["Climb", "Pause", "Place"]

# How long and whether something happens is of the fault at hand; the rest is of the unit.
_LASTING = ("choice", "text", "number", "version")

Place = Literal[
    "baseline",
    "works-now",
    "fact",
    "guard",
    "consent",
    "begin",
    "step",
    "test",
    "finding",
    "paused",
    "way-out",
    "loose-end",
    "confirm",
    "hand-off",
    "sent-on",
    "ended",
]


@dataclass(frozen=True)
class Pause:
    """Why the case waits, since when, and until when where that is known."""

    reason: PauseReason
    since: AwareDatetime
    until: AwareDatetime | None


@dataclass(frozen=True)
class Climb(Values, Leaving):
    """Where a guided case stands.

    since: when the current thing came up. agenda: what lies ahead, the current thing first. footing: the state that
    the unit stands in; route: footings to go through before the next step. findings: by step. carried: the trial under
    way; leaves_for_test: whether one of its rungs is tried only after its footing is left. to_find: steps of the trial
    just tested whose findings are still to be told. tried_at: the path of each attempt, None for those before the call.
    to_put_back: steps of the last trial whose changes are still on the unit, the last first. fixed_by: path of the rung
    that ended the fault. tied: loose ends that are closed (None) or stay open, and why. watched: the path of the rung
    whose watch is over. waited: minutes. stuck: what could not be left or put back on the way, and the case went on.
    rounds: of the search under way, whether the bad one was among those tried; last_round: what they came to so far,
    where each is tried only after its state is left. found_at: by step, which one it was.
    called: titles of what was done off the ladder, by step. hands: who has had the case, by number, since when.
    restored: when a workaround brought the service back; is_restored: its lasting repair is to come. to_take_off: the
    workaround that is taken off before that is tested; taken_off: those that were, by step. has_begun: a step
    that must not be interrupted is under way. is_inside: something was read or tried in the state of the current step.
    facts_of_try: by which the step under way was begun, where one was put right since.
    tried_with: the values with which the current step was tried and did not help; parts: that the case waited for.
    signs: of those that can be seen, by text, whether they were.
    caught: values that stood in what the caller said, which nobody has confirmed. looked_at: when it is looked at,
    where that is later than what was answered last.
    """

    playbook: Playbook
    started: Started
    opened: AwareDatetime
    since: AwareDatetime
    facts: dict[str, str]
    agenda: tuple[Task, ...]
    caught: dict[str, str] = field(default_factory=dict)
    values: dict[str, str] = field(default_factory=dict)
    signs: dict[str, Literal["yes", "no"]] = field(default_factory=dict)
    unknown: frozenset[str] = frozenset()
    baseline: Baseline | None = None
    is_off_baseline: bool = False
    footing: str | None = None
    route: tuple[str | None, ...] = ()
    guards: int = 0
    has_consent: bool = False
    has_begun: bool = False
    is_inside: bool = False
    tried_with: tuple[dict[str, str], ...] = ()
    facts_of_try: dict[str, str] | None = None
    parts: tuple[AwaitedPart, ...] = ()
    findings: dict[str, str] = field(default_factory=dict)
    attempts: tuple[Attempt, ...] = ()
    tried_at: tuple[str | None, ...] = ()
    carried: tuple[Carried, ...] = ()
    leaves_for_test: bool = False
    to_find: tuple[str, ...] = ()
    to_put_back: tuple[str, ...] = ()
    passed: tuple[tuple[str, Passed], ...] = ()
    consents: tuple[Consent, ...] = ()
    notes: tuple[str, ...] = ()
    fixed_by: str | None = None
    fixed_step: str | None = None
    hand_off: str | None = None
    tied: dict[str, str | None] = field(default_factory=dict)
    pause: Pause | None = None
    watched: str | None = None
    waited: float = 0.0
    stuck: tuple[LooseEnd, ...] = ()
    rounds: tuple[bool, ...] = ()
    last_round: Carried | None = None
    found_at: dict[str, int] = field(default_factory=dict)
    called: dict[str, str] = field(default_factory=dict)
    hands: tuple[tuple[int, AwareDatetime], ...] = ()
    restored: AwareDatetime | None = None
    is_restored: bool = False
    to_take_off: str | None = None
    taken_off: tuple[str, ...] = ()
    ended: Ended | None = None
    closed: AwareDatetime | None = None
    looked_at: AwareDatetime | None = None

    @property
    def filled_at(self) -> AwareDatetime:
        """The moment by which texts name the day."""
        return self.closed or self.looked_at or self.since

    @cached_property
    def place(self) -> Place:
        """What the agent is asked for now."""
        if self.ended:
            return "ended"
        if self.pause:
            return "paused"
        if self.to_find:
            return "finding"
        if self.fixed_by is None and not self.is_off_baseline:
            return "works-now" if self.baseline == "works" else "baseline"
        is_over = self.fixed_by is not None or self.hand_off is not None or self._has_no_rung_left
        if is_over and self.open_ends:
            return "loose-end"
        if self.fixed_by is not None:
            return self._place_of_task() if self.agenda else "confirm"
        if self.hand_off is not None or not self.agenda:
            return "hand-off"
        return self._place_of_task()

    @property
    def _has_no_rung_left(self) -> bool:
        return not self.agenda or isinstance(self.agenda[0], EndTask)

    def _place_of_task(self) -> Place:
        task = self.agenda[0]
        if isinstance(task, EndTask):
            return "sent-on" if task.playbook else "hand-off"
        if self._to_put_back_first:
            return "way-out"
        if isinstance(task, TrialTask):
            return "way-out" if self._to_leave_first else "test"
        # A try that has begun asks nothing more, whatever else is known since.
        if not self.is_try_begun:
            if self.missing:
                return "fact"
            if self.guards < len(self.step.guard) and not self._is_inside(self.guard):
                return "guard"
            if self.needs_consent and not self.has_consent:
                return "consent"
        if self._to_leave_first:
            return "way-out"
        if not self.is_try_begun and self.guards < len(self.step.guard):
            return "guard"
        waits = self.started.rules >= 2 and self.step.unbroken and not self.has_begun
        return "begin" if waits else "step"

    @property
    def stands(self) -> str | None:
        """The footing that the unit stands in; from the moment at which a step is shown, the one it is done in."""
        is_under_way = (
            self.started.rules >= 2
            and not (self.ended or self.to_find or self.hand_off or self.fixed_by)
            and self.is_off_baseline
            and bool(self.agenda)
            and isinstance(self.agenda[0], RungTask | AgainTask)
            and self._place_of_task() in ("begin", "step")
        )
        return self._of_step if is_under_way else self.footing

    @property
    def _of_step(self) -> str | None:
        """The footing in which the current step is done."""
        return self.bound_for if self.step.footing == "any" else self.step.footing

    @property
    def is_try_begun(self) -> bool:
        """Whether the current step is under way: begun, tried with one value or in one round, watched, or running."""
        if self.started.rules < 4 or not self.agenda:
            return False
        if isinstance(self.agenda[0], TrialTask):
            return self.started.rules >= 6 and self.agenda[0].searching is not None
        if not isinstance(self.agenda[0], RungTask | AgainTask):
            return False
        is_watched = self.watched == self.agenda[0].path or self.is_watched
        return self.has_begun or bool(self.rounds) or bool(self.tried_with) or is_watched or self.runs

    @property
    def is_watched(self) -> bool:
        """Whether the fault is watched for in normal use now."""
        return self.pause is not None and self.pause.reason == "watch"

    @property
    def runs(self) -> bool:
        """Whether the current step was put aside and goes on by itself."""
        return self.pause is not None and self.pause.reason == "runs"

    @cached_property
    def unattended(self) -> float | None:
        """How many minutes the current step, or the round of its search, goes on by itself; None where it does not, or
        something is asked first."""
        if self.place != "step" or self.asked_inside:
            return None
        is_searching = self.step.search is not None and self.search is not None and not self.search.is_decided
        effort = self.step.search.round if is_searching and self.step.search else self.step.effort
        return effort.wait or None

    @property
    def to_try_with(self) -> dict[str, str]:
        """The values of the current step's own inputs, where it may be tried with others at once: in place, by one
        change at a time."""
        if self.place != "step" or not self.step.is_tested or self.waits_for_test or self.step.search is not None:
            return {}
        own = [one.id for one in self.step.inputs if one.compute is None]
        return {name: self.told[name] for name in own if name in self.told}

    def given_up(self) -> "Climb":
        """The climb as the current step leaves it when it is not carried through: the state that was entered for it
        stays entered."""
        is_between_rounds = self.rounds_leave and bool(self.rounds)
        is_begun = self.is_try_begun and not is_between_rounds
        is_entered = self.is_entered or is_begun
        return replace(self, footing=self._of_step, route=()) if self.started.rules >= 4 and is_entered else self

    def with_nothing_begun(self, since: AwareDatetime) -> "Climb":
        """The climb as it comes to another rung: no question answered, no yes given, nothing begun."""
        return replace(
            self,
            since=since,
            guards=0,
            has_consent=False,
            has_begun=False,
            is_inside=False,
            rounds=(),
            last_round=None,
            tried_with=(),
            facts_of_try=None,
        )

    @property
    def is_entered(self) -> bool:
        """Whether the state of the current step is entered already, though nothing of it is done yet."""
        if self.is_inside:
            return True
        where = self._place_of_task() if self.pause else self.place
        return where == "begin" or (where == "guard" and self._is_inside(self.guard))

    def is_elsewhere_than(self, before: "Climb") -> bool:
        """Whether the current step is done in another state than it was."""
        return self._of_step != before._of_step

    @property
    def waits_for_test(self) -> bool:
        """Whether the current step, once carried out, is tried only later: with its trial, or out of its state."""
        task = self.agenda[0] if self.agenda else None
        if not isinstance(task, RungTask | AgainTask) or not self.step.is_tested:
            return False
        in_trial = isinstance(task, RungTask) and task.in_trial
        has_way_out = self.to_take_off is not None or (
            self.started.rules >= 2
            and (self.step.search is None or self.started.rules >= 5)
            and self.step.proves == "after-leaving"
            and self._of_step is not None
        )
        return in_trial or has_way_out

    @property
    def rounds_leave(self) -> bool:
        """Whether each round of the current step's search leaves its state before it is tried."""
        return self.step.search is not None and self.waits_for_test

    @property
    def task(self) -> RungTask | AgainTask:
        """The rung that is come to now."""
        task = self.agenda[0]
        assert isinstance(task, RungTask | AgainTask)
        return task

    @cached_property
    def step(self) -> Step:
        """The step of the current rung, as it is on this unit; at a test, the last one carried out; after it, the one
        whose finding is to be told."""
        if self.to_find:
            return self.on_unit(self.playbook.step(self.to_find[0]))
        is_test = isinstance(self.agenda[0], TrialTask)
        step = self.playbook.step(self.carried[-1].step if is_test else self.task.rung.step)
        return self.on_unit(step, self.facts_of_try)

    def on_unit(self, step: Step, facts: dict[str, str] | None = None) -> Step:
        """A step as it is on this unit, with as many suspects for its search as the agent says there are. facts: that
        were known of it, where it is not what is known now."""
        here = on_unit(step, self.facts if facts is None else facts, self.types)
        count = self.values.get(count_of(step)) if here.search is not None and here.search.ask else None
        if here.search is None or count is None:
            return here
        return here.model_copy(update={"search": here.search.model_copy(update={"count": int(count)})})

    @property
    def team(self) -> str | None:
        """The team that the case is to be handed off to; None: whoever takes what the ladder leaves."""
        task = self.agenda[0] if self.agenda else None
        return self.hand_off or (task.hand_off if isinstance(task, EndTask) else None)

    @cached_property
    def world(self) -> World:
        """What conditions look at."""
        return World(self.facts, self.findings, self.endings, self.types, self._had)

    def _had(self, test: EarlierResolved | EarlierCases) -> bool:
        """Whether the unit's history is as a condition asks, seen from when this case was opened."""
        since = self.opened - timedelta(days=test.days)
        recent = [earlier for earlier in self.started.history if earlier.closed >= since]
        if isinstance(test, EarlierCases):
            return len(recent) >= test.least
        return any(earlier.resolved_by == test.step for earlier in recent)

    @cached_property
    def missing(self) -> tuple[str, ...]:
        """Ids of the facts and inputs that are asked before the rung at hand."""
        return before_step(self) if isinstance(self.agenda[0], RungTask | AgainTask) else ()

    @cached_property
    def asked_inside(self) -> tuple[str, ...]:
        """Ids of those that are asked inside the step that is carried out now, in order."""
        is_inside = self.place == "step" and self.started.rules >= 2
        return within_step(self) if is_inside else ()

    @property
    def asked(self) -> Fact | Input:
        """The fact or input that is asked for now, before the step or inside it."""
        found = self.asks((self.asked_inside or self.missing)[0])
        assert found is not None
        return found

    @property
    def suggested(self) -> str | None:
        """What the caller said the value to be that is asked for now, where it can be that."""
        value = self.caught.get(self.asked.id)
        return value if value is not None and self.may_be(self.asked, value) else None

    @property
    def known_before(self) -> KnownBefore | None:
        """What the fact that is asked for now was in the unit's last cases, where it is one that lasts."""
        asked = self.asked
        before = self.started.known_before.get(asked.id) if isinstance(asked, Fact) and asked.type in _LASTING else None
        return before if before is not None and self.may_be(asked, before.value) else None

    @property
    def search(self) -> Standing | None:
        """Where the search of the current step stands."""
        return standing(self.step.search, self.rounds) if self.step.search else None

    @property
    def seen(self) -> tuple[str, ...]:
        """The signs that were seen, by text."""
        return tuple(sign for sign, seen in self.signs.items() if seen == "yes")

    @property
    def guard(self) -> Guard:
        """The guard question of the current step that is to be answered next."""
        return self.step.guard[self.guards]

    @property
    def asks_inside(self) -> bool:
        """Whether the question at hand is about what is seen once the state of the step is entered."""
        return self.place == "guard" and self._is_inside(self.guard)

    def _is_inside(self, guard: Guard) -> bool:
        return guard.inside and self.started.rules >= 5

    @property
    def needs_consent(self) -> bool:
        """Whether the current step is rough or severe with what is entered for it, nothing eased, or what was to make
        it safe could not be done."""
        return risk_grade(self.with_states) >= ROUGH or bool(self.lacks)

    @cached_property
    def with_states(self) -> Step:
        """The current step with the states that are entered for it: what is told, agreed to and asked of harm."""
        if self.started.rules < 4 or not self.agenda or isinstance(self.agenda[0], TrialTask):
            return self.step
        footings = footings_of(self.playbook)
        if self.started.rules < 6:
            _, entered = way(footings, self.bound_for, self._of_step)
            return with_entering(self.step, entered, self.rounds_leave)
        at = self.puts_back[-1][1] if self.puts_back else self.footing
        turns = on_the_way(footings, at, (*self.route, self._of_step))
        passed = [footings[turn.id.removeprefix("enter:")] for turn in turns if turn.kind == "enter"]
        return with_entering(self.step, passed, self.rounds_leave)

    @cached_property
    def lacks(self) -> tuple[Lack, ...]:
        """What was to stand before the current step and could not be done."""
        undone = dict.fromkeys(self.ever_done, UNDONE)
        failed = undone | {one.step: one.outcome for one in self.attempts if one.outcome in NOT_DONE}
        return lacking(self.step, {name: why for name, why in failed.items() if not self.is_done(name)})

    @property
    def lost(self) -> tuple[tuple[Footing, str], ...]:
        """What the current step uses and a state takes away that it is done in."""
        return tuple(taken_away(self.step, chain(footings_of(self.playbook), self._of_step)))

    @cached_property
    def watch_minutes(self) -> float | None:
        """How long the current step, or trial, must be watched in normal use before it can be judged; None: not at
        all, or its watch is over.

        Three times the fault's usual interval where that is known: then a quiet watch is mere luck in 5 of 100 cases. A
        check is read after as much normal use as it says itself.
        """
        task = self.agenda[0] if self.agenda else None
        if isinstance(task, TrialTask):
            watches = [self.playbook.step(one.step).watch for one in self.carried]
        elif isinstance(task, RungTask | AgainTask) and not (isinstance(task, RungTask) and task.in_trial):
            watches = [self.step.watch] if self.step.is_tested or self.step.kind == "check" else []
        else:
            return None
        lengths = [(seconds(watch) or 0) / 60 for watch in watches if watch is not None]
        if not lengths or self.watched == task.path:
            return None
        is_quiet = isinstance(task, TrialTask) or self.step.is_tested
        return 3 * self.usual_interval if is_quiet and self.usual_interval is not None else max(lengths)

    @property
    def usual_interval(self) -> float | None:
        """Minutes between two appearances of a fault that comes and goes; None where nobody said."""
        length = seconds(self.facts.get(INTERVAL, "")) if self.types.get(INTERVAL) == "duration" else None
        return length / 60 if length else None
