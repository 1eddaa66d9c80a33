"""The best order of a ladder's pieces, exactly: dynamic programming over sets (method, section 4).

After a set of pieces, what is left of each latent state is the same whatever their order was; only the footings that
the cases are in are not, so they are part of the state. Sets are taken by size, each size at once in NumPy.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

from mildladder.core.errors import Stopped
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ordering.latent import IntArray, Leg, Pieces

__all__ = ["ExactOrder", "TooMany"]

MOST_STATES = 2**22
_MOST_FOOTINGS = 512
_MOST_CANDIDATES = 2**23
_MOST_UNSORTED = 1_500_000
_MOST_KEPT = 2**18
_MOST_WEIGHTS = 2**14
_DENSE = 22
_TIE = 1e-11
Sets = npt.NDArray[np.signedinteger[Any]]


class TooMany(Exception):
    """More states than are worked out exactly."""


@dataclass(frozen=True)
class _Way:
    """How legs treat footings: what each footing costs more than the normal state, and the vectors that it leads to.

    effort, harm: shape (footings, L). lands: by footing vector, the one that follows.
    """

    effort: FloatArray
    harm: FloatArray
    lands: IntArray

    def extra(self, rate: float) -> FloatArray:
        """Effort and harm in one figure, shape (footings, L)."""
        return self.effort + rate * self.harm


@dataclass(frozen=True)
class _Step:
    """One piece put below some sets of a size: their places there, and those of the larger sets."""

    leg: tuple[int, int]
    source: IntArray
    target: IntArray


@dataclass
class _Layer:
    """The sets of one size, the steps from them, what they leave of each latent state, shape (L, sets), where these
    are few enough to keep, and their least costs, shape (vectors, sets)."""

    sets: Sets
    steps: list[_Step] = field(default_factory=list)
    weight: FloatArray | None = None
    least: FloatArray = field(default_factory=lambda: np.zeros((0, 0)))


class ExactOrder:
    """The sets and footings of a ladder, for any exchange rate. Raises NotSeparable, TooMany, Stopped."""

    def __init__(self, pieces: Pieces, is_stopped: Callable[[], bool] = lambda: False) -> None:
        self.pieces, self.is_stopped = pieces, is_stopped
        self.waits = pieces.ladder.waits
        self.size = len(pieces.ladder.pieces)
        if self.size > 62:
            raise TooMany
        self.layers = list(self._layers())
        self.legs = self._legs()
        self.kinds, self.vectors = self._footings()
        self.where = (self.vectors[:, self.kinds], np.arange(len(self.kinds)))
        self.ways: list[_Way] = []
        self.way_of = self._ways()

    def solve(self, rate: float) -> list[int]:
        """The order of pieces that costs least effort + rate·harm; among equals the one that keeps the draft's."""
        weight = self.pieces.prior[:, None]
        self.layers[0].least = np.full((len(self.vectors), 1), np.inf)
        self.layers[0].least[0, 0] = 0.0
        states = 0
        for size in range(self.size):
            if self.is_stopped():
                raise Stopped
            self._larger(size, rate, weight)
            weight = self._left(size, weight)
            states += int(np.isfinite(self.layers[size + 1].least).sum())
            if states > MOST_STATES:
                raise TooMany
        ends = self.layers[-1].least[:, 0] + self.pieces.finish[self.vectors[:, self.kinds]] @ weight[:, 0]
        return self._order(ends, rate)

    # Sets of pieces

    def _free(self, sets: Sets, piece: int) -> npt.NDArray[np.bool_]:
        """Whether a piece may be put below each set."""
        free = np.asarray((sets & (1 << piece)) == 0)
        for above in self.waits[piece]:
            free &= (sets & above) != 0
        return free

    def _layers(self) -> Iterator[_Layer]:
        """The sets that keep the rules, by size, and the steps between them while these are few enough to keep."""
        sets: Sets = np.zeros(1, dtype=np.int32 if self.size <= 30 else np.int64)
        count = 1
        for size in range(self.size):
            most = _MOST_CANDIDATES if self.size <= _DENSE else _MOST_UNSORTED
            if len(sets) * (self.size - size) > most or count > MOST_STATES:
                raise TooMany
            if self.is_stopped():
                raise Stopped
            sources = [np.flatnonzero(self._free(sets, piece)) for piece in range(self.size)]
            larger = [sets[source] | (1 << piece) for piece, source in enumerate(sources)]
            following = self._distinct(larger).astype(sets.dtype)
            layer = _Layer(sets)
            if 1 << self.size <= _MOST_KEPT:
                layer.steps = list(self._steps_from(sets, following, sources))
            yield layer
            sets = following
            count += len(sets)
        yield _Layer(sets)

    def _distinct(self, sets: list[Sets]) -> Sets:
        if self.size > _DENSE:
            return np.unique(np.concatenate(sets))
        marks = np.zeros(1 << self.size, dtype=bool)
        for some in sets:
            marks[some] = True
        return np.flatnonzero(marks)

    def _steps(self, size: int) -> Iterator[_Step]:
        """Every way to put one piece below the sets of a size, piece by piece."""
        layer = self.layers[size]
        if layer.steps:
            yield from layer.steps
            return
        sources = [np.flatnonzero(self._free(layer.sets, piece)) for piece in range(self.size)]
        yield from self._steps_from(layer.sets, self.layers[size + 1].sets, sources)

    def _steps_from(self, sets: Sets, following: Sets, sources: list[IntArray]) -> Iterator[_Step]:
        if self.size > _DENSE:
            table = None
        else:
            table = np.zeros(1 << self.size, dtype=np.int64)
            table[following] = np.arange(len(following))
        for piece, free in enumerate(sources):
            for context, source in self._by_context(piece, sets, free):
                larger = sets[source] | (1 << piece)
                target = np.searchsorted(following, larger) if table is None else table[larger]
                yield _Step((piece, context), source, target)

    def _by_context(self, piece: int, sets: Sets, sources: IntArray) -> Iterator[tuple[int, IntArray]]:
        """The places by what of it changes the piece."""
        related = self.pieces.related[piece]
        if not related:
            if len(sources):
                yield 0, sources
            return
        contexts = sets[sources] & related
        for context in np.unique(contexts):
            yield int(context), sources[contexts == context]

    def _legs(self) -> dict[tuple[int, int], Leg]:
        keys: set[tuple[int, int]] = set()
        for layer in self.layers[:-1]:
            if layer.steps:
                keys |= {step.leg for step in layer.steps}
                continue
            for piece, related in enumerate(self.pieces.related):
                contexts = np.unique(layer.sets[self._free(layer.sets, piece)] & related)
                keys |= {(piece, int(context)) for context in contexts}
        return {key: self.pieces.leg(*key) for key in sorted(keys)}

    # Footings

    def _footings(self) -> tuple[IntArray, IntArray]:
        """The kind of each latent state, alike in where it lands, and every footing by kind that can come about."""
        if not self.legs:
            return np.zeros(len(self.pieces.prior), dtype=np.int64), np.zeros((1, 1), dtype=np.int64)
        moves = {leg.lands.tobytes(): leg.lands for leg in self.legs.values()}
        _, first, kinds = np.unique(
            np.concatenate(list(moves.values())), axis=1, return_index=True, return_inverse=True
        )
        columns = np.arange(len(first))
        known = {(0,) * len(first): 0}
        waiting = list(known)
        while waiting:
            vector = waiting.pop()
            for move in moves.values():
                after = tuple(move[:, first][list(vector), columns].tolist())
                if after not in known:
                    known[after] = len(known)
                    waiting.append(after)
            if len(known) > _MOST_FOOTINGS:
                raise TooMany
        return kinds.reshape(-1), np.array(list(known), dtype=np.int64)

    def _ways(self) -> dict[tuple[int, int], int]:
        """The way of each leg; legs that treat footings alike share one, so that it is worked out once a set."""
        places = {tuple(vector): number for number, vector in enumerate(self.vectors.tolist())}
        first = [int(np.flatnonzero(self.kinds == kind)[0]) for kind in range(self.vectors.shape[1])]
        known: dict[tuple[bytes, ...], int] = {}
        ways = {}
        for key, leg in self.legs.items():
            effort, harm = leg.effort - leg.effort[0], leg.harm - leg.harm[0]
            after = leg.lands[:, first][self.vectors, np.arange(len(first))]
            lands = np.array([places[tuple(vector)] for vector in after.tolist()])
            name = (np.round(effort, 10).tobytes(), np.round(harm, 10).tobytes(), lands.tobytes())
            if name not in known:
                known[name] = len(self.ways)
                self.ways.append(_Way(effort, harm, lands))
            ways[key] = known[name]
        return ways

    # The recursion

    def _larger(self, size: int, rate: float, weight: FloatArray) -> None:
        """Least costs, from the sets of one size to those of the next."""
        least = self.layers[size].least
        larger = np.full((len(self.vectors), len(self.layers[size + 1].sets)), np.inf)
        come: dict[int, list[tuple[int, FloatArray]]] = {}
        extras = self._extras(rate, weight)
        base = {key: leg.effort[0] + rate * leg.harm[0] for key, leg in self.legs.items()}
        whole = [key for key in base if not self.pieces.related[key[0]]]
        costs = dict(zip(whole, np.array([base[key] for key in whole]) @ weight, strict=True)) if whole else {}
        for step in self._steps(size):
            way = self.way_of[step.leg]
            if way not in come:
                come[way] = self._come_to(way, least, extras)
            cost = costs[step.leg][step.source] if step.leg in costs else base[step.leg] @ weight[:, step.source]
            for landing, before in come[way]:
                row = larger[landing]
                row[step.target] = np.minimum(row[step.target], before[step.source] + cost)
        self.layers[size + 1].least = larger

    def _left(self, size: int, weight: FloatArray) -> FloatArray:
        """What the sets of the next size leave; each is worked out from one that is smaller."""
        layer = self.layers[size + 1]
        if layer.weight is not None:
            return layer.weight
        left = np.empty((len(weight), len(layer.sets)))
        is_known = np.zeros(len(layer.sets), dtype=bool)
        for step in self._steps(size):
            fresh = ~is_known[step.target]
            target = step.target[fresh]
            left[:, target] = weight[:, step.source[fresh]] * self.legs[step.leg].keep[:, None]
            is_known[target] = True
            if is_known.all():
                break
        if 1 << self.size <= _MOST_WEIGHTS:
            layer.weight = left
        return left

    def _come_to(
        self, way: int, least: FloatArray, extras: dict[tuple[int, int, int], FloatArray]
    ) -> list[tuple[int, FloatArray]]:
        """Least costs of every set once its footings are changed over, by the footings that follow."""
        live = np.flatnonzero(np.isfinite(least).any(axis=1))
        come: dict[int, FloatArray] = {}
        for vector in live:
            total = least[vector]
            for kind, footing in enumerate(self.vectors[vector]):
                if (way, kind, footing) in extras:
                    total = total + extras[way, kind, footing]
            landing = int(self.ways[way].lands[vector])
            come[landing] = np.minimum(come[landing], total) if landing in come else total
        return list(come.items())

    def _extras(self, rate: float, weight: FloatArray) -> dict[tuple[int, int, int], FloatArray]:
        """What the cases of each kind pay more in each footing, by way and set; nothing where they pay no more."""
        made: dict[tuple[int, int, int], FloatArray] = {}
        for kind in range(self.vectors.shape[1]):
            states = np.flatnonzero(self.kinds == kind)
            extra = np.array([way.extra(rate)[:, states] for way in self.ways])
            rows = np.argwhere(extra.any(axis=2))
            paid = extra[rows[:, 0], rows[:, 1]] @ weight[states]
            made |= {(int(way), kind, int(footing)): paid[row] for row, (way, footing) in enumerate(rows)}
        return made

    # The way back

    def _order(self, ends: FloatArray, rate: float) -> list[int]:
        """Back from the full set, each time by the piece lowest in the draft of those that cost as little."""
        ties = np.flatnonzero(ends <= ends.min() + _TIE)
        current, order = (1 << self.size) - 1, []
        for size in range(self.size - 1, -1, -1):
            piece, ties = self._last(size, current, ties, rate)
            order.append(piece)
            current &= ~(1 << piece)
        return order[::-1]

    def _last(self, size: int, current: int, vectors: IntArray, rate: float) -> tuple[int, IntArray]:
        """The last piece of a set, and the footing vectors from which it led into one of these."""
        place = int(np.searchsorted(self.layers[size + 1].sets, current))
        goals = np.full(len(self.vectors), np.nan)
        goals[vectors] = self.layers[size + 1].least[vectors, place]
        found: list[tuple[float, int, IntArray]] = []
        for piece in range(self.size - 1, -1, -1):
            before = current & ~(1 << piece)
            if before == current or not self._is_in(size, before) or not all(w & before for w in self.waits[piece]):
                continue
            costs = self._costs(size, before, piece, rate)
            goal = goals[self.ways[self.way_of[piece, before & self.pieces.related[piece]]].lands]
            misses = np.abs(np.where(np.isfinite(costs), costs, np.nan) - goal)
            misses[np.isnan(misses)] = np.inf
            if misses.min() <= 10 * _TIE:
                return piece, np.flatnonzero(misses <= 10 * _TIE)
            found.append((float(misses.min()), piece, np.array([misses.argmin()])))
        _, piece, origins = min(found, key=lambda one: one[0])
        return piece, origins

    def _is_in(self, size: int, pieces: int) -> bool:
        sets = self.layers[size].sets
        place = int(np.searchsorted(sets, pieces))
        return place < len(sets) and int(sets[place]) == pieces

    def _costs(self, size: int, before: int, piece: int, rate: float) -> FloatArray:
        """By footing vector, the least cost of a set with one more piece below it."""
        place = int(np.searchsorted(self.layers[size].sets, before))
        leg = self.legs[piece, before & self.pieces.related[piece]]
        cost = leg.effort + rate * leg.harm
        return np.asarray(self.layers[size].least[:, place] + cost[self.where] @ self.pieces.weight(before))
