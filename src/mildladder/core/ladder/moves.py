"""Give the main line of a playbook another order."""

from collections.abc import Sequence

from mildladder.core.model import Playbook, Rung

__all__ = ["reordered"]


def reordered(playbook: Playbook, order: Sequence[int]) -> Playbook:
    """The playbook with the rungs of its main line in that order, given by index; those left out are dropped."""
    ladder: tuple[Rung, ...] = tuple(playbook.ladder[index] for index in order)
    return playbook.model_copy(update={"ladder": ladder})
