"""Closing what a case has left: states that are left, settings that are put back, what is done before it ends."""

from dataclasses import replace

from mildladder.core.climb.between import trimmed
from mildladder.core.climb.loose_ends import LooseEnd
from mildladder.core.climb.state import Climb
from mildladder.core.errors import Conflict
from mildladder.core.model.events import ClimbEvent

__all__ = ["close_loose_end"]


def close_loose_end(now: Climb, end_id: str, why: str | None, event: ClimbEvent) -> Climb:
    """The thing to close now is closed; with a reason it stays open, and on the way to another step the case goes on.

    Raises Conflict for another one.
    """
    end = now.to_close
    if end.id != end_id:
        raise Conflict(f"the next thing to close is “{end.title}”; reload to see the case as it stands")
    is_on_the_way = now.place == "way-out"
    at = replace(now, since=event.at)
    if why is not None and end.kind == "enter" and now.started.rules >= 6:
        # What is only passed through, and cannot be entered, is passed by: there is nothing to leave.
        return replace(at, route=trimmed(now.route[1:], now.footing))
    if why is not None:
        at = replace(at, tied={**now.tied, end.id: why})
        if not is_on_the_way:
            return at
        at = replace(at, stuck=(*(one for one in now.stuck if one.id != end.id), end))
    if end.kind == "put-back" and end.id == f"put-back:{at.to_take_off}":
        return _taken_off(at, end, why)
    if end.kind == "put-back":
        rest = tuple(step for step in now.to_put_back if end.id != f"put-back:{step}")
        # What could not be put back was not gone to.
        is_gone_to = why is None or now.started.rules < 6
        return _on(replace(at, to_put_back=rest), end.footing if is_gone_to else now.footing)
    if end.kind == "after":
        return replace(at, tied={**at.tied, end.id: None})
    return _on(at, end.footing)


def _taken_off(now: Climb, end: LooseEnd, why: str | None) -> Climb:
    """The workaround is off, and the unit is to be tested where it stood; where it cannot be taken off, it stays on."""
    step = now.to_take_off
    assert step is not None
    off = (*now.taken_off, step) if why is None else now.taken_off
    at = replace(now, to_take_off=None, taken_off=off)
    is_elsewhere = why is None and end.footing != now.footing
    return replace(at, footing=end.footing, leaves_for_test=True) if is_elsewhere else at


def _on(now: Climb, footing: str | None) -> Climb:
    """The unit stands there now; what was on the way to it is behind."""
    there = replace(now, footing=footing)
    return there if there.to_put_back else replace(there, route=trimmed(there.route, footing))
