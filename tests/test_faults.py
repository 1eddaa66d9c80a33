"""Every deliberate fault can still be put in: the code says what the fault would change, once."""

import pytest

from tests.core.evidence import evidence_faults
from tests.core.ordering import order_faults
from tests.deliberate import SOURCES
from tests.store import log_faults

FAULTS = [*log_faults.FAULTS, *order_faults.FAULTS, *evidence_faults.FAULTS]


@pytest.mark.parametrize("fault", FAULTS, ids=lambda fault: fault.does.replace(" ", "-"))
def test_every_fault_can_still_be_put_in(fault):
    text = (SOURCES / "mildladder" / fault.module).read_text()
    assert text.count(fault.sound) == 1
