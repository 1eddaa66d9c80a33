"""What a guided case must still close before it ends: settings to put back, footings to leave, what a step leaves.

Worked out from what was done, never kept apart from it, so that taking an answer back takes its loose ends with it.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from mildladder.core.ladder.footings import chain, footings_of, way
from mildladder.core.model import Instruction, Playbook, Step

__all__ = ["LooseEnd", "Traces", "loose_ends", "put_on"]


@dataclass(frozen=True)
class Traces:
    """What a case has left on the unit so far.

    carried_out: every step that was, once, in order. to_put_back: those whose changes are still there, in the order in
    which they are put back, each with the footing for it. footing: the state that the unit stands in. left_open: ids of
    what is not closed, for which the unit is brought nowhere.
    """

    playbook: Playbook
    carried_out: tuple[Step, ...]
    to_put_back: tuple[tuple[Step, str | None], ...]
    footing: str | None
    is_fixed: bool
    left_open: frozenset[str] = frozenset()


@dataclass(frozen=True)
class LooseEnd:
    """One thing to close. id: `put-back:`, `leave:`, `enter:` or `after:` with what it is about; `do`: how; `footing`:
    where the unit stands then; `left_by`: title of the step that left it; `due`: how long after the case, an ISO 8601
    duration; `only_if`: how the case must end for it. Only on the way to another state is one entered by itself."""

    id: str
    kind: Literal["put-back", "leave", "enter", "after"]
    title: str
    do: tuple[Instruction, ...] = ()
    footing: str | None = None
    left_by: str | None = None
    due: str | None = None
    only_if: Literal["always", "fixed", "not-fixed"] = "always"


def loose_ends(left: Traces) -> tuple[LooseEnd, ...]:
    """What would have to be closed if the case ended now, in order: put back, leave inside out, then the rest."""
    return (*_put_back(left), *_leave(left), *_afterwards(left))


def _put_back(left: Traces) -> Iterator[LooseEnd]:
    """What the last trial changed, with the way to the footing for it; earlier ones were put back before what
    followed."""
    footings, at = footings_of(left.playbook), left.footing
    for step, footing in left.to_put_back:
        leaving, entering = way(footings, at, footing)
        on_the_way = [do for one in leaving for do in one.leave.do] + [do for one in entering for do in one.enter.do]
        how = Instruction(text=(step.undo and step.undo.how) or "Put it back as it was")
        yield LooseEnd(f"put-back:{step.id}", "put-back", f"Put back: {step.title}", (*on_the_way, how), footing)
        at = at if f"put-back:{step.id}" in left.left_open else footing


def _leave(left: Traces) -> Iterator[LooseEnd]:
    where = [footing for step, footing in left.to_put_back if f"put-back:{step.id}" not in left.left_open]
    last = where[-1] if where else left.footing
    for footing in reversed(chain(footings_of(left.playbook), last)):
        yield LooseEnd(f"leave:{footing.id}", "leave", f"Leave: {footing.title}", footing.leave.do, footing.within)


def _afterwards(left: Traces) -> Iterator[LooseEnd]:
    ends = {"always", "fixed" if left.is_fixed else "not-fixed"}
    for step in left.carried_out:
        for number, after in enumerate(step.afterwards):
            if after.if_ in ends:
                name = f"after:{step.id}:{number}"
                yield LooseEnd(name, "after", after.text, left_by=step.title, due=after.due, only_if=after.if_)


def put_on(workaround: Step) -> LooseEnd:
    """A workaround that was taken off for a repair that did not help is needed again."""
    title = f"Put on again: {workaround.title}"
    return LooseEnd(f"after:{workaround.id}:on", "after", title, workaround.do, left_by=workaround.title)
