"""Two editions side by side, run many times where it is known which of them is cheaper, if either is."""

from concurrent.futures import ProcessPoolExecutor
from typing import Any

from tests.core.advice.trials import Trials, trials

RUNS, _AT_ONCE = 2000, 100
_MOST_FALSE, _LEAST_RIGHT, _MOST_WRONG = 0.05, 0.90, 0.005
KINDS = {
    "alike, shape 1": (1.0, 1.0),
    "alike, shape 0.5": (0.5, 1.0),
    "a fifth cheaper, shape 1": (1.0, 0.8),
    "a fifth cheaper, shape 0.5": (0.5, 0.8),
}


def _some(shape: float, times: float, start: int) -> Trials:
    return trials(range(start, start + _AT_ONCE), shape, times)


def prove() -> tuple[dict[str, Any], bool]:
    """No difference is found where there is none in all but a twentieth of runs, at any time; a fifth is found."""
    figures: dict[str, Any] = {}
    held = True
    starts = range(0, RUNS, _AT_ONCE)
    with ProcessPoolExecutor(2) as pool:
        for name, (shape, times) in KINDS.items():
            made = list(pool.map(_some, [shape] * len(starts), [times] * len(starts), starts))
            runs, decided, rightly = (
                sum(getattr(one, what) for one in made) for what in ("runs", "decided", "rightly")
            )
            figures[name] = {
                "runs": runs,
                "decided": decided,
                "rightly": rightly,
                "no_difference": sum(one.no_difference for one in made),
                "cases_in_the_median": sorted(one.cases for one in made)[len(made) // 2],
            }
            if times == 1:
                held = held and decided <= _MOST_FALSE * runs
            else:
                held = held and decided - rightly <= _MOST_WRONG * runs
                held = held and (shape < 1 or rightly >= _LEAST_RIGHT * runs)
    return figures, held
