"""Move a rung, or give the main line another order; a move that newly breaks a rule is refused, with both offered."""

from collections.abc import Sequence

from mildladder.core.errors import BadInput, Held
from mildladder.core.ladder.bonds import Bond, bonds, places
from mildladder.core.model import Playbook, Rung

__all__ = ["move_rung", "reordered"]


def move_rung(playbook: Playbook, source: int, target: int, both: bool = False) -> Playbook:
    """The playbook with the rung at index `source` moved to index `target`.

    both: take along, in their order, the rungs that hold it, so that it comes to stand at `target` all the same.
    Raises BadInput for an index that is not there,
    Held when the move alone would newly break a bond.
    """
    count = len(playbook.ladder)
    for path, index in (("source", source), ("target", target)):
        if not 0 <= index < count:
            raise BadInput(f"there is no rung {index + 1}; the ladder has {count}", path=path)
    order = list(range(count))
    order.insert(target, order.pop(source))
    holding = _holding(playbook, order, source)
    if holding and not both:
        raise Held(f"{holding[0][1].says}. Move both, or leave it.", [rung for rung, _ in holding])
    if holding:
        order = _together(order, source, target, {rung for rung, _ in holding}, is_upwards=target < source)
        left = _holding(playbook, order, source)
        if left:
            raise Held(f"{left[0][1].says}. Moving both does not mend that.", [rung for rung, _ in left])
    return reordered(playbook, order)


def _holding(playbook: Playbook, order: Sequence[int], source: int) -> list[tuple[int, Bond]]:
    """The bonds that hold now and not in `order`, each with the index of the rung other than `source`."""
    now = range(len(order))
    place = places(order)
    newly = [bond for bond in bonds(playbook) if bond.is_kept(now) and not bond.is_kept(place)]
    return [
        (bond.below if source in bond.above else next(h for h in bond.above if h < bond.below), bond) for bond in newly
    ]


def _together(order: list[int], source: int, target: int, holders: set[int], is_upwards: bool) -> list[int]:
    """The order with the moved rung at `target` and its holders next to it, on the side where they must stand."""
    rest = [rung for rung in order if rung != source and rung not in holders]
    block = [*sorted(holders), source] if is_upwards else [source, *sorted(holders)]
    start = min(max(target - len(holders), 0) if is_upwards else target, len(rest))
    return rest[:start] + block + rest[start:]


def reordered(playbook: Playbook, order: Sequence[int]) -> Playbook:
    """The playbook with the rungs of its main line in that order, given by index; those left out are dropped."""
    ladder: tuple[Rung, ...] = tuple(playbook.ladder[index] for index in order)
    return playbook.model_copy(update={"ladder": ladder})
