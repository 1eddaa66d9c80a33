"""How long messages take to be found in what was said, from a hundred characters to a hundred thousand."""

import math
import random
import time
from typing import Any

from mildladder.core.ladder.messages import caught

SIZES = (100, 1_000, 10_000, 100_000)
SIGNS = 5_000
HARD = ("{unit} {code} ERROR", "{a} {b} {c} {d} ERROR", "a {x} a {y} a {z} ERROR")


def prove() -> tuple[dict[str, Any], bool]:
    """Time grows as what was said does: a slope of 1, within the noise of a machine."""
    rng = random.Random(3)
    signs = [f"{rng.choice(('ARM', 'LANE', 'GATE'))} {{n}} {_word(rng)} {_word(rng)}" for _ in range(SIGNS)]
    hard, many = [], []
    for size in SIZES:
        said = "".join(rng.choice("a b ") for _ in range(size - 6)) + " ERROR"
        began = time.perf_counter()
        for message in HARD:
            caught.__wrapped__(message, said)
        hard.append(time.perf_counter() - began)
        said = " ".join(_word(rng) for _ in range(size // 6))
        began = time.perf_counter()
        for message in signs:
            caught.__wrapped__(message, said)
        many.append(time.perf_counter() - began)
    slopes = {"hard": _slope(hard), "many": _slope(many)}
    figures = {
        "characters": list(SIZES),
        "hard_messages_s": [round(seconds, 4) for seconds in hard],
        f"{SIGNS}_messages_s": [round(seconds, 3) for seconds in many],
        "slopes": slopes,
    }
    return figures, max(slopes.values()) <= 1.15


def _word(rng: random.Random) -> str:
    return "".join(rng.choice("BCDFGKLMNPRST") for _ in range(5))


def _slope(costs: list[float]) -> float:
    return round(math.log(costs[-1] / costs[0]) / math.log(SIZES[-1] / SIZES[0]), 2)
