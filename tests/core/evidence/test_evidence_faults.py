"""One fault with each change; all of them in `make soak`."""

import pytest

from tests.core.evidence.evidence_faults import FAULTS
from tests.deliberate import SOURCES, is_caught


@pytest.mark.parametrize("fault", FAULTS, ids=lambda fault: fault.does.replace(" ", "-"))
def test_every_fault_can_still_be_put_in(fault):
    text = (SOURCES / "mildladder" / fault.module).read_text()
    assert text.count(fault.sound) == 1


@pytest.mark.long
def test_a_fault_is_noticed(tmp_path):
    tests = ("tests/core/evidence/test_posterior.py",)
    assert is_caught(FAULTS[0], tests, tmp_path)
