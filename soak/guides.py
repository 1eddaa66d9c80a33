"""The guided case, walked through every answer with its chance, against the forecast."""

from concurrent.futures import ProcessPoolExecutor
from typing import Any

from tests.core.climb.test_guide_is_forecast import compare
from tests.core.random_ladders import random_playbook

LADDERS = 1_500


def differs(seed: int) -> bool:
    """Whether guide and forecast mean two things by a ladder."""
    try:
        compare(random_playbook(seed, rungs=3 + seed % 3))
    except AssertionError:
        return True
    return False


def prove() -> tuple[dict[str, Any], bool]:
    """Effort, harm, reach and ends of every ladder, to 1e-9."""
    with ProcessPoolExecutor() as pool:
        wrong = sum(pool.map(differs, range(LADDERS), chunksize=25))
    return {"ladders": LADDERS, "that_differ": wrong}, wrong == 0
