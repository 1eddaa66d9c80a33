"""What a guided case must still close before it ends: settings to put back, footings to leave, what a step leaves.

Worked out from what was done, never kept apart from it, so that taking an answer back takes its loose ends with it.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from mildladder.core.model import Instruction, Step

if TYPE_CHECKING:
    from mildladder.core.climb.state import Climb

__all__ = ["NOT_DONE", "LooseEnd", "loose_ends", "open_ends"]

NOT_DONE = ("could-not", "not-available", "skipped")


@dataclass(frozen=True)
class LooseEnd:
    """One thing to close. id: `put-back:`, `leave:` or `after:` with what it is about; `do`: how; `footing`: where
    the unit stands once a footing is left; `left_by`: title of the step that left it."""

    id: str
    kind: Literal["put-back", "leave", "after"]
    title: str
    do: tuple[Instruction, ...] = ()
    footing: str | None = None
    left_by: str | None = None


def open_ends(now: "Climb") -> tuple[LooseEnd, ...]:
    """Those that are neither closed nor left open with a reason, the one to close next first."""
    return tuple(end for end in loose_ends(now) if end.id not in now.tied)


def loose_ends(now: "Climb") -> tuple[LooseEnd, ...]:
    """What would have to be closed if the case ended now, in order: put back, leave inside out, then the rest."""
    return (*_put_back(now), *_leave(now), *_afterwards(now))


def _put_back(now: "Climb") -> Iterator[LooseEnd]:
    """What the last trial changed; earlier ones were put back before what followed."""
    for step_id in now.to_put_back:
        step = now.playbook.step(step_id)
        how = Instruction(text=(step.undo and step.undo.how) or "Put it back as it was")
        yield LooseEnd(f"put-back:{step.id}", "put-back", f"Put back: {step.title}", (how,))


def _leave(now: "Climb") -> Iterator[LooseEnd]:
    footings = {footing.id: footing for footing in now.playbook.footings}
    at = now.footing
    while at is not None:
        footing = footings[at]
        yield LooseEnd(f"leave:{at}", "leave", f"Leave: {footing.title}", footing.leave.do, footing.within)
        at = footing.within


def _afterwards(now: "Climb") -> Iterator[LooseEnd]:
    ends = {"always", "fixed" if now.fixed_by is not None else "not-fixed"}
    for step in _carried_out(now):
        for number, after in enumerate(step.afterwards):
            if after.if_ in ends:
                yield LooseEnd(f"after:{step.id}:{number}", "after", after.text, left_by=step.title)


def _carried_out(now: "Climb") -> list[Step]:
    """Every step that was carried out on this call, once, in order."""
    done = [
        attempt.step
        for attempt in now.attempts
        if attempt.by != "before" and attempt.outcome not in (*NOT_DONE, "nothing-to-do") and attempt.took != "no"
    ]
    waiting = [*done, *(one.step for one in now.carried)]
    return [now.playbook.step(step) for step in dict.fromkeys(waiting)]
