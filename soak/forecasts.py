"""The forecast against its slow twin on thousands of ladders."""

from concurrent.futures import ProcessPoolExecutor
from typing import Any

from mildladder.core.figures.forecast import forecast
from tests.core.figures.enumerator import enumerate_ladder
from tests.core.figures.test_forecast import TOLERANCE, difference
from tests.core.random_ladders import random_playbook

LADDERS = 4_000


def compared(seed: int) -> float:
    """The largest difference between any two figures of a ladder."""
    playbook = random_playbook(seed)
    return difference(forecast(playbook), enumerate_ladder(playbook))


def prove() -> tuple[dict[str, Any], bool]:
    """Every figure of every ladder, to 1e-9."""
    with ProcessPoolExecutor() as pool:
        worst = max(pool.map(compared, range(LADDERS), chunksize=50))
    return {"ladders": LADDERS, "largest_difference": worst}, worst <= TOLERANCE
