"""The mild-quick curve against the hull of every order there is."""

import pytest

from mildladder.core.ordering.best import Infeasible, best_order
from mildladder.core.ordering.curve import curve
from tests.core.ordering.brute import Brute
from tests.core.ordering.ladders import ladder_of, wide_ladder
from tests.samples import gate


def hull(points: set[tuple[float, float]]) -> list[tuple[float, float]]:
    """Lower left corners, from least effort to least harm."""
    kept: list[tuple[float, float]] = []
    for point in sorted(points):
        if kept and point[1] >= kept[-1][1] - 1e-9:
            continue
        while len(kept) >= 2 and _is_above(kept[-2], kept[-1], point):
            kept.pop()
        kept.append(point)
    return kept


def _is_above(left, middle, right) -> bool:
    """Whether the middle point is no corner: on or above the line from left to right."""
    across = (middle[0] - left[0]) * (right[1] - left[1]) - (middle[1] - left[1]) * (right[0] - left[0])
    return across <= 1e-9


@pytest.mark.parametrize("seed", range(40))
def test_its_corners_are_those_of_all_orders(seed):
    playbook = ladder_of(seed, 5)
    brute = Brute(playbook)
    orders = brute.orders("balanced", False)
    if not orders:
        with pytest.raises(Infeasible):
            curve(playbook)
        return
    made = curve(playbook)
    corners = hull({brute.figures(order) for order in orders})
    assert made.exact
    assert len(made.points) == len(corners)
    for point, corner in zip(made.points, corners, strict=True):
        assert (point.effort, point.harm) == pytest.approx(corner, abs=1e-8)
        assert brute.figures(point.order) == pytest.approx(corner, abs=1e-8)


def test_each_corner_is_the_best_order_at_its_rates():
    playbook = wide_ladder(9)
    for point in curve(playbook).points:
        rate = point.rate_low + 1 if point.rate_high is None else (point.rate_low + point.rate_high) / 2
        found = best_order(playbook, "balanced", rate)
        assert found.objective == pytest.approx(point.effort + rate * point.harm)


def test_the_draft_and_the_mildest_first_order_are_beside_it():
    made = curve(gate())
    assert made.draft.order == (0, 1, 2, 3, 4)
    assert made.mildest is not None
    assert made.mildest.order == best_order(gate(), "mildest").order
