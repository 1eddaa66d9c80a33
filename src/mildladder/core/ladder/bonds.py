"""The binding rules of a ladder's order: what must stand above what, and why.

Files may hold a broken rule (records); moves that newly break one are refused, and review stops publishing.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from mildladder.core.ladder.conditions import endings_of, findings_of, parse
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Playbook, Rung, Step

__all__ = ["Rule", "bonds", "broken"]


Need = Literal["safeguard", "needed", "finding", "ended"]
RuleKind = Literal[Need, "pin", "keep", "mildest"]
_WHY: dict[Need, str] = {
    "safeguard": "which it protects",
    "needed": "which needs it",
    "finding": "which hangs on what it finds",
    "ended": "which hangs on how it ends",
}


@dataclass(frozen=True)
class Rule:
    """One of those at the numbers `above` must stand above the one at `below`, because `says`.

    Numbers count the rungs of the main line, or the blocks that an order moves as one.
    """

    kind: RuleKind
    above: tuple[int, ...]
    below: int
    says: str

    def is_kept(self, place: Sequence[int]) -> bool:
        """Whether it is, where `place` gives the place of each number."""
        return any(place[number] < place[self.below] for number in self.above)


@dataclass(frozen=True)
class Bond(Rule):
    """A rule between rungs of the main line. step: what those above hold. user: the step, of the rung or of one of its
    rails, that wants it above."""

    step: str
    user: str


def bonds(playbook: Playbook) -> list[Bond]:
    """Every bond between rungs of the main line, side rails included in the rung that they hang on.

    A hazard's safeguard stands above the step that it protects, a needed step above the one that needs it, and a check
    above whatever a condition lets hang on its finding, or a step on how it ended. Where several rungs hold it, one of
    them above will do; where the rung has it above the user on its own rails, nothing is asked of the others.
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
                    found.append(Bond(need, holders, below, says, wanted, inner.step))
    return list(dict.fromkeys(found))


def _wanted(rung: Rung, step: Step) -> Iterator[tuple[str, Need]]:
    """The steps that must stand above, each with the reason."""
    hazards = [*step.hazards, *(hazard for variant in step.varies for hazard in variant.hazards or ())]
    yield from ((hazard.eased_by, "safeguard") for hazard in hazards if hazard.eased_by)
    yield from ((needed, "needed") for needed in step.needs)
    if rung.when:
        yield from ((test.check, "finding") for test in findings_of(parse(rung.when)))
        yield from ((test.step, "ended") for test in endings_of(parse(rung.when)))


def broken(playbook: Playbook) -> list[Bond]:
    """The bonds that the ladder as it stands does not keep."""
    place = range(len(playbook.ladder))
    return [bond for bond in bonds(playbook) if not bond.is_kept(place)]


def places(order: Sequence[int]) -> list[int]:
    """The place of each rung in an order of all of them."""
    place = [0] * len(order)
    for position, rung in enumerate(order):
        place[rung] = position
    return place
