"""A guided case that waits: for a watch, a step that runs by itself, a part, an answer, or the lasting repair."""

from dataclasses import replace
from datetime import timedelta

from mildladder.core.climb.state import Climb, Pause
from mildladder.core.errors import Conflict
from mildladder.core.model import minutes_between
from mildladder.core.model.events import ClimbEvent, Paused

__all__ = ["after_watch", "pause", "resume"]

# Minutes after which what was answered of the hour, or of who is near, may no longer be so.
_LONG = 60


def pause(now: Climb, move: Paused, event: ClimbEvent) -> Climb:
    """The case waits from now on. Raises Conflict where it cannot, or not for that."""
    if now.pause is not None:
        if not (now.runs and move.reason == "watch"):
            raise Conflict("the case waits already; take it up again first")
        now = resume(now, event)
    if move.reason == "runs" and now.unattended is None:
        raise Conflict("nothing runs by itself here")
    if move.reason == "watch" and (now.watch_minutes is None or now.place not in ("step", "test")):
        raise Conflict("nothing is to be watched here")
    if move.reason == "watch" and move.minutes is None:
        raise Conflict("a watch has a length; say how long it is to be")
    if move.reason not in ("watch", "runs") and now.place == "step" and now.step.unbroken:
        raise Conflict(f"“{now.step.title}” must not be interrupted once begun")
    if move.reason == "repair" and not now.is_restored:
        raise Conflict("nothing was restored for now; say what the case waits for")
    minutes = move.minutes if move.reason != "runs" else move.minutes or now.unattended
    until = event.at + timedelta(minutes=minutes) if minutes is not None else None
    waits = replace(now, pause=Pause(move.reason, event.at, until))
    if move.part is None:
        return waits
    if move.reason != "part":
        raise Conflict("only a case that waits for a part has one to wait for")
    return replace(waits, parts=(*now.parts, move.part.model_copy(update={"since": event.at})))


def resume(now: Climb, event: ClimbEvent) -> Climb:
    """The case is taken up again; the pause counts for no step, unless that ran meanwhile."""
    assert now.pause is not None
    if now.runs:
        return replace(now, pause=None, has_begun=True)
    gone = event.at - now.pause.since
    watched = now.agenda[0].path if now.pause.reason == "watch" else now.watched  # type: ignore[union-attr]
    lasted = minutes_between(now.pause.since, event.at)
    is_asked_again = now.started.rules >= 5 and lasted >= _LONG and not now.is_try_begun and now.pause.reason != "watch"
    return replace(
        now,
        pause=None,
        since=now.since + gone,
        watched=watched,
        waited=now.waited + lasted,
        guards=0 if is_asked_again else now.guards,
    )


def after_watch(now: Climb, event: ClimbEvent) -> Climb:
    """What came of a watch, or of a step that runs by itself, may be said meanwhile; no other pause can be answered."""
    if now.pause is None:
        return now
    if now.pause.reason not in ("watch", "runs"):
        raise Conflict("the case waits; take it up again first")
    return resume(now, event)
