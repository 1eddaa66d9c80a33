"""The log at ten thousand, a hundred thousand and a million cases, and how its costs grow with them."""

import json
import math
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

SIZES = (10_000, 100_000, 1_000_000)
_ONE = (
    "import json, sys; from pathlib import Path; from bench.log import log;"
    " print(json.dumps(log(Path(sys.argv[1]), int(sys.argv[2]))))"
)


def prove() -> tuple[dict[str, Any], bool]:
    """Each size in a process of its own; slopes are exponents: 1 is growing as the cases do."""
    found = [_measured(size) for size in SIZES]
    rebuilds = [one["rebuild"]["seconds"] for one in found]
    slopes = {
        "rebuild": _slope(rebuilds),
        "first_rows_unfiltered": _slope([one["first_rows_p95_ms"]["none"] for one in found]),
        "import": _slope([one["cases"] / one["import"]["attempts_a_second"] for one in found]),
        "evidence": _slope([one["evidence_after_a_case_ms"] for one in found]),
    }
    last = found[-1]
    is_held = (
        max(last["first_rows_p95_ms"].values()) <= 200
        and last["evidence_after_a_case_ms"] <= 300
        and last["desk_ms"] <= 1000
        and max(last["answer_p95_ms"].values()) <= 60
        and last["rebuild"]["seconds"] <= 120
        and last["import"]["attempts_a_second"] >= 20_000
        and last["import"]["longest_hold_ms"] <= 200
        and last["made_s"] <= 900
    )
    return {"sizes": found, "slopes": slopes}, is_held


def _measured(size: int) -> dict[str, Any]:
    with tempfile.TemporaryDirectory() as folder:
        done = subprocess.run(
            [sys.executable, "-c", _ONE, folder, str(size)],
            capture_output=True,
            text=True,
            check=True,
            cwd=Path(__file__).parent.parent,
        )
    made: dict[str, Any] = json.loads(done.stdout)
    return made


def _slope(costs: list[float]) -> float:
    return round(math.log(costs[-1] / costs[0]) / math.log(SIZES[-1] / SIZES[0]), 2)
