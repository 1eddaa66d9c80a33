"""Every process of a served desk told to end, as service managers do, at twenty moments of one long import."""

import tempfile
from pathlib import Path
from typing import Any

from mildladder.exchange.case_lines import write_cases
from tests.conftest import sample_desk
from tests.samples import case
from tests.serving.ended import told_to_end_at

MOMENTS, CASES = 20, 20_000


def prove() -> tuple[dict[str, Any], bool]:
    """The import always goes on, and nothing of it counts as a failed try."""
    made = (case(n, ("clear-hold", "fixed"), days_ago=n % 50, unit=f"U-{n}") for n in range(CASES))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "desk.db"
        sample_desk(path).close()
        moments = [CASES * number // (MOMENTS + 1) for number in range(MOMENTS)]
        wrong = told_to_end_at(path, b"".join(write_cases(made)), CASES, moments)
    return {"moments": MOMENTS, "cases": CASES, "wrong": wrong}, not wrong
