"""Every order of a ladder that the method allows, tried one by one; nothing of the ordering is used here.

Rules are read from the document afresh: what stands above what is asked of each order as it lies there.
"""

import re
from collections.abc import Iterator, Sequence
from functools import cache
from itertools import chain, combinations, permutations

from mildladder.core.figures.forecast import forecast
from mildladder.core.figures.judgement import risk_grade
from mildladder.core.ladder.units import fact_types, on_unit, unit_groups
from mildladder.core.model import Playbook, Rung, Step

FOUND = re.compile(r"([^\s(]+) (?:found|ended) ")


class Brute:
    """All orders of one playbook, each forecast once for all modes and rates."""

    def __init__(self, playbook: Playbook) -> None:
        self.playbook = playbook
        self.figures = cache(self._figures)
        self.orders = cache(self._orders)

    def best(self, mode: str, rate: float) -> float | None:
        """The least objective of all allowed orders; None when there is none."""
        costs = [self.cost(order, rate) for order in self.orders(mode)]
        return min(costs, default=None)

    def cost(self, order: tuple[int, ...], rate: float) -> float:
        effort, harm = self.figures(order)
        return effort + rate * harm

    def _figures(self, order: tuple[int, ...]) -> tuple[float, float]:
        made = forecast(self._ladder(order))
        return made.effort, made.harm

    def _ladder(self, order: Sequence[int]) -> Playbook:
        return self.playbook.model_copy(update={"ladder": tuple(self.playbook.ladder[rung] for rung in order)})

    def _orders(self, mode: str, may_leave_out: bool = True) -> frozenset[tuple[int, ...]]:
        """Allowed orders of the rungs, optional ones left out where nothing that is kept needs them."""
        return frozenset(self._each_order(mode, may_leave_out))

    def _each_order(self, mode: str, may_leave_out: bool) -> Iterator[tuple[int, ...]]:
        everything = range(len(self.playbook.ladder))
        optional = [n for n in everything if self.playbook.ladder[n].optional] if may_leave_out else []
        for out in chain.from_iterable(combinations(optional, count) for count in range(len(optional) + 1)):
            kept = [rung for rung in everything if rung not in out]
            if not out or self._may_go(kept):
                yield from self._orders_of(kept, mode)

    def _may_go(self, kept: Sequence[int]) -> bool:
        """Whether whatever a kept rung wants of the other rungs, and has of them, it still has of one."""
        everything = range(len(self.playbook.ladder))
        return all(
            any(wanted in steps(self.playbook.ladder[other]) for other in kept if other != rung)
            for rung in kept
            for wanted, above_it in self._wants(self.playbook.ladder[rung])
            if wanted not in above_it
            and any(wanted in steps(self.playbook.ladder[other]) for other in everything if other != rung)
        )

    def _orders_of(self, kept: Sequence[int], mode: str) -> Iterator[tuple[int, ...]]:
        for blocks in permutations(self.blocks(kept)):
            if self.is_allowed(blocks, mode):
                yield tuple(rung for block in blocks for rung in block)

    def blocks(self, kept: Sequence[int]) -> list[tuple[int, ...]]:
        """Rungs by trial."""
        made: list[tuple[int, ...]] = []
        for rung in kept:
            trial = self.playbook.ladder[rung].trial
            if trial and made and self.playbook.ladder[made[-1][-1]].trial == trial:
                made[-1] = (*made[-1], rung)
            else:
                made.append((rung,))
        return made

    def is_allowed(self, blocks: Sequence[tuple[int, ...]], mode: str) -> bool:
        return (
            self._has_what_it_wants(blocks)
            and self._is_pinned(blocks)
            and self._is_kept(blocks)
            and (mode == "balanced" or self._is_mildest_first(blocks))
        )

    def _has_what_it_wants(self, blocks: Sequence[tuple[int, ...]]) -> bool:
        inside = [self._steps(block) for block in blocks]
        for place, block in enumerate(blocks):
            for wanted, above_it in self._wants_of(block):
                others = [n for n, held in enumerate(inside) if n != place and wanted in held]
                if others and wanted not in above_it and min(others) > place:
                    return False
        return True

    def _is_pinned(self, blocks: Sequence[tuple[int, ...]]) -> bool:
        pins = [self._pin(block) for block in blocks]
        ranks = [{"first": 0, None: 1, "last": 2}[pin] for pin in pins]
        return ranks == sorted(ranks)

    def _pin(self, block: tuple[int, ...]) -> str | None:
        return next((self.playbook.ladder[rung].pin for rung in block if self.playbook.ladder[rung].pin), None)

    def _is_kept(self, blocks: Sequence[tuple[int, ...]]) -> bool:
        groups: dict[str, list[int]] = {}
        for place, block in enumerate(blocks):
            keep = next((self.playbook.ladder[rung].keep for rung in block if self.playbook.ladder[rung].keep), None)
            if keep:
                groups.setdefault(keep, []).append(place)
        return all(
            places == list(range(places[0], places[0] + len(places)))
            and [blocks[place] for place in places] == sorted(blocks[place] for place in places)
            for places in groups.values()
        )

    def _is_mildest_first(self, blocks: Sequence[tuple[int, ...]]) -> bool:
        grades = [self._grade(block, tuple(sorted(blocks))) for block in blocks]
        graded = [grade for grade in grades if grade is not None]
        return graded == sorted(graded)

    def _grade(self, block: tuple[int, ...], blocks: tuple[tuple[int, ...], ...]) -> int | None:
        if self._pin(block):
            return None
        own = self._own_grade(block, blocks)
        return None if own is None else min([own, *self._grades_below(block, blocks, frozenset())])

    def _grades_below(
        self, block: tuple[int, ...], blocks: tuple[tuple[int, ...], ...], seen: frozenset
    ) -> Iterator[int]:
        """The grades of all that must stand below a block because it alone holds what they want."""
        for other in blocks:
            if other != block and other not in seen and self._leans_on(other, block, blocks):
                own = None if self._pin(other) else self._own_grade(other, blocks)
                if own is not None:
                    yield own
                yield from self._grades_below(other, blocks, seen | {block})

    def _leans_on(self, block: tuple[int, ...], holder: tuple[int, ...], blocks: Sequence[tuple[int, ...]]) -> bool:
        return any(
            wanted not in above_it and [b for b in blocks if b != block and wanted in self._steps(b)] == [holder]
            for wanted, above_it in self._wants_of(block)
        )

    def _own_grade(self, block: tuple[int, ...], blocks: Sequence[tuple[int, ...]]) -> int | None:
        standing = {step for other in blocks for step in self._steps(other)}
        tested = [self._step(self.playbook.ladder[rung].step) for rung in block]
        grades = [self._worst(step, standing) for step in tested if step.kind in ("fix", "workaround")]
        return max(grades, default=None)

    def _worst(self, step: Step, standing: set[str]) -> int:
        types = fact_types(self.playbook)
        return max(risk_grade(on_unit(step, group.facts, types), standing) for group in unit_groups(self.playbook))

    def _steps(self, block: tuple[int, ...]) -> list[str]:
        return [step for rung in block for step in steps(self.playbook.ladder[rung])]

    def _step(self, name: str) -> Step:
        return self.playbook.step(name)

    def _wants_of(self, block: tuple[int, ...]) -> Iterator[tuple[str, list[str]]]:
        """What the rungs of a block want above them, each with what stands above it in the block."""
        above: list[str] = []
        for number in block:
            for wanted, before in self._wants(self.playbook.ladder[number]):
                yield wanted, [*above, *before]
            above += steps(self.playbook.ladder[number])

    def _wants(self, rung: Rung) -> Iterator[tuple[str, list[str]]]:
        above: list[str] = []
        for inner in inner_rungs(rung):
            step = self._step(inner.step)
            hazards = [*step.hazards, *(h for variant in step.varies for h in variant.hazards or ())]
            wanted = [h.eased_by for h in hazards if h.eased_by] + list(step.needs) + FOUND.findall(inner.when or "")
            for name in wanted:
                yield name.lstrip("("), list(above)
            above.append(inner.step)


def inner_rungs(rung: Rung) -> Iterator[Rung]:
    """The rung, and those of its rails, from top to bottom."""
    yield rung
    for rail in rung.on.values():
        for entry in rail:
            if isinstance(entry, Rung):
                yield from inner_rungs(entry)


def steps(rung: Rung) -> list[str]:
    return [inner.step for inner in inner_rungs(rung)]
