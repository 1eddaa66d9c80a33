"""The one table of the words by which quick words say how bad, how likely and how often."""

from collections.abc import Mapping
from typing import get_args

from mildladder.core.model.base import ChanceWord

__all__ = ["BAD", "CHANCES", "LIKELY", "USUAL_BAD", "USUAL_CHANCE", "USUAL_LIKELY"]

# Severity of a hazard; the first word of each is the one that is printed.
BAD: Mapping[str, int] = {
    "hardly": 1,
    "mild": 2,
    "mildly": 2,
    "a little": 2,
    "bad": 3,
    "badly": 3,
    "very bad": 4,
    "very badly": 4,
    "severe": 5,
    "severely": 5,
    "beyond repair": 5,
}
# Chance of a hazard each time the step is carried out.
LIKELY: Mapping[str, float] = {"rarely": 0.02, "now and then": 0.1, "often": 0.3, "surely": 1.0, "always": 1.0}
USUAL_BAD, USUAL_LIKELY = 2, 0.1
# How often a cause is ended.
CHANCES: Mapping[str, ChanceWord] = {word.replace("-", " "): word for word in get_args(ChanceWord)}
USUAL_CHANCE: ChanceWord = "often"
