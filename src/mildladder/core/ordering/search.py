"""A good order where the exact one would take too long, and a bound that proves how good it is (method, section 4).

The order: largest resolved share for its cost first, then insertions and swaps until none helps. The bound: orders
grown from the top, the most promising kept at each size, each valued by what it has cost and what the rest would cost
somebody who knew the latent state; no order can cost less than the cheapest of all that were kept or dropped.
"""

from collections.abc import Callable
from itertools import product

import numpy as np

from mildladder.core.errors import Stopped
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ordering.batch import Batch, BoolArray, Rows, insertions, swaps
from mildladder.core.ordering.latent import IntArray, NotSeparable

__all__ = ["greedy", "improved", "lower_bound"]

_WINDOW_FROM = 100
_WINDOW = 6
_WORK = 3_000_000
_MOST_CONTEXTS = 64
_GAIN = 1e-9


def greedy(batch: Batch) -> list[int]:
    """The order that always takes the piece with the largest share resolved for its cost (Kadane & Simon 1977)."""
    rows, order = batch.start(), []
    for _ in range(batch.size):
        free = np.flatnonzero(batch.free(rows.done)[0])
        after = batch.advance(rows.take(np.zeros(len(free), np.int64)), free)
        resolved = rows.mass.sum() - after.mass.sum(axis=1)
        cost = after.paid - rows.paid
        best = int(np.argmax(np.where(cost > 0, resolved / np.where(cost > 0, cost, 1), np.inf)))
        order.append(int(free[best]))
        rows = after.take(np.array([best]))
    return order


def improved(batch: Batch, order: list[int], is_stopped: Callable[[], bool]) -> list[int]:
    """The order after insertions and swaps, until none makes it cheaper."""
    window = batch.size if batch.size <= _WINDOW_FROM else _WINDOW
    cost = float(batch.costs(np.array([order]))[0])
    for piece in list(order):
        order, cost = _best(batch, order, cost, insertions(order, order.index(piece), window))
    while True:
        if is_stopped():
            raise Stopped
        before = cost
        others = [insertions(order, place, window) for place in range(len(order))]
        order, cost = _best(batch, order, cost, np.concatenate([*others, swaps(order, window)]))
        if cost > before - _GAIN:
            return order


def _best(batch: Batch, order: list[int], cost: float, others: IntArray) -> tuple[list[int], float]:
    others = others[batch.is_feasible(others)] if len(others) else others
    if not len(others):
        return order, cost
    costs = batch.costs(others)
    best = int(np.argmin(costs))
    return (others[best].tolist(), float(costs[best])) if costs[best] < cost - _GAIN else (order, cost)


def lower_bound(batch: Batch, upper: float, is_stopped: Callable[[], bool]) -> float:
    """What no order can cost less than; `upper`: the cost of the best one known."""
    ahead = _Ahead.of(batch)
    if ahead is None:
        return 0.0
    width = max(20, _WORK // (batch.size**2 * len(batch.columns)))
    rows = batch.start()
    bound = dropped = min(upper, float((rows.paid + ahead.least(rows))[0]))
    dropped = upper
    for _ in range(batch.size):
        if is_stopped():
            raise Stopped
        sources, chosen = np.nonzero(batch.free(rows.done))
        rows = batch.advance(rows.take(sources), chosen)
        least = rows.paid + ahead.least(rows)
        distinct = _distinct(rows, least)
        rows, least = rows.take(distinct), least[distinct]
        promising = np.flatnonzero(least < upper - _GAIN)
        promising = promising[np.argsort(least[promising], kind="stable")]
        if len(promising) > width:
            dropped = min(dropped, float(least[promising[width]]))
            promising = promising[:width]
        bound = max(bound, min(dropped, float(least[promising].min()) if len(promising) else upper))
        if not len(promising) or bound >= dropped - _GAIN:
            break
        rows = rows.take(promising)
    return min(bound, upper)


def _distinct(rows: Rows, least: FloatArray) -> IntArray:
    """Of rows with the same pieces done and the same footings, the cheapest."""
    keys = np.concatenate([np.packbits(rows.done, axis=1), rows.footing.astype(np.uint8)], axis=1)
    by_cost = np.argsort(least, kind="stable")
    _, first = np.unique(keys[by_cost], axis=0, return_index=True)
    return by_cost[np.sort(first)]


class _Ahead:
    """What the pieces that are left would cost at least somebody who knew the latent state.

    For one latent state the best order is by cost over share ended (Sidney 1975), the rules aside.
    """

    def __init__(self, cost: FloatArray, keep: FloatArray, finish: FloatArray) -> None:
        self.cost, self.keep, self.finish = cost, keep, finish
        ends = 1 - keep
        self.ranks = np.argsort(np.where(ends > 0, cost / np.where(ends > 0, ends, 1), np.inf), axis=0, kind="stable")

    @classmethod
    def of(cls, batch: Batch) -> "_Ahead | None":
        """None where what a piece does hangs on too much to be bounded."""
        cost, keep = [], []
        for piece in range(batch.size):
            try:
                legs = [batch.leg(piece, context) for context in _contexts(batch, piece)]
            except (NotSeparable, OverflowError):
                return None
            cost.append(batch.cost[legs].min(axis=(0, 1)))
            keep.append(batch.keep[legs].min(axis=0))
        return cls(np.array(cost), np.array(keep), np.full(len(batch.columns), batch.pieces.finish.min()))

    def least(self, rows: Rows) -> FloatArray:
        """At least what each row has yet to pay, shape (n,)."""
        ahead = np.broadcast_to(self.finish, rows.mass.shape).copy()
        columns = np.arange(rows.mass.shape[1])
        for rank in self.ranks[::-1]:
            is_left: BoolArray = ~rows.done[:, rank]
            ahead = np.where(is_left, self.cost[rank, columns] + self.keep[rank, columns] * ahead, ahead)
        return np.asarray(np.einsum("nl,nl->n", rows.mass, ahead))


def _contexts(batch: Batch, piece: int) -> list[int]:
    """Every set of related pieces that may stand above a piece. Raises OverflowError for too many."""
    related = batch.related[piece]
    waits = batch.pieces.ladder.waits[piece]
    sure = {other for other in related if (1 << other) in waits}
    loose = [other for other in related if other not in sure]
    if 2 ** len(loose) > _MOST_CONTEXTS:
        raise OverflowError
    base = sum(1 << other for other in sure)
    return [
        base + sum(1 << other for other, is_in in zip(loose, choice, strict=True) if is_in)
        for choice in product((False, True), repeat=len(loose))
    ]
