"""Refuse a playbook that nobody could work with, and one whose figures nobody would wait for, before any of them is
worked out."""

from mildladder.core.errors import BadInput
from mildladder.core.ladder.units import combinations
from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import Playbook

__all__ = ["MOST_RUNGS", "check_work"]

# Rungs of a ladder, those of its rails included, and steps of a playbook: beyond that nobody finds their way.
MOST_RUNGS, MOST_STEPS = 500, 1_000
# Sorts of units times rows of the ladder: what takes a forecast about two seconds.
_MOST = 20_000


def check_work(playbook: Playbook) -> None:
    """Raises BadInput, with what to do, for a ladder whose figures would take too long."""
    sorts, rows = combinations(playbook), sum(1 for _ in rows_of(playbook))
    for count, most, what, path in (
        (rows, MOST_RUNGS, "rungs", "ladder"),
        (len(playbook.steps), MOST_STEPS, "steps", "steps"),
    ):
        if count > most:
            raise BadInput(f"a playbook has room for {most:,} {what}, and this one has {count:,}: part it", path=path)
    if sorts * rows > _MOST:
        raise BadInput(
            f"{rows:,} rungs for {sorts:,} sorts of units are more than is worked out (at most {_MOST:,} in all):"
            " let conditions look at fewer facts, give these fewer values, or part the ladder",
            path="ladder",
        )
