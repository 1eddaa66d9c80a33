"""The best order where no product describes what a set of pieces leaves: the merged maps themselves are the states.

Slower than the recursion over sets, and exact for every ladder that is small enough (method, section 4).
"""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from mildladder.core.errors import Stopped
from mildladder.core.figures.flow import Flow, States, merged
from mildladder.core.figures.plan import NORMAL, Cost, Known, Node, Plan, Touched, Trial, plan_for
from mildladder.core.ladder.causes import FloatArray, all_causes, priors_on
from mildladder.core.ladder.units import fact_types, unit_groups
from mildladder.core.ordering.blocks import Ladder
from mildladder.core.ordering.exact import TooMany

__all__ = ["Costs", "MapOrder"]

_MOST_EDGES = 60_000
_TIE = 1e-11


class Costs:
    """What mass pays and suffers, over all causes."""

    def __init__(self) -> None:
        self.effort = self.harm = 0.0

    def note(self, name: str, node: Node | None, mass: FloatArray, amount: float = 1.0) -> None:
        pass

    def pay(self, node: Node | None, mass: FloatArray, cost: Cost) -> None:
        if cost.effort:
            self.effort += float(mass.sum()) * cost.effort

    def hurt(self, node: Node | None, mass: FloatArray, points: float) -> None:
        if points:
            self.harm += float(mass.sum()) * points

    def hand_off(self, plan: Plan, states: States) -> None:
        """Leaving the footings and handing off."""
        flow = Flow(plan, self)
        for key, mass in states.items():
            flow.leave(None, key, mass)
            self.pay(None, mass, plan.hand_off)

    def clear(self) -> None:
        """Begin again from nothing."""
        self.effort = self.harm = 0.0

    def joined(self, rate: float) -> float:
        """Effort and harm in one figure."""
        return self.effort + rate * self.harm


@dataclass
class _Place:
    """A set of pieces and how the cases stand below it, by sort of unit. ways: (piece, effort, harm, place below)."""

    pieces: int
    states: list[States]
    ways: list[tuple[int, float, float, int]] = field(default_factory=list)


class MapOrder:
    """Every set of pieces with every map that comes of it, for any exchange rate. Raises TooMany, Stopped."""

    def __init__(self, ladder: Ladder, is_stopped: Callable[[], bool] = lambda: False) -> None:
        playbook = ladder.playbook
        causes = all_causes(playbook)
        types, known = fact_types(playbook), Known()
        self.ladder, self.is_stopped = ladder, is_stopped
        self.units = unit_groups(playbook)
        self.plans = [plan_for(playbook, unit.facts, types, causes, known, is_any_order=True) for unit in self.units]
        start = [
            {(NORMAL, 0, (-1,) * len(plan.checks)): unit.share * priors_on(causes, unit.facts, types)}
            for plan, unit in zip(self.plans, self.units, strict=True)
        ]
        self.layers = self._layers(_Place(0, start))

    def solve(self, rate: float) -> list[int]:
        """The order of pieces that costs least effort + rate·harm; among equals the one that keeps the draft's."""
        best = [0.0]
        parents: list[list[tuple[int, int]]] = []
        for layer, below in zip(self.layers, self.layers[1:], strict=False):
            reached = [np.inf] * len(below)
            parent = [(-1, -1)] * len(below)
            ways = [(way[0], number, *way[1:]) for number, place in enumerate(layer) for way in place.ways]
            for piece, number, effort, harm, target in sorted(ways, key=lambda way: way[:2]):
                cost = best[number] + effort + rate * harm
                if cost <= reached[target] + _TIE:
                    parent[target] = (piece, number)
                    reached[target] = min(cost, reached[target])
            best = reached
            parents.append(parent)
        ends = [cost + self._end(place) for cost, place in zip(best, self.layers[-1], strict=True)]
        number = int(np.argmin(ends))
        order = []
        for parent in reversed(parents):
            piece, number = parent[number]
            order.append(piece)
        return order[::-1]

    def _layers(self, start: _Place) -> list[list[_Place]]:
        layers, edges = [[start]], 0
        for _ in self.ladder.pieces:
            following: list[_Place] = []
            known: dict[object, int] = {}
            for place in layers[-1]:
                for piece in self._free(place.pieces):
                    edges += 1
                    if edges > _MOST_EDGES:
                        raise TooMany
                    if self.is_stopped():
                        raise Stopped
                    effort, harm, after = self._below(place, piece)
                    name = _name(after)
                    if name not in known:
                        known[name] = len(following)
                        following.append(after)
                    place.ways.append((piece, effort, harm, known[name]))
            for place in layers[-1]:
                place.states = []
            layers.append(following)
        return layers

    def _free(self, above: int) -> list[int]:
        waits = self.ladder.waits
        return [p for p in range(len(waits)) if not above >> p & 1 and all(w & above for w in waits[p])]

    def _below(self, place: _Place, piece: int) -> tuple[float, float, _Place]:
        """What a piece costs below a place, and the place that comes of it."""
        costs = Costs()
        pieces = place.pieces | 1 << piece
        left = []
        for plan, states in zip(self.plans, place.states, strict=True):
            flow = Flow(plan, costs)
            for block in self.ladder.pieces[piece]:
                part = plan.main.parts[block]
                assert isinstance(part, Trial)
                states = flow.trial(part, states)
            left.append(self._forgotten(plan, pieces, states))
        return costs.effort, costs.harm, _Place(pieces, left)

    def _forgotten(self, plan: Plan, pieces: int, states: States) -> States:
        """The states without what no piece that is left looks at."""
        ahead: list[Touched] = [
            plan.touched[block]
            for piece, blocks in enumerate(self.ladder.pieces)
            if not pieces >> piece & 1
            for block in blocks
        ]
        bits, checks = 0, frozenset[int]()
        for touched in ahead:
            bits, checks = bits | touched.looks, checks | touched.looks_at
        return merged(states, bits, checks)

    def _end(self, place: _Place) -> float:
        """Leaving the footings and handing off."""
        costs = Costs()
        for plan, states in zip(self.plans, place.states, strict=True):
            costs.hand_off(plan, states)
        return costs.effort


def _name(place: _Place) -> object:
    """Alike for places that differ by no more than rounding."""
    maps = (
        tuple(sorted((key, tuple(np.round(mass, 11).tolist())) for key, mass in states.items()))
        for states in place.states
    )
    return place.pieces, tuple(maps)
