"""Every deliberate fault of the log, of the order and of the estimate, each of which its tests must notice."""

import tempfile
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from tests.core.evidence import evidence_faults
from tests.core.ordering import order_faults
from tests.deliberate import Fault, is_caught
from tests.store import log_faults

__all__ = ["in_the_evidence", "in_the_log", "in_the_order"]


def _all_of(faults: Sequence[Fault], tests: tuple[str, ...]) -> Callable[[], tuple[dict[str, Any], bool]]:
    def caught(fault: Fault) -> bool:
        with tempfile.TemporaryDirectory() as folder:
            return is_caught(fault, tests, Path(folder))

    def prove() -> tuple[dict[str, Any], bool]:
        """All of them."""
        with ThreadPoolExecutor(2) as pool:
            seen = list(pool.map(caught, faults))
        missed = [fault.does for fault, is_seen in zip(faults, seen, strict=True) if not is_seen]
        return {"faults": len(faults), "caught": sum(seen), "missed": missed}, not missed

    return prove


in_the_log = _all_of(log_faults.FAULTS, log_faults.TESTS)
in_the_evidence = _all_of(evidence_faults.FAULTS, evidence_faults.TESTS)
in_the_order = _all_of(order_faults.FAULTS, order_faults.TESTS)
