"""A fault put into the evidence is noticed; the rest in `make soak`."""

import pytest

from tests.core.evidence.evidence_faults import FAULTS
from tests.deliberate import is_caught


@pytest.mark.long
def test_a_fault_is_noticed(tmp_path):
    tests = ("tests/core/evidence/test_posterior.py",)
    assert is_caught(FAULTS[0], tests, tmp_path)
