"""What is counted of a case beside its signature: minutes in bins, harm, safeguards, days to a return."""

import math
from collections.abc import Mapping
from datetime import datetime
from functools import lru_cache
from typing import NamedTuple

from mildladder.core.model import Case
from mildladder.core.tally.signature import renamed, signature_text, steps_in

__all__ = ["CaseCount", "StepCount", "case_count", "minutes_of"]

# (step, what, value): the step of no name is the whole case.
StepCount = tuple[str, str, str]
CASE = ""
_BINS_AN_OCTAVE = 8
_LEAST = 1 / 16


@lru_cache(maxsize=4096)
def bin_of(minutes: float) -> str:
    """The bin that so many minutes fall into: eight to a doubling, so a bin's middle is within 4.5 % of all in it;
    below a sixteenth of a minute there is one bin."""
    return str(max(0, 1 + math.floor(_BINS_AN_OCTAVE * math.log2(minutes / _LEAST)))) if minutes >= _LEAST else "0"


def minutes_of(value: str) -> float:
    """The middle of a bin, in minutes; inverse of `bin_of` to within 4.5 %."""
    place = int(value)
    return _LEAST * 2 ** ((place - 0.5) / _BINS_AN_OCTAVE) if place else 0.0


class CaseCount(NamedTuple):
    """What a case adds to what is counted, whatever becomes of it later.

    signature: its canonical text. seconds: whole ones from opening to closing, waiting left out, for integers add up
    and go away again without a trace. steps: everything that it adds to the counts of steps, each as often as it adds
    it. ended_by: the step of its attempts that ended it.
    """

    signature: str
    seconds: int
    steps: list[StepCount]
    ended_by: str | None

    def renamed(self, aliases: Mapping[str, str]) -> "CaseCount":
        """The same with merged steps under what they count as."""
        if not aliases:
            return self
        steps = [(aliases.get(step, step), what, value) for step, what, value in self.steps]
        ended_by = aliases.get(self.ended_by, self.ended_by) if self.ended_by else None
        return CaseCount(renamed(self.signature, aliases), self.seconds, steps, ended_by)

    def returned(self, closed: datetime, came_back: datetime | None) -> list[StepCount]:
        """What it adds beside when its fault came back. closed: when it was."""
        if came_back is None or self.ended_by is None:
            return []
        return [(self.ended_by, "return", str((came_back - closed).days))]


def case_count(case: Case, text: str | None = None) -> CaseCount:
    """What a case adds. text: its signature, and so the names under which its steps are counted; None: their own."""
    text = text or signature_text(case)
    minutes = case.minutes()
    found = [(CASE, "minutes", bin_of(minutes))]
    ended_by = None
    for attempt, step in zip(case.attempts, steps_in(text), strict=True):
        if attempt.minutes is not None:
            found.append((step, "minutes", bin_of(attempt.minutes)))
        if attempt.harmed is not None:
            found.append((step, "harm", "asked"))
            if attempt.harmed:
                found += [(step, "harm", kind) for kind in set(attempt.harmed)]
        if attempt.safeguard_used is not None:
            found.append((step, "safeguard", attempt.safeguard_used))
            if attempt.put_right is not None:
                found.append((attempt.safeguard_used, "put-right", attempt.put_right))
        if attempt.ways:
            found += [(step, "way", words) for words in set(attempt.ways)]
        if ended_by is None and attempt.step == case.resolved_by:
            ended_by = step
    return CaseCount(text, round(60 * minutes), found, ended_by)
