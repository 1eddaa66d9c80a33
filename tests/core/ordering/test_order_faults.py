"""Faults put into the order are noticed by the comparison with every order there is; the rest in `make soak`."""

import pytest

from tests.core.ordering.order_faults import FAULTS, TESTS
from tests.deliberate import is_caught

IN_THE_SUITE = (0, 20)


@pytest.mark.long
@pytest.mark.parametrize("number", IN_THE_SUITE, ids=lambda number: FAULTS[number].does)
def test_a_fault_in_the_order_is_caught(number, tmp_path):
    assert is_caught(FAULTS[number], TESTS[-1:], tmp_path)
