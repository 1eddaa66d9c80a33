"""The best order against every order there is, on random ladders with every feature."""

from itertools import permutations

import pytest

from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.moves import reordered
from mildladder.core.ordering.best import Infeasible, best_order, objective
from mildladder.core.ordering.blocks import Ladder
from tests.core.ordering.brute import Brute
from tests.core.ordering.ladders import RATES, ladder_of
from tests.parts import in_part

TOLERANCE = 1e-9
# Ladders of seven blocks that have an order, and not more than some two thousand.
SEVEN = [5009, 5011, 5014, 5016, 5019, 5020, 5023, 5024, 5025, 5032, 5033, 5041, 5043, 5046, 5050, 5051, 5058]
MODES = ("mildest", "balanced")


def assert_best(seed: int, blocks: int) -> int:
    """Compare at every mode and rate; how many of them have an order at all."""
    playbook = ladder_of(seed, blocks)
    brute = Brute(playbook)
    return sum(is_best(playbook, brute, mode, rate) for mode in MODES for rate in RATES)


def is_best(playbook, brute: Brute, mode: str, rate: float) -> bool:
    least = brute.best(mode, rate)
    if least is None:
        with pytest.raises(Infeasible):
            best_order(playbook, mode, rate)
        return False
    found = best_order(playbook, mode, rate)
    assert found.exact
    assert found.objective == pytest.approx(least, abs=TOLERANCE)
    assert found.order in brute.orders(mode)
    made = forecast(reordered(playbook, found.order))
    assert objective(made, rate) == pytest.approx(found.objective, abs=TOLERANCE)
    return True


@pytest.mark.parametrize("ten", in_part(range(34), 6))
def test_it_equals_brute_force_on_ladders_of_five_blocks(ten):
    assert any(assert_best(seed, 5) for seed in range(10 * ten, 10 * ten + 10))


@pytest.mark.parametrize("seed", in_part(SEVEN, 2))
def test_it_equals_brute_force_on_ladders_of_seven_blocks(seed):
    assert assert_best(seed, 7)


def test_most_of_those_ladders_have_an_order():
    has_order = [bool(Brute(ladder_of(seed, 5)).orders("balanced")) for seed in range(340)]
    assert sum(has_order) >= 170


@pytest.mark.parametrize("seed", range(60))
def test_the_rules_of_a_conflict_leave_no_order_by_themselves(seed):
    ladder = Ladder(ladder_of(seed, 5), "mildest")
    circle = ladder.conflict()
    if not circle:
        assert not ladder.broken(ladder.blocks_in(ladder.some_order()))
        return
    for order in permutations(range(len(ladder.blocks))):
        assert set(circle) & set(ladder.broken(order))
