"""Faults put into the log are noticed by the test of its moves; the rest of them in `make soak`."""

import pytest

from tests.store.log_faults import FAULTS, is_caught

IN_THE_SUITE = (0, 6, 14)


@pytest.mark.parametrize("number", IN_THE_SUITE, ids=lambda number: FAULTS[number][0])
def test_a_fault_in_the_log_is_caught(number, tmp_path):
    assert is_caught(number, tmp_path)
