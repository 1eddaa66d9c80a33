"""Faults put into the log are noticed by the test of its moves; the rest of them in `make soak`."""

import pytest

from tests.deliberate import is_caught
from tests.store.log_faults import FAULTS, TESTS

IN_THE_SUITE = (0, 6, 14)


@pytest.mark.long
@pytest.mark.parametrize("number", IN_THE_SUITE, ids=lambda number: FAULTS[number].does)
def test_a_fault_in_the_log_is_caught(number, tmp_path):
    assert is_caught(FAULTS[number], TESTS, tmp_path)
