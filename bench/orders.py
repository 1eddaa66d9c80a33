"""How long the best order takes, beside a plain recursion over sets without footings on the same masses."""

import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from mildladder.core.model import Playbook
from mildladder.core.ordering.best import best_order
from mildladder.core.ordering.blocks import Ladder
from mildladder.core.ordering.curve import curve
from mildladder.core.ordering.exact import ExactOrder
from mildladder.core.ordering.latent import pieces_of
from tests.core.ordering.ladders import CAUSES, wide_ladder

__all__ = ["growth", "orders"]


def plain_recursion(blocks: int) -> None:
    """The least cost of every set of that many pieces over eight causes, one footing, by size; the yardstick."""
    rng = np.random.default_rng(0)
    keep, cost = 1 - rng.uniform(0, 0.3, (blocks, CAUSES)), rng.uniform(1, 20, blocks)
    sets = np.arange(1 << blocks)
    left = np.ones((1 << blocks, CAUSES))
    for piece in range(blocks):
        left[(sets >> piece & 1) == 1] *= keep[piece]
    mass = left.sum(axis=1)
    sizes = np.bitwise_count(sets)
    least = np.full(1 << blocks, np.inf)
    least[-1] = 0
    for size in range(blocks - 1, -1, -1):
        here = sets[sizes == size]
        for piece in range(blocks):
            free = here[(here >> piece & 1) == 0]
            least[free] = np.minimum(least[free], mass[free] * cost[piece] + least[free | 1 << piece])


def seconds(work: Callable[[], object], times: int = 3) -> float:
    best = float("inf")
    for _ in range(times):
        start = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - start)
    return best


def exactly(playbook: Playbook) -> list[int]:
    """From the document to the best order."""
    return ExactOrder(pieces_of(Ladder(playbook, "balanced"))).solve(playbook.policy.rate)


def orders() -> dict[str, Any]:
    """Seconds, and how many times the plain recursion of as many pieces."""
    made: dict[str, Any] = {}
    for name, playbook in (
        ("plain, 16 blocks", wide_ladder(16)),
        ("every word, 16 blocks", wide_ladder(16, is_rich=True, has_every_word=True)),
        ("plain, 18 blocks", wide_ladder(18)),
        ("conditions, groups and footings, 18 blocks", wide_ladder(18, is_rich=True)),
    ):
        taken = seconds(lambda p=playbook: exactly(p))
        yardstick = seconds(lambda p=playbook: plain_recursion(len(p.ladder)))
        made[name] = {"s": round(taken, 3), "times_plain": round(taken / yardstick, 2)}
    made["conditions, groups and footings, 18 blocks"]["mb"] = memory(18)
    wide = wide_ladder(60)
    start = time.perf_counter()
    found = best_order(wide)
    made["60 blocks, searched"] = {
        "s": round(time.perf_counter() - start, 2),
        "exact": found.exact,
        "gap": round(found.gap, 3),
    }
    made["curve, 12 blocks"] = {"s": round(seconds(lambda: curve(wide_ladder(12))), 3)}
    return made


def memory(blocks: int) -> float:
    """Megabytes that an order adds to a fresh process at its most."""
    code = f"from bench.orders import added; print(added({blocks}))"
    return float(subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout)


def added(blocks: int) -> float:
    """Megabytes by which the most that this process ever held grows while it orders a rich ladder."""
    playbook = wide_ladder(blocks, is_rich=True)
    before = most_held()
    exactly(playbook)
    return round(most_held() - before, 1)


def most_held() -> float:
    """Megabytes that this process held at its most."""
    status = Path("/proc/self/status").read_text()
    return float(next(line.split()[1] for line in status.splitlines() if line.startswith("VmHWM"))) / 1024


def growth() -> list[dict[str, Any]]:
    """Blocks against seconds, plain and rich, for the table in the docs."""
    rows = []
    for blocks in (8, 10, 12, 14, 16, 18, 20):
        row: dict[str, Any] = {
            "blocks": blocks,
            "plain_s": round(seconds(lambda b=blocks: exactly(wide_ladder(b)), 1), 3),
        }
        if blocks <= 18:
            row["rich_s"] = round(seconds(lambda b=blocks: exactly(wide_ladder(b, is_rich=True)), 1), 3)
            row["rich_mb"] = memory(blocks)
        rows.append(row)
    return rows
