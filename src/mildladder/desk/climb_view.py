"""A guided case as its screen shows it: the one current thing, its answers, the path so far and what is likely."""

from datetime import datetime
from typing import Literal

from mildladder.core.answers import Answer, answers
from mildladder.core.case_record import hand_off_text
from mildladder.core.causes import likely_causes
from mildladder.core.climb import Climb, ClimbEvent, Place, climb, surviving
from mildladder.core.forecast import Forecast
from mildladder.core.judgement import elapsed_minutes, harm_points, risk_grade
from mildladder.core.model import End, LeaveAlone, Playbook, Shape, Step
from mildladder.core.wording import FilledInstruction, fill, filled, spoken_cost
from mildladder.store.tables import ClimbRow, EditionRow

__all__ = ["ClimbSummary", "ClimbView", "climb_view", "summary"]


class CurrentStep(Shape):
    """The step to carry out now, its values filled in. `minutes`: expected on the clock; `grade`: bare risk grade;
    `cost`: what the caller is told first, None when there is nothing worth saying.

    `chance_here`: share of the cases that come this far which it ends, by the edition's forecast; None for a step
    that ends nothing. `since`: when it came up.
    """

    step: Step
    rung: int
    note: str | None
    do: tuple[FilledInstruction, ...]
    to_hand: tuple[str, ...]
    cost: str | None
    minutes: float
    grade: int
    needs_consent: bool
    has_consent: bool
    guards_answered: int
    chance_here: float | None
    retest: str | None
    since: datetime


class Question(Shape):
    """A fact that must be known before the ladder goes on."""

    ask: str
    where: str | None


class PathRung(Shape):
    """One rung beside the guided case. `says`: what came of it, or why it was passed over."""

    title: str
    step: str
    state: Literal["tried", "passed", "now", "ahead"]
    says: str


class Known(Shape):
    """A fact of the unit."""

    fact: str
    ask: str
    value: str


class Likely(Shape):
    """A cause with its chance after all that was answered."""

    cause: str
    title: str
    share: float


class StepName(Shape):
    """A step that may be marked as tried before the call."""

    id: str
    title: str


class Team(Shape):
    """Somebody whom the case may be handed on to; the default one stands first."""

    id: str
    title: str


class ClimbView(Shape):
    """Everything that the screen of a guided case shows. `number`: of the last event; the next move follows it."""

    id: str
    case: str
    playbook: str
    title: str
    edition: int
    who: str
    number: int
    opened: datetime
    closed: datetime | None
    said: str
    unit: str
    place: Place
    rungs: int
    current: CurrentStep | None
    question: Question | None
    answers: tuple[Answer, ...]
    can_take_back: bool
    path: tuple[PathRung, ...]
    forecast: Forecast
    known: tuple[Known, ...]
    likely: tuple[Likely, ...]
    leave_alone: tuple[LeaveAlone, ...]
    untried: tuple[StepName, ...]
    teams: tuple[Team, ...]
    notes: tuple[str, ...]
    hand_off: str
    end: End | None


class ClimbSummary(Shape):
    """An open guided case in a list."""

    id: str
    case: str
    title: str
    who: str
    opened: datetime
    said: str
    unit: str
    at: str


_DONE = {
    "fixed": "fixed",
    "no-change": "no",
    "better": "better",
    "worse": "worse",
    "nothing-to-do": "nothing to do",
    "not-available": "not there",
    "could-not": "could not",
    "skipped": "skipped",
    "done": "done",
}


def summary(row: ClimbRow, playbook: Playbook, now: Climb) -> ClimbSummary:
    """One line of the list of open cases."""
    on_rung = now.place in ("guard", "consent", "step", "fact")
    at = now.step.title if on_rung else {"confirm": "to be confirmed", "hand-off": "to be handed on"}.get(now.place, "")
    return ClimbSummary(
        id=row.id,
        case=row.case_id,
        title=playbook.title,
        who=row.who,
        opened=row.opened,
        said=now.started.said,
        unit=now.started.unit,
        at=at or "just begun",
    )


def climb_view(row: ClimbRow, playbook: Playbook, edition: EditionRow, events: list[ClimbEvent]) -> ClimbView:
    """The whole screen, worked out from the events."""
    now = climb(playbook, events)
    figures = Forecast.model_validate(edition.forecast)
    asks = {fact.id: fact.ask for fact in playbook.facts}
    return ClimbView(
        id=row.id,
        case=row.case_id,
        playbook=playbook.id,
        title=playbook.title,
        edition=edition.number,
        who=row.who,
        number=len(events),
        opened=row.opened,
        closed=now.closed,
        said=now.started.said,
        unit=now.started.unit,
        place=now.place,
        rungs=len(playbook.ladder),
        current=_current(now, figures) if now.place in ("guard", "consent", "step") else None,
        question=_question(now) if now.place == "fact" else None,
        answers=answers(now),
        can_take_back=now.ended is None and any(e.move.kind not in ("started", "note", "tried-before")
                                                for e in surviving(events)),
        path=tuple(_path(now)),
        forecast=figures,
        known=tuple(Known(fact=fact, ask=asks.get(fact, fact), value=value) for fact, value in now.facts.items()),
        likely=tuple(
            Likely(cause=cause.id, title=cause.title, share=share)
            for cause, share in likely_causes(playbook, now.attempts)
        ),
        leave_alone=playbook.symptom.leave_alone,
        untried=tuple(
            StepName(id=step.id, title=step.title)
            for step in playbook.steps
            if step.is_tested and not now.is_done(step.id)
        ),
        teams=tuple(
            Team(id=team.id, title=team.title)
            for team in sorted(playbook.hand_offs, key=lambda team: team != playbook.default_hand_off)
        ),
        notes=now.notes,
        hand_off=hand_off_text(now),
        end=now.ended.end if now.ended else None,
    )  # fmt: skip


def _current(now: Climb, figures: Forecast) -> CurrentStep:
    step, rung = now.step, now.playbook.ladder[now.rung]
    here = figures.rungs[now.rung]
    retest = now.playbook.retest
    return CurrentStep(
        step=step,
        rung=now.rung,
        note=rung.note,
        do=tuple(filled(instruction, now.facts) for instruction in step.do),
        to_hand=tuple(
            fill(need.what, now.facts) + (f" ({fill(need.from_, now.facts)})" if need.from_ else "")
            for need in step.to_hand
        ),
        cost=spoken_cost(step),
        minutes=elapsed_minutes(step.effort),
        grade=risk_grade(harm_points(step)),
        needs_consent=now.needs_consent,
        has_consent=now.has_consent,
        guards_answered=now.guards,
        chance_here=(here.resolved + here.worked_around) / here.reach if step.is_tested and here.reach else None,
        retest=retest.how if retest and step.is_tested else None,
        since=now.since,
    )


def _question(now: Climb) -> Question:
    fact = next(fact for fact in now.playbook.facts if fact.id == now.asked_fact)
    return Question(ask=fact.ask, where=fact.where)


def _path(now: Climb) -> list[PathRung]:
    tried = {rung: attempt for rung, attempt in zip(now.rungs_tried, now.attempts, strict=True) if rung is not None}
    passed = dict(now.passed)
    found = []
    for number, rung in enumerate(now.playbook.ladder):
        step = now.playbook.step(rung.step)
        state: Literal["tried", "passed", "now", "ahead"] = "ahead"
        says = ""
        if number in tried:
            attempt = tried[number]
            title = next((f.title for f in step.findings if f.id == attempt.finding), None)
            state, says = (
                "tried",
                title or ("did not take" if attempt.took == "no" else _DONE[attempt.outcome or "done"]),
            )
        elif number in passed:
            state, says = "passed", passed[number].why
        elif number == now.rung and now.place in ("fact", "guard", "consent", "step"):
            state, says = "now", "now"
        found.append(PathRung(title=step.title, step=step.id, state=state, says=says))
    return found
