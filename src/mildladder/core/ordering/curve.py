"""The mild-quick curve: every order that is best at some exchange rate, quickest to mildest (method, section 4)."""

from collections.abc import Callable, Sequence
from itertools import pairwise

from mildladder.core.model import Playbook, Shape
from mildladder.core.ordering.best import Solver
from mildladder.core.ordering.blocks import Ladder

__all__ = ["Corner", "curve"]

_LEAST_RATE, _MOST_RATE = 1e-7, 1e7
_TIE = 1e-9


class Corner(Shape):
    """One order with its figures a case; rate_low to rate_high: the exchange rates at which no order is better.

    rate_high: None where no rate is too high.
    """

    order: tuple[int, ...]
    effort: float
    harm: float
    rate_low: float
    rate_high: float | None


class Point(Shape):
    """An order that need not be on the curve."""

    order: tuple[int, ...]
    effort: float
    harm: float


class Curve(Shape):
    """The corners from quickest to mildest, where the draft stands, and the best order with the mildest first.

    no_mildest: why there is no such order. exact: every corner is the best order at its rates; otherwise the best that
    was found.
    """

    points: tuple[Corner, ...]
    draft: Point
    mildest: Point | None
    no_mildest: str | None
    exact: bool


def curve(playbook: Playbook, is_stopped: Callable[[], bool] = lambda: False) -> Curve:
    """The curve over all orders that keep the rules, mildest first aside; every rung is kept.

    Found by splitting the exchange rate between the two ends until no new order appears. Raises Infeasible, Stopped.
    """
    solver = Solver(Ladder(playbook, "balanced"), is_stopped)
    search = _Search(solver)
    quickest, mildest = search.best_at(_LEAST_RATE), search.best_at(_MOST_RATE)
    corners = _hull([*search.between(quickest, mildest), quickest, mildest])
    mildly = Ladder(playbook, "mildest")
    no_mildest = mildly.why_no_order()
    return Curve(
        points=tuple(_corners(corners)),
        draft=search.point(range(len(playbook.ladder))),
        mildest=None if no_mildest else _mildest(mildly, search, is_stopped),
        no_mildest=no_mildest,
        exact=search.is_exact,
    )


def _mildest(ladder: Ladder, search: "_Search", is_stopped: Callable[[], bool]) -> Point:
    order, _ = Solver(ladder, is_stopped).solve(ladder.playbook.policy.rate)
    return search.point(order)


class _Search:
    def __init__(self, solver: Solver) -> None:
        self.solver = solver
        self.is_exact = True

    def point(self, order: Sequence[int]) -> Point:
        """An order of rungs with its figures."""
        figures = self.solver.figures(order)
        return Point(order=tuple(order), effort=figures.effort, harm=figures.harm)

    def best_at(self, rate: float) -> Point:
        """The best order at an exchange rate."""
        order, bound = self.solver.solve(rate)
        self.is_exact = self.is_exact and bound is None
        return self.point(order)

    def between(self, quick: Point, mild: Point) -> list[Point]:
        """Every corner between two, found at the rate at which these two are equally good."""
        if quick.harm - mild.harm <= _TIE or mild.effort - quick.effort <= _TIE:
            return []
        rate = (mild.effort - quick.effort) / (quick.harm - mild.harm)
        found = self.best_at(rate)
        gain = quick.effort + rate * quick.harm - found.effort - rate * found.harm
        if gain <= _TIE * max(1.0, rate):
            return []
        return [*self.between(quick, found), found, *self.between(found, mild)]


def _hull(points: list[Point]) -> list[Point]:
    """The points from quickest to mildest, equal ones once."""
    kept: list[Point] = []
    for point in sorted(points, key=lambda p: (p.effort, p.harm)):
        if not kept or point.harm < kept[-1].harm - _TIE:
            kept.append(point)
    return kept


def _corners(points: list[Point]) -> list[Corner]:
    rates = [(mild.effort - quick.effort) / (quick.harm - mild.harm) for quick, mild in pairwise(points)]
    return [
        Corner(**dict(point), rate_low=low, rate_high=high)
        for point, low, high in zip(points, [0.0, *rates], [*rates, None], strict=True)
    ]
