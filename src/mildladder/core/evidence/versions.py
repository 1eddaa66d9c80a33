"""Whether another version came about when a step stopped working (evidence, section 7)."""

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence

from mildladder.core.evidence.differences import Drift, RisenVersion, Split
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.model import Playbook

__all__ = ["with_versions"]

# A version has come about when it rose by more than that share of the cases, within so many months of the change.
_RISE, _NEAR = 0.20, 2

# How many cases of each month have each value of a fact.
Counts = Mapping[str, Counter[str]]


def with_versions(
    found: Sequence[Drift], tallies: Sequence[KeyedTally], playbook: Playbook, told_apart: Sequence[Split]
) -> tuple[Drift, ...]:
    """The same, each with the versions that have become common then. told_apart: how each step does by value."""
    by_fact = {fact.id: _by_month(tallies, fact.id) for fact in playbook.facts if fact.type == "version"}
    splits = {(one.step, one.fact, one.value): one for one in told_apart}
    return tuple(
        one.model_copy(
            update={
                "versions": tuple(
                    RisenVersion(
                        fact=fact, value=value, before=before, after=after, split=splits.get((one.step, fact, value))
                    )
                    for fact, counts in by_fact.items()
                    for value, before, after in _risen(counts, one.since)
                )
            }
        )
        for one in found
    )


def _by_month(tallies: Sequence[KeyedTally], fact: str) -> Counts:
    counts: dict[str, Counter[str]] = defaultdict(Counter)
    for tally in tallies:
        if tally.month and fact in tally.facts:
            counts[tally.month][tally.facts[fact]] += tally.count
    return counts


def _risen(counts: Counts, since: str) -> list[tuple[str, float, float]]:
    """Each version that rose about that month, with its share of the cases in the two months before and the two from
    then on, at the month at which it rose most; that which rose most first."""
    months = sorted(counts)
    # The first month of the new ways; the change may be seen in the cases some months before or after in the units.
    at = sum(month < since for month in months)
    places = range(max(1, at - _NEAR), min(len(months) - 1, at + _NEAR) + 1)
    found = []
    for value in sorted({value for own in counts.values() for value in own}):
        rises = [
            (_share(counts, months[max(0, p - 2) : p], value), _share(counts, months[p : p + 2], value)) for p in places
        ]
        if rises:
            before, after = max(rises, key=lambda one: one[1] - one[0])
            if after - before > _RISE:
                found.append((value, before, after))
    return sorted(found, key=lambda one: one[1] - one[2])


def _share(counts: Counts, months: Sequence[str], value: str) -> float:
    whole = sum((counts[month] for month in months), Counter[str]())
    return whole[value] / max(1, whole.total())
