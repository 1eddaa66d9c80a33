"""Many orders of a ladder's pieces at once: what each costs, or what one more piece adds to each."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ordering.exact import TooMany
from mildladder.core.ordering.latent import IntArray, Pieces

__all__ = ["Batch", "Rows"]

_MOST_RELATED = 60
BoolArray = npt.NDArray[np.bool_]


@dataclass
class Rows:
    """How the cases stand below some pieces, a row each: pieces done (n, B), mass and footing by latent state (n, L),
    and what was paid (n,)."""

    done: BoolArray
    mass: FloatArray
    footing: IntArray
    paid: FloatArray

    def take(self, rows: IntArray) -> "Rows":
        """Some of the rows, or some of them several times."""
        return Rows(self.done[rows], self.mass[rows], self.footing[rows], self.paid[rows])


class Batch:
    """The pieces of a ladder at one exchange rate."""

    def __init__(self, pieces: Pieces, rate: float) -> None:
        self.pieces, self.rate = pieces, rate
        self.size = len(pieces.ladder.pieces)
        self.related = [[n for n in range(self.size) if bits >> n & 1] for bits in pieces.related]
        if any(len(related) > _MOST_RELATED for related in self.related):
            raise TooMany
        self.ids: dict[tuple[int, int], int] = {}
        self.cost: FloatArray = np.zeros((0, 0, 0))
        self.keep: FloatArray = np.zeros((0, 0))
        self.lands: IntArray = np.zeros((0, 0, 0), dtype=np.int64)
        self.columns = np.arange(len(pieces.prior))
        self.fixed = np.array([-1 if related else self.leg(piece, 0) for piece, related in enumerate(self.related)])
        self.is_related = bool(np.any(self.fixed < 0))

    def start(self) -> Rows:
        """One row: nothing done yet."""
        prior = self.pieces.prior[None, :]
        return Rows(np.zeros((1, self.size), bool), prior.copy(), np.zeros(prior.shape, np.int64), np.zeros(1))

    def advance(self, rows: Rows, chosen: IntArray) -> Rows:
        """Every row with one more piece put below it."""
        legs = self._legs(rows.done, chosen)
        done = rows.done.copy()
        done[np.arange(len(chosen)), chosen] = True
        return self._through(rows, legs, done)

    def _through(self, rows: Rows, legs: IntArray, done: BoolArray) -> Rows:
        footings = self.cost.shape[1]
        where = (legs * footings)[:, None] + rows.footing
        where = where * len(self.columns) + self.columns
        paid = np.einsum("nl,nl->n", rows.mass, self.cost.reshape(-1).take(where))
        return Rows(done, rows.mass * self.keep[legs], self.lands.reshape(-1).take(where), rows.paid + paid)

    def ended(self, rows: Rows) -> FloatArray:
        """What each row has paid once what is left has been handed off, shape (n,)."""
        return np.asarray(rows.paid + np.einsum("nl,nl->n", rows.mass, self.pieces.finish[rows.footing]))

    def costs(self, orders: IntArray) -> FloatArray:
        """What each order costs; orders: (n, B)."""
        rows = self.start().take(np.zeros(len(orders), np.int64))
        for place in range(self.size):
            chosen = orders[:, place]
            rows = self.advance(rows, chosen) if self.is_related else self._through(rows, self.fixed[chosen], rows.done)
        return self.ended(rows)

    def is_feasible(self, orders: IntArray) -> BoolArray:
        """Which orders keep every rule."""
        places = np.empty_like(orders)
        np.put_along_axis(places, orders, np.arange(self.size)[None, :].repeat(len(orders), 0), axis=1)
        fine = np.ones(len(orders), bool)
        for piece, waits in enumerate(self.pieces.ladder.waits):
            for above in waits:
                holders = [n for n in range(self.size) if above >> n & 1]
                fine &= places[:, holders].min(axis=1) < places[:, piece]
        return fine

    def free(self, done: BoolArray) -> BoolArray:
        """Which pieces may come next below each row, shape (n, B)."""
        free = ~done
        for piece, waits in enumerate(self.pieces.ladder.waits):
            for above in waits:
                free[:, piece] &= done[:, [n for n in range(self.size) if above >> n & 1]].any(axis=1)
        return free

    def leg(self, piece: int, context: int) -> int:
        """The number of a leg in `cost`, `keep` and `lands`."""
        number = self.ids.get((piece, context))
        if number is None:
            number = self.ids[piece, context] = len(self.ids)
            leg = self.pieces.leg(piece, context)
            cost, keep, lands = leg.effort + self.rate * leg.harm, leg.keep, leg.lands
            self.cost = np.concatenate([self.cost, cost[None]]) if len(self.cost) else cost[None]
            self.keep = np.concatenate([self.keep, keep[None]]) if len(self.keep) else keep[None]
            self.lands = np.concatenate([self.lands, lands[None]]) if len(self.lands) else lands[None]
        return number

    def _legs(self, done: BoolArray, chosen: IntArray) -> IntArray:
        legs = self.fixed[chosen]
        for piece in np.unique(chosen[legs < 0]) if self.is_related else ():
            rows = np.flatnonzero(chosen == piece)
            related = self.related[piece]
            codes = done[np.ix_(rows, related)] @ (1 << np.arange(len(related), dtype=np.int64))
            for code in np.unique(codes):
                context = sum(1 << other for place, other in enumerate(related) if int(code) >> place & 1)
                legs[rows[codes == code]] = self.leg(int(piece), context)
        return legs


def insertions(order: Sequence[int], place: int, window: int) -> IntArray:
    """Every order in which the piece at a place stands somewhere else, at most `window` places off."""
    rest = [*order[:place], *order[place + 1 :]]
    low, high = max(0, place - window), min(len(rest), place + window)
    made = [[*rest[:to], order[place], *rest[to:]] for to in range(low, high + 1) if to != place]
    return np.array(made, dtype=np.int64).reshape(-1, len(order))


def swaps(order: Sequence[int], window: int) -> IntArray:
    """Every order with two pieces, not neighbours and at most `window` places apart, changed over."""
    made = []
    for first in range(len(order)):
        for second in range(first + 2, min(len(order), first + window + 1)):
            other = list(order)
            other[first], other[second] = other[second], other[first]
            made.append(other)
    return np.array(made, dtype=np.int64).reshape(-1, len(order))
