"""What is counted of a case beside its signature: minutes in bins, harm, safeguards, days to a return."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache

from mildladder.core.model import Case

__all__ = ["CASE", "DoneCount", "HarmCount", "StepCount", "bin_of", "minutes_of", "seconds_of", "step_counts"]

# (step, what, value): the step of no name is the whole case.
StepCount = tuple[str, str, str]
CASE = ""
_BINS_AN_OCTAVE = 8
_LEAST = 1 / 16


@dataclass(frozen=True)
class HarmCount:
    """How often harm was asked about after a step, and how often each kind was seen."""

    asked: int
    seen: Mapping[str, int]


@dataclass(frozen=True)
class DoneCount:
    """How often a step was carried out, and could not be."""

    carried: int
    could_not: int


@lru_cache(maxsize=4096)
def bin_of(minutes: float) -> str:
    """The bin that so many minutes fall into: eight to a doubling, so a bin's middle is within 4.5 % of all in it;
    below a sixteenth of a minute there is one bin."""
    return str(max(0, 1 + math.floor(_BINS_AN_OCTAVE * math.log2(minutes / _LEAST)))) if minutes >= _LEAST else "0"


def minutes_of(value: str) -> float:
    """The middle of a bin, in minutes; inverse of `bin_of` to within 4.5 %."""
    place = int(value)
    return _LEAST * 2 ** ((place - 0.5) / _BINS_AN_OCTAVE) if place else 0.0


def seconds_of(case: Case) -> int:
    """Whole seconds from opening to closing, waiting left out: integers add up and go away again without a trace."""
    return round(60 * case.minutes())


def step_counts(case: Case, steps: tuple[str, ...], came_back: datetime | None) -> list[StepCount]:
    """Everything that a case adds to the counts of steps, each as often as it adds it.

    steps: of its attempts, in order, as they are counted (merged ones under what they count as). came_back: when its
    fault did.
    """
    found = [(CASE, "minutes", bin_of(case.minutes()))]
    for attempt, step in zip(case.attempts, steps, strict=True):
        if attempt.minutes is not None:
            found.append((step, "minutes", bin_of(attempt.minutes)))
        if attempt.harmed is not None:
            found.append((step, "harm", "asked"))
            found += [(step, "harm", kind) for kind in set(attempt.harmed)]
        if attempt.safeguard_used is not None:
            found.append((step, "safeguard", attempt.safeguard_used))
        found += [(step, "way", words) for words in set(attempt.ways or ())]
    if came_back is not None and case.resolved_by is not None:
        ended_by = next((s for a, s in zip(case.attempts, steps, strict=True) if a.step == case.resolved_by), None)
        if ended_by is not None:
            found.append((ended_by, "return", str((came_back - case.closed).days)))
    return found
