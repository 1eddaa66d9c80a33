"""Searched orders and their bound, where the exact order is known."""

import numpy as np
import pytest

from mildladder.core.errors import Stopped
from mildladder.core.ordering.batch import Batch
from mildladder.core.ordering.best import best_order
from mildladder.core.ordering.blocks import Ladder
from mildladder.core.ordering.exact import ExactOrder
from mildladder.core.ordering.latent import pieces_of
from mildladder.core.ordering.search import greedy, improved, lower_bound
from tests.core.ordering.ladders import wide_ladder
from tests.parts import in_part

MOST_MEDIAN_GAP = 0.1


def going_on() -> bool:
    return False


def gap(seed: int) -> float:
    """How far the bound of one ladder is below its best order, both checked against each other and the search."""
    playbook = wide_ladder(14 + seed % 5, is_rich=seed % 2 == 1, seed=seed, bonds=seed % 4)
    pieces = pieces_of(Ladder(playbook, "balanced"))
    batch = Batch(pieces, playbook.policy.rate)
    searched = improved(batch, greedy(batch), going_on)
    exact = ExactOrder(pieces).solve(playbook.policy.rate)
    assert batch.is_feasible(np.array([searched, exact])).all()
    upper, least = batch.costs(np.array([searched, exact]))
    bound = lower_bound(batch, float(upper), going_on)
    assert least <= upper + 1e-9
    assert bound <= least + 1e-9
    return float((least - bound) / least)


@pytest.mark.parametrize("ten", in_part(range(4), 1))
def test_the_bound_is_below_the_best_order_and_not_far_below(ten):
    assert np.median([gap(seed) for seed in range(10 * ten, 10 * ten + 10)]) <= MOST_MEDIAN_GAP


def test_sixty_blocks_are_searched_and_say_so():
    playbook = wide_ladder(60)
    found = best_order(playbook)
    assert not found.exact
    assert 0 < found.gap < 0.5
    assert sorted(found.order) == list(range(60))


def test_a_search_that_nobody_waits_for_stops():
    batch = Batch(pieces_of(Ladder(wide_ladder(30), "balanced")), 5.0)
    with pytest.raises(Stopped):
        improved(batch, greedy(batch), lambda: True)
    with pytest.raises(Stopped):
        best_order(wide_ladder(14), is_stopped=lambda: True)
