"""The guided case as a state machine over events: one step at a time, nothing repeated, every answer taken back.

Pure: events carry their own time, so replaying them always gives the same climb. What an agent may answer at any
point is worked out in `answers.py`; this module says where each event leads.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

from pydantic import AwareDatetime

from mildladder.core.agenda import AgainTask, BackTask, EndTask, RungTask, Task, TestTask, tasks
from mildladder.core.conditions import Compare, Condition, World, evaluate, facts_of, parse, show
from mildladder.core.errors import Conflict
from mildladder.core.judgement import harm_points, risk_grade
from mildladder.core.model import (
    Attempt,
    Baseline,
    Consent,
    End,
    Fact,
    Guard,
    HandOffRef,
    Input,
    Passed,
    Playbook,
    Step,
    minutes_between,
)
from mildladder.core.moves import (
    TAKEN_BACK,
    Answered,
    BaselineSeen,
    ClimbEvent,
    Consented,
    Ended,
    FactGiven,
    GuardAnswered,
    Noted,
    Started,
    TakenBack,
    TriedBefore,
    WentOn,
)
from mildladder.core.units import fact_types, on_unit
from mildladder.core.values import comparable
from mildladder.core.wording import names_in_step

__all__ = ["Climb", "Place", "apply", "begin", "climb", "cured_end", "surviving"]

ROUGH = 3
NOT_DONE = ("could-not", "not-available", "skipped")
TESTS = ("fixed", "no-change", "better", "worse")

Place = Literal[
    "baseline", "works-now", "fact", "guard", "consent", "step", "test", "confirm", "hand-off", "sent-on", "ended"
]


@dataclass(frozen=True)
class Climb:
    """Where a guided case stands.

    since: when the current thing came up. agenda: what lies ahead, the current thing first. footing: the state that
    the unit stands in; route: footings to go through before the next step. findings: by step. carried: paths and steps
    of the trial under way. tried_at: the path of each attempt, None for those before the call. fixed_by: path of the
    rung that ended the fault, until that is confirmed.
    """

    playbook: Playbook
    started: Started
    opened: AwareDatetime
    since: AwareDatetime
    facts: dict[str, str]
    agenda: tuple[Task, ...]
    values: dict[str, str] = field(default_factory=dict)
    unknown: frozenset[str] = frozenset()
    baseline: Baseline | None = None
    is_off_baseline: bool = False
    footing: str | None = None
    route: tuple[str | None, ...] = ()
    guards: int = 0
    has_consent: bool = False
    findings: dict[str, str] = field(default_factory=dict)
    attempts: tuple[Attempt, ...] = ()
    tried_at: tuple[str | None, ...] = ()
    carried: tuple[tuple[str, str, float], ...] = ()
    passed: tuple[tuple[str, Passed], ...] = ()
    consents: tuple[Consent, ...] = ()
    notes: tuple[str, ...] = ()
    fixed_by: str | None = None
    fixed_step: str | None = None
    hand_off: str | None = None
    ended: Ended | None = None
    closed: AwareDatetime | None = None

    @cached_property
    def place(self) -> Place:
        """What the agent is asked for now."""
        if self.ended:
            return "ended"
        if self.fixed_by is not None:
            return "confirm"
        if self.hand_off is not None:
            return "hand-off"
        if not self.is_off_baseline:
            return "works-now" if self.baseline == "works" else "baseline"
        if not self.agenda:
            return "hand-off"
        return self._place_of_task()

    def _place_of_task(self) -> Place:
        task = self.agenda[0]
        if isinstance(task, EndTask):
            return "sent-on" if task.playbook else "hand-off"
        if isinstance(task, TestTask):
            return "test"
        if self.missing:
            return "fact"
        if self.guards < len(self.step.guard):
            return "guard"
        return "consent" if self.needs_consent and not self.has_consent else "step"

    @property
    def task(self) -> RungTask | AgainTask:
        """The rung that is come to now."""
        task = self.agenda[0]
        assert isinstance(task, RungTask | AgainTask)
        return task

    @cached_property
    def step(self) -> Step:
        """The step of the current rung, as it is on this unit; at a test, the last one carried out."""
        task = self.agenda[0]
        step_id = self.carried[-1][1] if isinstance(task, TestTask) else self.task.rung.step
        return self.on_unit(self.playbook.step(step_id))

    def on_unit(self, step: Step) -> Step:
        """A step as it is on this unit."""
        return on_unit(step, self.facts, self.types)

    @cached_property
    def types(self) -> dict[str, str]:
        """The types of the facts."""
        return fact_types(self.playbook)

    @cached_property
    def known(self) -> dict[str, str]:
        """Every value that texts and commands are filled with."""
        return {**self.facts, **self.values}

    @property
    def team(self) -> str | None:
        """The team that the case is to be handed on to; None: whoever takes what the ladder leaves."""
        task = self.agenda[0] if self.agenda else None
        return self.hand_off or (task.hand_off if isinstance(task, EndTask) else None)

    @cached_property
    def world(self) -> World:
        """What conditions look at."""
        return World(facts=self.facts, findings=self.findings, types=self.types)

    @cached_property
    def missing(self) -> tuple[str, ...]:
        """Ids of the facts and inputs that the rung's condition, its step's variants or its text need now."""
        if not isinstance(self.agenda[0], RungTask | AgainTask):
            return ()
        step = self.playbook.step(self.task.rung.step)
        conditions = [parse(self.task.rung.when)] if self.task.rung.when and isinstance(self.task, RungTask) else []
        wanted = [fact for condition in conditions for fact in self._undecided(condition)]
        for variant in step.varies:
            condition = parse(variant.when)
            wanted += self._undecided(condition)
            if evaluate(condition, self.world) is True:
                break
        wanted += names_in_step(self.step)
        known = {fact.id for fact in self.playbook.facts} | set(self.inputs)
        open_ones = known - self.known.keys() - self.unknown
        return tuple(dict.fromkeys(name for name in wanted if name in open_ones))

    def _undecided(self, condition: Condition) -> list[str]:
        return list(facts_of(condition)) if evaluate(condition, self.world) is None else []

    @cached_property
    def inputs(self) -> dict[str, Input]:
        """Every input of the playbook's steps; one of an id is asked once, wherever it is declared."""
        return {one.id: one for step in reversed(self.playbook.steps) for one in step.inputs}

    @property
    def asked(self) -> Fact | Input:
        """The fact or input that is asked for now."""
        name = self.missing[0]
        return next((fact for fact in self.playbook.facts if fact.id == name), None) or self.inputs[name]

    @property
    def guard(self) -> Guard:
        """The guard question of the current step that is to be answered next."""
        return self.step.guard[self.guards]

    @property
    def needs_consent(self) -> bool:
        """Whether the current step is rough or severe, nothing eased."""
        return risk_grade(harm_points(self.step)) >= ROUGH

    def is_done(self, step_id: str) -> bool:
        """Whether the step was carried out on this case, by itself or within another, or there was nothing to do."""
        done = [
            attempt.step
            for attempt in self.attempts
            if attempt.outcome not in NOT_DONE and attempt.took != "no" and self._has_step(attempt.step)
        ]
        waiting = [*done, *(step for _, step, _ in self.carried)]
        seen: set[str] = set()
        while waiting:
            current = waiting.pop()
            if current not in seen:
                seen.add(current)
                waiting.extend(self.playbook.step(current).includes)
        return step_id in seen

    def _has_step(self, step_id: str) -> bool:
        return any(step.id == step_id for step in self.playbook.steps)

    def settled(self) -> "Climb":
        """The climb with everything passed that does not come up, each rung with the reason."""
        now = self
        while now.agenda:
            task, rest = now.agenda[0], now.agenda[1:]
            if isinstance(task, BackTask):
                now = replace(now, agenda=rest, route=(*now.route, task.footing))
            elif isinstance(task, TestTask) and not now.carried:
                now = replace(now, agenda=rest)
            elif isinstance(task, RungTask | AgainTask) and (why := now._why_passed(task)):
                passed = (*now.passed, (task.path, Passed(step=task.rung.step, why=why)))
                now = replace(now, agenda=rest, passed=passed)
                if now.is_done(task.rung.step):
                    now = now.with_rail(task, now.findings.get(task.rung.step, ""))
            else:
                break
        return now

    def _why_passed(self, task: RungTask | AgainTask) -> str | None:
        rung = task.rung
        if rung.when and isinstance(task, RungTask) and evaluate(parse(rung.when), self.world) is False:
            return _why_not(parse(rung.when), self.facts)
        if not self.is_done(rung.step):
            return None
        was_before = any(a.step == rung.step and a.by == "before" for a in self.attempts)
        return "tried before the desk was called" if was_before else "already done on this case"

    def with_rail(self, task: RungTask | AgainTask | TestTask, key: str) -> "Climb":
        """The climb with the rail for that finding or outcome put before what lies ahead, if there is one."""
        rung = task.last if isinstance(task, TestTask) else task.rung
        rail = rung.on.get(key)
        if rail is None:
            return self
        host = RungTask(task.path, rung)
        ahead = (*tasks(rail, f"{task.path}.on.{key}", host), BackTask(self.footing), *self.agenda)
        return replace(self, agenda=ahead)


def _why_not(condition: Condition, facts: dict[str, str]) -> str:
    if isinstance(condition, Compare) and condition.operator == "is":
        return f"only where {condition.fact} is {condition.values[0]}, and it is {facts[condition.fact]}"
    return f"only where {show(condition)}"


def begin(playbook: Playbook, event: ClimbEvent) -> Climb:
    """The climb after its first event. Raises Conflict when that is not a start or gives facts that do not exist."""
    if not isinstance(event.move, Started):
        raise Conflict("a climb begins with its start; start a case first")
    facts = {fact.id: fact for fact in playbook.facts}
    for name, value in event.move.facts.items():
        if name not in facts:
            raise Conflict(f"'{name}' is no fact of this playbook; it has {', '.join(facts)}")
        _check_value(facts[name], value)
    ahead = tasks(playbook.ladder, "ladder")
    return Climb(playbook, event.move, event.at, event.at, dict(event.move.facts), ahead)


def climb(playbook: Playbook, events: Sequence[ClimbEvent]) -> Climb:
    """Replay a whole log, taken-back answers left out. Raises Conflict at the first event that does not fit."""
    kept = surviving(events)
    now = begin(playbook, kept[0])
    for event in kept[1:]:
        now = apply(now, event)
    return now


def surviving(events: Iterable[ClimbEvent]) -> list[ClimbEvent]:
    """The events that stand: each take-back removes itself and the last answer before it.

    Raises Conflict when there is no answer left to take back.
    """
    kept: list[ClimbEvent] = []
    for event in events:
        if not isinstance(event.move, TakenBack):
            kept.append(event)
            continue
        last = next((i for i in reversed(range(len(kept))) if isinstance(kept[i].move, TAKEN_BACK)), None)
        if last is None or isinstance(kept[-1].move, Ended):
            raise Conflict("there is no answer to take back")
        del kept[last]
    return kept


def apply(now: Climb, event: ClimbEvent) -> Climb:
    """Where one event leads (take-backs apart: see `surviving`). Raises Conflict when it does not fit here."""
    move = event.move
    if now.ended:
        raise Conflict("this case is closed; start a new one")
    if isinstance(move, Noted):
        return replace(now, notes=(*now.notes, move.text))
    if isinstance(move, Ended):
        return _end(now, move, event)
    if isinstance(move, TriedBefore):
        return _tried_before(now, move)
    if now.place not in _PLACES.get(type(move), ()):
        raise Conflict(f"that answer does not fit here: the case is at '{now.place}'; reload to see it as it stands")
    return _answer(now, event)


_PLACES: dict[type, tuple[Place, ...]] = {
    BaselineSeen: ("baseline",),
    WentOn: ("works-now",),
    FactGiven: ("fact",),
    GuardAnswered: ("guard",),
    Consented: ("consent",),
    Answered: ("step", "test"),
}


def _answer(now: Climb, event: ClimbEvent) -> Climb:
    match event.move:
        case BaselineSeen(result=result):
            climb = replace(now, baseline=result, is_off_baseline=result != "works", since=event.at)
            return climb.settled() if climb.is_off_baseline else climb
        case WentOn():
            return replace(now, is_off_baseline=True, since=event.at).settled()
        case FactGiven(fact=fact, value=value):
            return _give_value(now, fact, value, event)
        case GuardAnswered() as move:
            return _answer_guard(now, move, event)
        case Consented(step=step, answer=answer):
            _check_step(now, step)
            if answer == "no":
                return _without_doing(now, Answered(step=step, outcome="skipped"), event)
            yes = Consent(step=step, who=now.started.unit or "caller", at=event.at)
            return replace(now, has_consent=True, consents=(*now.consents, yes))
        case Answered() as move:
            _check_answer(now, move)
            return _test(now, move, event) if now.place == "test" else _carry_out(now, move, event)
    raise AssertionError(event.move)


def _give_value(now: Climb, name: str, value: str | None, event: ClimbEvent) -> Climb:
    asked = now.asked
    if name != asked.id:
        raise Conflict(f"'{name}' is not what is asked here; reload to see the case as it stands")
    if value is None:
        return replace(now, unknown=now.unknown | {name}, since=event.at).settled()
    _check_value(asked, value)
    if isinstance(asked, Fact):
        return replace(now, facts={**now.facts, name: value}, since=event.at).settled()
    return replace(now, values={**now.values, name: value}, since=event.at).settled()


def _answer_guard(now: Climb, move: GuardAnswered, event: ClimbEvent) -> Climb:
    _check_step(now, move.step)
    if move.number != now.guards:
        raise Conflict("that question is answered already; reload to see the case as it stands")
    if move.answer == now.guard.must:
        return replace(now, guards=now.guards + 1)
    if isinstance(now.guard.else_, HandOffRef):
        return replace(now, hand_off=now.guard.else_.hand_off, since=event.at)
    return _without_doing(now, Answered(step=move.step, outcome=now.guard.else_), event)


def _without_doing(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """An end of the rung before anything was done to the unit: its footing was not even entered."""
    task = now.task
    climb = _note_attempt(now, move, event)
    return climb.with_rail(task, move.outcome or "").settled()


def _carry_out(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """The step was come to on its footing; how it ended decides what follows."""
    task, step = now.task, now.step
    footing = now.footing if step.footing == "any" else step.footing
    climb = replace(now, footing=None if step.proves == "after-leaving" else footing, route=())
    if isinstance(task, RungTask) and task.in_trial and move.outcome == "done" and step.is_tested:
        minutes = minutes_between(now.since, event.at)
        climb = replace(
            climb, carried=(*climb.carried, (task.path, step.id, minutes)), agenda=climb.agenda[1:],
            since=event.at, guards=0, has_consent=False,
        )  # fmt: skip
        return climb.settled()
    climb = _note_attempt(climb, move, event)
    if move.outcome == "fixed":
        return replace(climb, fixed_by=task.path, fixed_step=step.id)
    return climb.with_rail(task, move.finding or move.outcome or "").settled()


def _note_attempt(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    attempt = Attempt(
        step=move.step,
        outcome=move.outcome,
        finding=move.finding,
        minutes=round(minutes_between(now.since, event.at), 2),
        by=now.step.effort.by,
        trial=_next_trial(now),
        took=move.took,
        at=event.at,
    )
    return replace(
        now,
        attempts=(*now.attempts, attempt),
        tried_at=(*now.tried_at, now.task.path),
        findings={**now.findings, move.step: move.finding} if move.finding else now.findings,
        agenda=now.agenda[1:],
        since=event.at,
        guards=0,
        has_consent=False,
    )


def _test(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """The original action was tried once for all that was done in the trial."""
    task = now.agenda[0]
    assert isinstance(task, TestTask)
    number = _next_trial(now)
    attempts = tuple(
        Attempt(
            step=step,
            outcome=move.outcome,
            finding=move.finding if step == move.step else None,
            minutes=round(minutes, 2),
            by=now.on_unit(now.playbook.step(step)).effort.by,
            trial=number,
            at=event.at,
        )
        for _, step, minutes in now.carried
    )
    climb = replace(
        now,
        attempts=(*now.attempts, *attempts),
        tried_at=(*now.tried_at, *(path for path, _, _ in now.carried)),
        findings={**now.findings, move.step: move.finding} if move.finding else now.findings,
        carried=(),
        agenda=now.agenda[1:],
        since=event.at,
    )
    if move.outcome == "fixed":
        alone = now.carried[0][1] if len(now.carried) == 1 else None
        return replace(climb, fixed_by=now.carried[-1][0], fixed_step=alone)
    was_last = now.carried[-1][1] == task.last.step
    return climb.with_rail(task, (move.finding or move.outcome or "") if was_last else "").settled()


def _next_trial(now: Climb) -> int:
    return 1 + max((attempt.trial or 0 for attempt in now.attempts), default=0)


def _tried_before(now: Climb, move: TriedBefore) -> Climb:
    if all(step.id != move.step for step in now.playbook.steps):
        raise Conflict(f"'{move.step}' is no step of this playbook")
    if now.is_done(move.step):
        raise Conflict(f"'{move.step}' is on record already")
    attempt = Attempt(step=move.step, outcome="no-change", by="before")
    climb = replace(now, attempts=(attempt, *now.attempts), tried_at=(None, *now.tried_at))
    return climb.settled() if climb.is_off_baseline and climb.fixed_by is None else climb


def _end(now: Climb, move: Ended, event: ClimbEvent) -> Climb:
    is_cured = move.end in ("resolved", "worked-around")
    if is_cured != (now.fixed_by is not None) or (is_cured and move.end != cured_end(now)):
        raise Conflict(
            f"the case cannot end '{move.end}' here; take the last answer back first, or end it as it stands"
        )
    known = {hand_off.id for hand_off in now.playbook.hand_offs}
    if move.hand_off is not None and (move.end != "handed-off" or move.hand_off not in known):
        raise Conflict(f"'{move.hand_off}' is no hand-off of this playbook")
    task = now.agenda[0] if now.agenda else None
    if move.sent_on is not None and not (isinstance(task, EndTask) and task.playbook == move.sent_on):
        raise Conflict(f"the case does not go on in '{move.sent_on}' here")
    return replace(now, ended=move, closed=event.at)


def cured_end(now: Climb) -> End:
    """How a case ends whose fault is gone: by a fix, or (all that was tested being workarounds) around it."""
    cures = [a.step for a in now.attempts if a.outcome == "fixed"]
    kinds = {now.playbook.step(step).kind for step in cures}
    return "worked-around" if kinds == {"workaround"} else "resolved"


def _check_value(asked: Fact | Input, value: str) -> None:
    options = list(asked.choices or ()) if isinstance(asked, Fact) else list(asked.options or ())
    if asked.type == "choice":
        if value not in options:
            raise Conflict(f"'{value}' is no value of '{asked.id}'; choose one of {', '.join(options)}")
    elif comparable(value, asked.type) is None:
        raise Conflict(f"'{value}' is no {asked.type}, as '{asked.id}' must be")


def _check_step(now: Climb, step: str) -> None:
    if step != now.step.id:
        raise Conflict(f"the case has gone on to '{now.step.id}'; reload to see it as it stands")


def _check_answer(now: Climb, move: Answered) -> None:
    _check_step(now, move.step)
    step = now.step
    findings = {finding.id for finding in step.findings}
    if move.finding is not None and move.finding not in findings:
        raise Conflict(f"'{move.finding}' is no finding of '{move.step}'")
    if move.outcome is None and move.finding is None:
        raise Conflict("say how the step ended")
    task = now.agenda[0]
    waits_for_test = isinstance(task, RungTask) and task.in_trial and step.is_tested
    if move.outcome in TESTS and (not step.is_tested or waits_for_test):
        raise Conflict(f"'{move.step}' cannot end '{move.outcome}' here")
    if now.place == "test" and move.outcome not in TESTS:
        raise Conflict("say what came of trying the original action again")
    if move.outcome == "done" and step.is_tested and not waits_for_test:
        raise Conflict(f"a {step.kind} ends fixed or with no change, not 'done'")
    if move.finding is not None and move.outcome not in (None, "no-change", "done"):
        raise Conflict(f"'{move.outcome}' leaves nothing to find")
    if step.is_tested and move.outcome is None:
        raise Conflict("a fix with a finding also says no-change")
    if move.took == "no" and not (step.is_tested and move.outcome == "no-change"):
        raise Conflict("only a fix that changed nothing can have failed to take")
