"""What was ticked on a sheet, entered in one go: the answers that the case would have been given one by one."""

from collections.abc import Sequence
from datetime import datetime

from mildladder.core.climb.machine import Climb, apply
from mildladder.core.errors import Conflict
from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import Id, Outcome, Rung, Shape
from mildladder.core.model.events import (
    Answered,
    BaselineSeen,
    ClimbEvent,
    Consented,
    FactGiven,
    GuardAnswered,
    Move,
    Resumed,
    StepBegun,
    TiedUp,
)
from mildladder.core.model.outcomes import DO_NOT_ENTER, TESTED

__all__ = ["Ticked", "brought_back"]

_MOST = 2000


class Ticked(Shape):
    """How one rung ended, as it was ticked. path: of the rung; is_agreed: what is asked before it was as it must be,
    and whoever uses the unit agreed."""

    path: str
    outcome: Outcome | None = None
    finding: Id | None = None
    is_agreed: bool = False


def brought_back(now: Climb, ticks: Sequence[Ticked], who: int, at: datetime) -> list[ClimbEvent]:
    """The events that enter these ticks, in the order of the ladder; rungs between them that nothing was ticked of are
    skipped, states are left on the way, and what is asked meanwhile nobody can tell.

    Raises Conflict for a tick that the case does not come to, or that says what its step cannot end in.
    """
    left = {one.path: one for one in ticks}
    told = dict(left)
    events: list[ClimbEvent] = []
    while left and len(events) < _MOST:
        move = _next(now, left, told)
        if move is None:
            break
        events.append(ClimbEvent(at=at, who=who, move=move))
        now = apply(now, events[-1])
    if left:
        rungs = {row.path: row.entry for row in rows_of(now.playbook)}
        rung = next((entry for path in left if isinstance(entry := rungs.get(path), Rung)), None)
        named = f"“{now.playbook.step(rung.step).title}”" if rung else "one of the rungs"
        raise Conflict(f"the case does not come to {named} by what was ticked; enter it in the case, step by step")
    return events


def _next(now: Climb, left: dict[str, Ticked], told: dict[str, Ticked]) -> Move | None:
    """The next answer; what it enters is taken from `left`."""
    match now.place:
        case "baseline":
            return BaselineSeen(result="fails")
        case "paused":
            return Resumed()
        case "fact":
            return FactGiven(fact=now.asked.id, value=None)
        case "way-out":
            return TiedUp(end=now.to_close.id)
        case "guard" | "consent" | "begin" | "step":
            return _at_step(now, left)
        case "test":
            return _at_test(now, left, told)
        case "finding":
            finding = _finding_told(now, told)
            return None if finding is None else Answered(step=now.step.id, finding=finding)
    return None


def _finding_told(now: Climb, told: dict[str, Ticked]) -> str | None:
    """What was ticked of the step whose finding is asked for, which stands in a trial that is tested already."""
    paths = [path for path, one in zip(now.tried_at, now.attempts, strict=True) if one.step == now.step.id]
    tick = told.get(paths[-1] or "")
    return tick.finding if tick else None


def _at_step(now: Climb, left: dict[str, Ticked]) -> Move:
    tick = left.get(now.task.path)
    if tick is None or tick.outcome in DO_NOT_ENTER:
        return _not_done(now, left, tick)
    if now.place in ("guard", "consent") and not tick.is_agreed:
        raise Conflict(f"“{now.step.title}” asks first: tick that it was asked and agreed to")
    if now.place == "guard":
        return GuardAnswered(step=now.step.id, number=now.guards, answer=now.guard.must)
    if now.place == "consent":
        return Consented(step=now.step.id, answer="yes")
    if now.place == "begin":
        return StepBegun(step=now.step.id)
    if now.asked_inside:
        return FactGiven(fact=now.asked_inside[0], value=None)
    if now.waits_for_test and tick.outcome in TESTED:
        return Answered(step=now.step.id, outcome="done")
    return _taken(now, left, tick)


def _not_done(now: Climb, left: dict[str, Ticked], tick: Ticked | None) -> Move:
    """A rung that was not carried out: the question before it has no meaning, and a yes that nobody gave is not
    entered, so that a rough one counts as skipped."""
    if now.place == "guard":
        return GuardAnswered(step=now.step.id, number=now.guards, answer=now.guard.must)
    if now.place == "consent":
        left.pop(now.task.path, None)
        return Consented(step=now.step.id, answer="no")
    return Answered(step=now.step.id, outcome="skipped") if tick is None else _taken(now, left, tick)


def _at_test(now: Climb, left: dict[str, Ticked], told: dict[str, Ticked]) -> Move | None:
    """What the last of those that were tested together ended in is how all of them did."""
    tick = told.get(now.carried[-1].path)
    if tick is None:
        return None
    for one in now.carried:
        left.pop(one.path, None)
    return Answered(step=now.step.id, outcome=tick.outcome, finding=tick.finding)


def _taken(now: Climb, left: dict[str, Ticked], tick: Ticked) -> Move:
    del left[tick.path]
    return Answered(step=now.step.id, outcome=tick.outcome, finding=tick.finding)
