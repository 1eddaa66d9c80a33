"""First ladders from logs of which the truth is known: what they cost above the best that there really is."""

from concurrent.futures import ProcessPoolExecutor
from typing import Any

import numpy as np

from tests.core.advice.without_ladder import proposed, without_ladder

SYMPTOMS, CASES = 20, (150, 600)
_MEDIAN = 0.10


def _dearer(seed: int, cases: int) -> float:
    one = without_ladder(seed, cases)
    return one.dearer([rung.step for rung in proposed(one).ladder])


def prove() -> tuple[dict[str, Any], bool]:
    """At most a tenth dearer in the median of twenty symptoms; the worst is told."""
    figures: dict[str, Any] = {"symptoms": SYMPTOMS}
    held = True
    with ProcessPoolExecutor(2) as pool:
        for cases in CASES:
            dearer = list(pool.map(_dearer, range(SYMPTOMS), [cases] * SYMPTOMS))
            figures[f"of {cases} cases"] = {
                "median_dearer": round(float(np.median(dearer)), 4),
                "worst_dearer": round(max(dearer), 4),
            }
            held = held and float(np.median(dearer)) <= _MEDIAN
    return figures, held
