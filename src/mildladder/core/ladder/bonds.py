"""The binding rules of a ladder's order, and what moving a rung does to them.

A move that newly breaks a rule is refused, with moving both rungs offered; files may hold a broken rule (records).
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from mildladder.core.errors import BadInput, Held
from mildladder.core.ladder.conditions import findings_of, parse
from mildladder.core.ladder.units import rungs_of
from mildladder.core.model import Playbook, Rung, Step

__all__ = ["Bond", "Need", "bonds", "broken", "move_rung", "reordered"]

Need = Literal["safeguard", "needed", "finding"]
_WHY: dict[Need, str] = {
    "safeguard": "which it protects",
    "needed": "which needs it",
    "finding": "which hangs on what it finds",
}


@dataclass(frozen=True)
class Bond:
    """One of the rungs at the indices `holders` must stand above the rung at index `below`, because `says`.

    step: what they hold. user: the step, of the rung or of one of its rails, that wants it above.
    """

    holders: tuple[int, ...]
    below: int
    need: Need
    step: str
    user: str
    says: str

    def is_kept(self, place: Sequence[int]) -> bool:
        """Whether it is, where `place` gives each rung's place on the ladder."""
        return any(place[holder] < place[self.below] for holder in self.holders)


def bonds(playbook: Playbook) -> list[Bond]:
    """Every bond between rungs of the main line, side rails included in the rung that they hang on.

    A hazard's safeguard stands above the step that it protects, a needed step above the one that needs it, and a check
    above whatever a condition lets hang on its finding. Where several rungs hold it, one of them above will do; where
    the rung has it above the user on its own rails, nothing is asked of the others.
    """
    steps = {step.id: step for step in playbook.steps}
    blocks = [[inner.step for inner in rungs_of((rung,))] for rung in playbook.ladder]
    found: list[Bond] = []
    for below, rung in enumerate(playbook.ladder):
        for number, inner in enumerate(rungs_of((rung,))):
            for wanted, need in _wanted(inner, steps[inner.step]):
                holders = tuple(n for n, block in enumerate(blocks) if wanted in block and n != below)
                if holders and wanted not in blocks[below][:number]:
                    says = f"“{steps[wanted].title}” must stand above “{steps[inner.step].title}”, {_WHY[need]}"
                    found.append(Bond(holders, below, need, wanted, inner.step, says))
    return list(dict.fromkeys(found))


def _wanted(rung: Rung, step: Step) -> Iterator[tuple[str, Need]]:
    """The steps that must stand above, each with the reason."""
    hazards = [*step.hazards, *(hazard for variant in step.varies for hazard in variant.hazards or ())]
    yield from ((hazard.eased_by, "safeguard") for hazard in hazards if hazard.eased_by)
    yield from ((needed, "needed") for needed in step.needs)
    if rung.when:
        yield from ((test.check, "finding") for test in findings_of(parse(rung.when)))


def broken(playbook: Playbook) -> list[Bond]:
    """The bonds that the ladder as it stands does not keep."""
    place = range(len(playbook.ladder))
    return [bond for bond in bonds(playbook) if not bond.is_kept(place)]


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
        (bond.below if source in bond.holders else next(h for h in bond.holders if h < bond.below), bond)
        for bond in newly
    ]


def places(order: Sequence[int]) -> list[int]:
    """The place of each rung in an order of all of them."""
    place = [0] * len(order)
    for position, rung in enumerate(order):
        place[rung] = position
    return place


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
