"""The guided case as a state machine over events: one step at a time, nothing repeated, every answer taken back.

Pure: events carry their own time, so replaying them always gives the same climb. What an agent may answer at any
point is worked out in `answers.py`; this module says where each event leads.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import AwareDatetime, Field

from mildladder.core.conditions import evaluate, parse
from mildladder.core.errors import Conflict
from mildladder.core.judgement import harm_points, risk_grade
from mildladder.core.model import (
    Attempt,
    Baseline,
    Confirmed,
    Consent,
    End,
    Guard,
    HandOffRef,
    Id,
    Line,
    Outcome,
    Passed,
    Playbook,
    Prose,
    Rung,
    Shape,
    Step,
    minutes_between,
)
from mildladder.core.wording import names_in

__all__ = [
    "Answered",
    "BaselineSeen",
    "Climb",
    "ClimbEvent",
    "Consented",
    "Ended",
    "FactGiven",
    "GuardAnswered",
    "Move",
    "Noted",
    "Place",
    "Started",
    "TakenBack",
    "TriedBefore",
    "WentOn",
    "apply",
    "begin",
    "climb",
    "surviving",
]

ROUGH = 3


class Started(Shape):
    """A climb begins: what the caller said, and what is known of the unit."""

    kind: Literal["started"] = "started"
    said: Annotated[str, Field(max_length=4000)] = ""
    unit: Annotated[str, Field(max_length=120)] = ""
    facts: dict[Id, Annotated[str, Field(min_length=1, max_length=300)]] = {}


class BaselineSeen(Shape):
    """The original action was tried before the first rung."""

    kind: Literal["baseline"] = "baseline"
    result: Baseline


class WentOn(Shape):
    """The fault is not there now, but the climb goes on all the same."""

    kind: Literal["went-on"] = "went-on"


class FactGiven(Shape):
    """A fact was asked; `value` None: nobody can tell."""

    kind: Literal["fact"] = "fact"
    fact: Id
    value: Annotated[str, Field(min_length=1, max_length=300)] | None


class TriedBefore(Shape):
    """Caller or machine had tried this step, without success, before the desk was called."""

    kind: Literal["tried-before"] = "tried-before"
    step: Id


class GuardAnswered(Shape):
    """One guard question of the current step was answered."""

    kind: Literal["guard"] = "guard"
    step: Id
    number: Annotated[int, Field(ge=0, le=1000, strict=True)]
    answer: Literal["yes", "no"]


class Consented(Shape):
    """The caller said yes or no to a rough or severe step, its cost having been read out."""

    kind: Literal["consent"] = "consent"
    step: Id
    answer: Literal["yes", "no"]


class Answered(Shape):
    """How the current step ended."""

    kind: Literal["answer"] = "answer"
    step: Id
    outcome: Outcome | None = None
    finding: Id | None = None
    took: Literal["no"] | None = None


class Noted(Shape):
    """A remark for whoever reads the case."""

    kind: Literal["note"] = "note"
    text: Prose


class TakenBack(Shape):
    """The last answer is taken back."""

    kind: Literal["take-back"] = "take-back"


class Ended(Shape):
    """The case is closed or handed on."""

    kind: Literal["end"] = "end"
    end: End
    hand_off: Id | None = None
    confirmed: Confirmed = "none"


Move = Annotated[
    Started
    | BaselineSeen
    | WentOn
    | FactGiven
    | TriedBefore
    | GuardAnswered
    | Consented
    | Answered
    | Noted
    | TakenBack
    | Ended,
    Field(discriminator="kind"),
]
_TAKEN_BACK_ALONE = (BaselineSeen, WentOn, FactGiven, GuardAnswered, Consented, Answered)


class ClimbEvent(Shape):
    """One move with who made it and when."""

    at: AwareDatetime
    who: Line
    move: Move


Place = Literal["baseline", "works-now", "fact", "guard", "consent", "step", "confirm", "hand-off", "ended"]


@dataclass(frozen=True)
class Climb:
    """Where a guided case stands. `rung`: index of the current rung, len(ladder) when none is left.

    `since`: when the current thing came up. `fixed_by`: index of the rung that ended the fault, until it is confirmed.
    """

    playbook: Playbook
    started: Started
    opened: AwareDatetime
    since: AwareDatetime
    facts: dict[str, str]
    unknown: frozenset[str] = frozenset()
    baseline: Baseline | None = None
    is_off_baseline: bool = False
    rung: int = 0
    guards: int = 0
    has_consent: bool = False
    attempts: tuple[Attempt, ...] = ()
    rungs_tried: tuple[int | None, ...] = ()
    passed: tuple[tuple[int, Passed], ...] = ()
    consents: tuple[Consent, ...] = ()
    notes: tuple[str, ...] = ()
    fixed_by: int | None = None
    hand_off: str | None = None
    ended: Ended | None = None
    closed: AwareDatetime | None = None

    @property
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
        if self.rung == len(self.playbook.ladder):
            return "hand-off"
        return self._place_on_rung()

    def _place_on_rung(self) -> Place:
        if self.missing_facts:
            return "fact"
        if self.guards < len(self.step.guard):
            return "guard"
        return "consent" if self.needs_consent and not self.has_consent else "step"

    @property
    def step(self) -> Step:
        """The step of the current rung."""
        return self.playbook.step(self.playbook.ladder[self.rung].step)

    @property
    def missing_facts(self) -> tuple[str, ...]:
        """Ids of the facts that the current rung's condition or its step's text needs and nobody has given yet."""
        when = self.playbook.ladder[self.rung].when
        texts = [text for do in self.step.do for text in (do.text, do.copy_ or "")]
        texts += [need.what for need in self.step.to_hand]
        wanted = ([parse(when).fact] if when else []) + [name for text in texts for name in names_in(text)]
        known = {fact.id for fact in self.playbook.facts} - self.facts.keys() - self.unknown
        return tuple(dict.fromkeys(name for name in wanted if name in known))

    @property
    def asked_fact(self) -> str:
        """The id of the fact that is asked for now."""
        return self.missing_facts[0]

    @property
    def guard(self) -> Guard:
        """The guard question of the current step that is to be answered next."""
        return self.step.guard[self.guards]

    @property
    def needs_consent(self) -> bool:
        """Whether the current step is rough or severe, nothing eased."""
        return risk_grade(harm_points(self.step)) >= ROUGH

    def is_done(self, step_id: str) -> bool:
        """Whether the step was carried out on this case, or there was nothing to do for it."""
        return any(
            attempt.step == step_id
            and attempt.outcome not in ("could-not", "not-available", "skipped")
            and attempt.took != "no"
            for attempt in self.attempts
        )

    def _holds(self, rung: Rung) -> bool | None:
        return True if rung.when is None else evaluate(parse(rung.when), self.facts)

    def settled(self) -> "Climb":
        """The climb with every rung passed that does not come up, each with the reason."""
        now = self
        while now.rung < len(now.playbook.ladder):
            rung = now.playbook.ladder[now.rung]
            why = now._why_passed(rung)
            if why is None:
                break
            passed = (now.rung, Passed(step=rung.step, why=why))
            now = replace(now, rung=now.rung + 1, passed=(*now.passed, passed))
        return now

    def _why_passed(self, rung: Rung) -> str | None:
        if rung.when and self._holds(rung) is False:
            condition = parse(rung.when)
            return f"only where {condition.fact} is {condition.value}, and it is {self.facts[condition.fact]}"
        if not self.is_done(rung.step):
            return None
        was_before = any(a.step == rung.step and a.by == "before" for a in self.attempts)
        return "tried before the desk was called" if was_before else "already done on this case"


def begin(playbook: Playbook, event: ClimbEvent) -> Climb:
    """The climb after its first event. Raises Conflict when that is not a start or gives facts that do not exist."""
    if not isinstance(event.move, Started):
        raise Conflict("a climb begins with its start; start a case first")
    for fact, value in event.move.facts.items():
        _check_fact(playbook, fact, value)
    return Climb(playbook, event.move, event.at, event.at, dict(event.move.facts))


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
        last = next((i for i in reversed(range(len(kept))) if isinstance(kept[i].move, _TAKEN_BACK_ALONE)), None)
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
    wanted = _PLACES.get(type(move))
    if wanted is None or now.place != wanted:
        raise Conflict(f"that answer does not fit here: the case is at '{now.place}'; reload to see it as it stands")
    return _answer(now, event)


_PLACES: dict[type, Place] = {
    BaselineSeen: "baseline",
    WentOn: "works-now",
    FactGiven: "fact",
    GuardAnswered: "guard",
    Consented: "consent",
    Answered: "step",
}


def _answer(now: Climb, event: ClimbEvent) -> Climb:
    match event.move:
        case BaselineSeen(result=result):
            climb = replace(now, baseline=result, is_off_baseline=result != "works", since=event.at)
            return climb.settled() if climb.is_off_baseline else climb
        case WentOn():
            return replace(now, is_off_baseline=True, since=event.at).settled()
        case FactGiven(fact=fact, value=value):
            return _give_fact(now, fact, value, event)
        case GuardAnswered() as move:
            return _answer_guard(now, move, event)
        case Consented(step=step, answer=answer):
            _check_step(now, step)
            if answer == "no":
                return _attempt(now, Answered(step=step, outcome="skipped"), event)
            yes = Consent(step=step, who=now.started.unit or "caller", at=event.at)
            return replace(now, has_consent=True, consents=(*now.consents, yes))
        case Answered() as move:
            _check_answer(now, move)
            return _attempt(now, move, event)
    raise AssertionError(event.move)


def _give_fact(now: Climb, fact: str, value: str | None, event: ClimbEvent) -> Climb:
    if fact != now.asked_fact:
        raise Conflict(f"'{fact}' is not what is asked here; reload to see the case as it stands")
    if value is None:
        return replace(now, unknown=now.unknown | {fact}, since=event.at)
    _check_fact(now.playbook, fact, value)
    return replace(now, facts={**now.facts, fact: value}, since=event.at).settled()


def _answer_guard(now: Climb, move: GuardAnswered, event: ClimbEvent) -> Climb:
    _check_step(now, move.step)
    if move.number != now.guards:
        raise Conflict("that question is answered already; reload to see the case as it stands")
    if move.answer == now.guard.must:
        return replace(now, guards=now.guards + 1)
    if isinstance(now.guard.else_, HandOffRef):
        return replace(now, hand_off=now.guard.else_.hand_off, since=event.at)
    return _attempt(now, Answered(step=move.step, outcome=now.guard.else_), event)


def _attempt(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    attempt = Attempt(
        step=move.step,
        outcome=move.outcome,
        finding=move.finding,
        minutes=round(minutes_between(now.since, event.at), 2),
        by=now.step.effort.by,
        trial=1 + max((a.trial or 0 for a in now.attempts), default=0),
        took=move.took,
        at=event.at,
    )
    climb = replace(
        now,
        attempts=(*now.attempts, attempt),
        rungs_tried=(*now.rungs_tried, now.rung),
        since=event.at,
        guards=0,
        has_consent=False,
    )
    if move.outcome == "fixed":
        return replace(climb, fixed_by=now.rung)
    return replace(climb, rung=now.rung + 1).settled()


def _tried_before(now: Climb, move: TriedBefore) -> Climb:
    if all(step.id != move.step for step in now.playbook.steps):
        raise Conflict(f"'{move.step}' is no step of this playbook")
    if now.is_done(move.step):
        raise Conflict(f"'{move.step}' is on record already")
    attempt = Attempt(step=move.step, outcome="no-change", by="before")
    climb = replace(now, attempts=(attempt, *now.attempts), rungs_tried=(None, *now.rungs_tried))
    return climb.settled() if climb.is_off_baseline and climb.fixed_by is None else climb


def _end(now: Climb, move: Ended, event: ClimbEvent) -> Climb:
    is_cured = move.end in ("resolved", "worked-around")
    if is_cured != (now.fixed_by is not None) or (is_cured and move.end != _cured_end(now)):
        raise Conflict(
            f"the case cannot end '{move.end}' here; take the last answer back first, or end it as it stands"
        )
    known = {hand_off.id for hand_off in now.playbook.hand_offs}
    if move.hand_off is not None and (move.end != "handed-off" or move.hand_off not in known):
        raise Conflict(f"'{move.hand_off}' is no hand-off of this playbook")
    return replace(now, ended=move, closed=event.at)


def _cured_end(now: Climb) -> End:
    step = now.playbook.step(now.playbook.ladder[now.fixed_by or 0].step)
    return "resolved" if step.kind == "fix" else "worked-around"


def _check_fact(playbook: Playbook, fact: str, value: str) -> None:
    known = next((f for f in playbook.facts if f.id == fact), None)
    if known is None:
        raise Conflict(f"'{fact}' is no fact of this playbook; it has {', '.join(f.id for f in playbook.facts)}")
    if value not in known.choices:
        raise Conflict(f"'{value}' is no value of '{fact}'; choose one of {', '.join(known.choices)}")


def _check_step(now: Climb, step: str) -> None:
    if step != now.step.id:
        raise Conflict(f"the case has gone on to '{now.step.id}'; reload to see it as it stands")


def _check_answer(now: Climb, move: Answered) -> None:
    _check_step(now, move.step)
    findings = {finding.id for finding in now.step.findings}
    if move.finding is not None and move.finding not in findings:
        raise Conflict(f"'{move.finding}' is no finding of '{move.step}'")
    if move.outcome is None and move.finding is None:
        raise Conflict("say how the step ended")
    is_test_result = move.outcome in ("fixed", "no-change", "better", "worse")
    if is_test_result and not now.step.is_tested:
        raise Conflict(f"a {now.step.kind} cannot end '{move.outcome}'")
    if move.outcome == "done" and now.step.is_tested:
        raise Conflict(f"a {now.step.kind} ends fixed or with no change, not 'done'")
    if move.finding is not None and move.outcome not in (None, "no-change", "done"):
        raise Conflict(f"'{move.outcome}' leaves nothing to find")
    if now.step.is_tested and move.outcome is None:
        raise Conflict("a fix with a finding also says no-change")
    if move.took == "no" and not (now.step.is_tested and move.outcome == "no-change"):
        raise Conflict("only a fix that changed nothing can have failed to take")
