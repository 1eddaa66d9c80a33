"""Run the proofs that are named, or all, and keep what each measured in docs/measured with the commit it measured."""

import json
import subprocess
import sys
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from soak import (
    awkward,
    company,
    discoveries,
    drafts,
    ended,
    estimates,
    faults,
    first_ladders,
    forecasts,
    guides,
    importing,
    kills,
    log,
    matching,
    nudges,
    orders,
    serving,
    side_by_side,
    unfinished,
    walk,
    ways,
)

KEPT = Path(__file__).parent.parent / "docs" / "measured"
# A proof gives its figures and whether its bar holds.
PROOFS: dict[str, Callable[[], tuple[dict[str, Any], bool]]] = {
    "orders": orders.prove,
    "forecasts": forecasts.prove,
    "guides": guides.prove,
    "awkward": awkward.prove,
    "company": company.prove,
    "matching": matching.prove,
    "serving": serving.prove,
    "estimates": estimates.prove,
    "nudges": nudges.prove,
    "discoveries": discoveries.prove,
    "first-ladders": first_ladders.prove,
    "side-by-side": side_by_side.prove,
    "log-faults": faults.in_the_log,
    "order-faults": faults.in_the_order,
    "evidence-faults": faults.in_the_evidence,
    "kills": kills.prove,
    "ended": ended.prove,
    "unfinished": unfinished.prove,
    "drafts": drafts.prove,
    "importing": importing.prove,
    "log": log.prove,
    "walk": walk.prove,
    "ways": ways.prove,
}


def main(names: list[str]) -> int:
    """0 when every bar holds."""
    unknown = set(names) - set(PROOFS)
    if unknown:
        print(f"there is no proof {', '.join(sorted(unknown))}; there are {', '.join(PROOFS)}", file=sys.stderr)
        return 2
    held = [_run(name) for name in names or PROOFS]
    return 0 if all(held) else 1


def _machine() -> float:
    """Seconds that this machine takes to count to ten million just now: what it is measured against, for a machine that
    is shared may be four times as slow in one hour as in the next."""
    began = time.perf_counter()
    for _ in range(10_000_000):
        pass
    return round(time.perf_counter() - began, 2)


def _run(name: str) -> bool:
    began = time.perf_counter()
    figures, is_held = PROOFS[name]()
    seconds = round(time.perf_counter() - began)
    record = {
        "proof": name,
        "held": is_held,
        "commit": _commit(),
        "day": datetime.now(UTC).date().isoformat(),
        "seconds": seconds,
        "machine_s": _machine(),
        **figures,
    }
    KEPT.mkdir(parents=True, exist_ok=True)
    (KEPT / f"{name}.json").write_text(json.dumps(record, indent=2) + "\n")
    print(json.dumps(record, indent=2))
    return is_held


def _commit() -> str:
    """The commit that is measured, marked where files differ from it."""
    return subprocess.run(
        ["git", "describe", "--always", "--dirty", "--abbrev=12"], capture_output=True, text=True, check=True
    ).stdout.strip()


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
