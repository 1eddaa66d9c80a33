"""Under what a case is counted: its stratum, its signature, and what it adds to the counts of steps."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from functools import lru_cache
from typing import NamedTuple

from mildladder.core.model import Case
from mildladder.core.tally.counts import CaseCount, StepCount

__all__ = ["COUNTED_TYPES", "GUIDED", "Counted", "Counting", "Link", "Stratum", "counted", "counted_under"]

COUNTED_TYPES = ("choice", "yes-no", "version")
# Origins of cases that were guided here, or are made as if they had been.
GUIDED = ("guided", "demo")


class Stratum(NamedTuple):
    """What cases share beside their signature, by column."""

    symptom: str
    edition: int
    period: str
    site: str
    is_guided: bool
    facts: str
    is_double: bool


class Link(NamedTuple):
    """How a case stands to others of its unit: when its fault came back, and whether it was logged before."""

    came_back: datetime | None
    is_double: bool


@dataclass(frozen=True)
class Counting:
    """What the key of a case depends on beside the case: closing days before `folded_until` are counted as months;
    facts of certain types are in it; merged steps count as what they were merged into."""

    folded_until: date
    facts: frozenset[str]
    aliases: Mapping[str, str]

    def period(self, closed: datetime) -> str:
        """The closing day in UTC, or its month once that was folded."""
        day = closed.astimezone(UTC).date()
        return day.isoformat() if day >= self.folded_until else day.isoformat()[:7]


class Counted(NamedTuple):
    """What a case adds to the tallies. `signature`: its canonical text."""

    stratum: Stratum
    signature: str
    is_returned: bool
    seconds: int
    steps: Sequence[StepCount]


def counted(case: Case, count: CaseCount, origin: str, linked: int | None, link: Link, counting: Counting) -> Counted:
    """What the case adds, wherever it is counted first. count: under the names that count here; linked: the edition
    here that it was climbed by."""
    facts = [(fact, value) for fact, value in case.facts.items() if fact in counting.facts]
    stratum = Stratum(
        symptom=case.symptom,
        edition=linked or 0,
        period=counting.period(case.closed),
        site=case.site,
        is_guided=origin in GUIDED,
        facts=_facts_text(tuple(sorted(facts))),
        is_double=link.is_double,
    )
    return counted_under(case, count, stratum, link.came_back)


@lru_cache(maxsize=65_536)
def _facts_text(facts: tuple[tuple[str, str], ...]) -> str:
    return json.dumps(dict(facts), ensure_ascii=False, separators=(",", ":"))


def counted_under(case: Case, count: CaseCount, stratum: Stratum, came_back: datetime | None) -> Counted:
    """What the case adds under a key that it has already."""
    steps = count.steps + count.returned(case.closed, came_back)
    return Counted(stratum, count.signature, came_back is not None, count.seconds, steps)
