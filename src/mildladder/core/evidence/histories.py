"""What conditions on a unit's own history come to in a forecast: how often they held for the cases of the log.

A forecast takes them for false unless shares are given (method, section 3). With shares each is a fact of the unit
under its own words, so whatever works on a playbook works on it too.
"""

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime, timedelta
from typing import NamedTuple

from mildladder.core.ladder.conditions import EarlierCases, EarlierResolved, histories_of, show
from mildladder.core.ladder.saying import condition_in_words
from mildladder.core.ladder.units import conditions_of
from mildladder.core.model import Fact, Playbook

__all__ = ["Visited", "history_shares", "history_tests", "with_histories"]

HistoryTest = EarlierResolved | EarlierCases
# By fewer cases nobody knows how often something was so.
_LEAST_CASES = 30


class Visited(NamedTuple):
    """A case of a unit, "" where nobody knows which. resolved_by: the step, as it counts now."""

    unit: str
    opened: datetime
    closed: datetime
    resolved_by: str | None


def history_tests(playbook: Playbook) -> tuple[HistoryTest, ...]:
    """The tests of a unit's history in the conditions of rungs, variants and causes, each once."""
    return tuple(dict.fromkeys(test for condition in conditions_of(playbook) for test in histories_of(condition)))


def history_shares(tests: Iterable[HistoryTest], asked: Sequence[Visited], log: Iterable[Visited]) -> dict[str, float]:
    """For which share of the asked cases each test held when they were opened; empty where too few are asked.

    log: all cases of their units. Of a unit that nobody knows no history is told, so for it none holds.
    """
    if len(asked) < _LEAST_CASES:
        return {}
    by_unit: dict[str, list[Visited]] = defaultdict(list)
    for one in sorted(log, key=lambda one: one.closed):
        by_unit[one.unit].append(one)
    return {
        show(test): sum(_held(test, one, by_unit[one.unit]) for one in asked if one.unit) / len(asked) for test in tests
    }


def _held(test: HistoryTest, case: Visited, of_unit: Sequence[Visited]) -> bool:
    """As a guided case would have it that was begun when this one was opened."""
    since = bisect_left(of_unit, case.opened - timedelta(days=test.days), key=lambda one: one.closed)
    until = bisect_left(of_unit, case.opened, key=lambda one: one.closed)
    recent = of_unit[since:until]
    if isinstance(test, EarlierCases):
        return len(recent) >= test.least
    return any(one.resolved_by == test.step for one in recent)


def with_histories(playbook: Playbook, shares: Mapping[str, float]) -> Playbook:
    """The playbook with these tests of history, as they are written, as facts of units; to be looked at and thrown
    away."""
    facts = [
        Fact.model_construct(
            id=show(test),
            ask=condition_in_words(test, playbook),
            type="yes-no",
            shares={"yes": shares[show(test)], "no": 1 - shares[show(test)]},
        )
        for test in history_tests(playbook)
        if show(test) in shares
    ]
    return playbook.model_copy(update={"facts": (*playbook.facts, *facts)})
