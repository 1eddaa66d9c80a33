"""A desk killed at moments of guided cases, saves, publishing, imports and a stream of edits, sixty of each half."""

import shutil
import tempfile
from pathlib import Path
from typing import Any

from tests.conftest import sample_desk
from tests.store.test_kills import check, killed

KILLS, WORK = 120, ("guide", "edit", "import", "edit")


def prove() -> tuple[dict[str, Any], bool]:
    """Nothing acknowledged is lost, nothing is half done, tallies are right."""
    with tempfile.TemporaryDirectory() as folder:
        template = Path(folder) / "sample.db"
        sample_desk(template).close()
        acknowledged, wrong = 0, []
        for seed in range(KILLS):
            path = Path(folder) / f"desk-{seed}.db"
            shutil.copy(template, path)
            told = killed(WORK[seed % len(WORK)], path, 1_000 + seed)
            acknowledged += len(told)
            try:
                check(path, told)
            except AssertionError as error:
                wrong.append(f"{seed}: {str(error)[:200]}")
    return {"kills": KILLS, "acknowledged": acknowledged, "wrong": wrong}, not wrong
