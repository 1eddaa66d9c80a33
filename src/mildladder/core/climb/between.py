"""What lies between two steps, each thing done and confirmed by itself: states to leave, and to pass through."""

from collections.abc import Mapping, Sequence

from mildladder.core.climb.loose_ends import LooseEnd
from mildladder.core.ladder.footings import way
from mildladder.core.model import Footing

__all__ = ["on_the_way", "trimmed", "ways_out"]


def on_the_way(footings: Mapping[str, Footing], origin: str | None, route: Sequence[str | None]) -> list[LooseEnd]:
    """Every state that is left or entered on the way from one footing over others, in order."""
    made: list[LooseEnd] = []
    at = origin
    for target in route:
        left, entered = way(footings, at, target)
        made += [LooseEnd(f"leave:{one.id}", "leave", f"Leave: {one.title}", one.leave.do, one.within) for one in left]
        made += [LooseEnd(f"enter:{one.id}", "enter", f"Enter: {one.title}", one.enter.do, one.id) for one in entered]
        at = target
    return made


def ways_out(footings: Mapping[str, Footing], origin: str | None, route: Sequence[str | None]) -> tuple[LooseEnd, ...]:
    """Those of them that are done by themselves: all up to the last state that is left. What is entered after that
    belongs to the step that it is entered for."""
    turns = on_the_way(footings, origin, route)
    last = max((number for number, turn in enumerate(turns, start=1) if turn.kind == "leave"), default=0)
    return tuple(turns[:last])


def trimmed(route: Sequence[str | None], at: str | None) -> tuple[str | None, ...]:
    """The route without the footings that are reached already."""
    left = list(route)
    while left and left[0] == at:
        left.pop(0)
    return tuple(left)
