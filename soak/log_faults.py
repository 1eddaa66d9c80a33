"""Every deliberate fault of the log, each of which the moves of the log's test must notice."""

import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from tests.store.log_faults import FAULTS, is_caught


def _caught(number: int) -> bool:
    with tempfile.TemporaryDirectory() as folder:
        return is_caught(number, Path(folder))


def prove() -> tuple[dict[str, Any], bool]:
    """All of them."""
    with ThreadPoolExecutor(2) as pool:
        caught = list(pool.map(_caught, range(len(FAULTS))))
    missed = [fault[0] for fault, is_seen in zip(FAULTS, caught, strict=True) if not is_seen]
    return {"faults": len(FAULTS), "caught": sum(caught), "missed": missed}, not missed
