"""Tallies: counts of cases alike, kept in the transaction that logs a case."""

import json
from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy import delete, func, select, true
from sqlalchemy.dialects.sqlite import Insert, insert
from sqlalchemy.orm import Session

from mildladder.core.evidence.signature import Signature, Tally, signature
from mildladder.core.model import Case
from mildladder.store.library import aliases
from mildladder.store.log.rows import case_of
from mildladder.store.tables import AttemptRow, CaseRow, FactRow, TallyRow

__all__ = [
    "Counting",
    "HarmCount",
    "counting_of",
    "fold_tallies",
    "harm_counts",
    "rebuild_tallies",
    "symptom_counts",
    "symptom_minutes",
    "tallies",
    "tally",
]


@dataclass(frozen=True)
class Counting:
    """What tallies depend on beside the case: the day, the desk's return window in days, its choice facts, merges."""

    today: date
    return_window: int
    choice_facts: frozenset[str]
    aliases: Mapping[str, str]

    def period(self, closed: datetime) -> str:
        """The closing day while its return window is open, its month after that."""
        day = closed.date()
        is_open = day + timedelta(days=self.return_window) >= self.today
        return day.isoformat() if is_open else day.isoformat()[:7]


def counting_of(session: Session, today: date, return_window: int) -> Counting:
    """What tallies depend on, on this desk and day."""
    facts = session.scalars(select(FactRow.id).where(FactRow.type == "choice"))
    return Counting(today, return_window, frozenset(facts), aliases(session))


def tally(session: Session, counted: Sequence[Case], counting: Counting, change: int) -> None:
    """Add cases to their tallies (change 1) or take them out (change -1), like ones at once."""
    totals: dict[tuple[object, ...], tuple[int, float]] = {}
    names: list[str] = []
    for one in counted:
        key = _tally_key(one, counting)
        names = list(key)
        count, minutes = totals.get(tuple(key.values()), (0, 0.0))
        totals[tuple(key.values())] = (count + change, minutes + change * one.minutes())
    rows = [
        {**dict(zip(names, values, strict=True)), "count": count, "minutes": minutes}
        for values, (count, minutes) in totals.items()
    ]
    if rows:
        session.execute(_growing(names), rows)
    if rows and change < 0:
        session.execute(delete(TallyRow).where(TallyRow.count == 0))


def _tally_key(counted: Case, counting: Counting) -> dict[str, object]:
    facts = {fact: value for fact, value in sorted(counted.facts.items()) if fact in counting.choice_facts}
    return {
        "symptom": counted.symptom,
        "edition": counted.edition or 0,
        "period": counting.period(counted.closed),
        "came_back": counted.came_back is not None,
        "site": counted.site,
        "facts": json.dumps(facts, ensure_ascii=False),
        "signature": signature(counted, counting.aliases).model_dump_json(exclude_defaults=True),
    }


def _growing(key: list[str]) -> Insert:
    """Puts a tally in, or adds to the one that is there."""
    row = insert(TallyRow)
    return row.on_conflict_do_update(
        index_elements=key,
        set_={"count": TallyRow.count + row.excluded.count, "minutes": TallyRow.minutes + row.excluded.minutes},
    )


def fold_tallies(session: Session, today: date, return_window: int) -> None:
    """Turn closing days whose return window has passed into months, so that old tallies stay few."""
    cutoff = (today - timedelta(days=return_window)).isoformat()
    query = select(TallyRow).where(func.length(TallyRow.period) == 10, TallyRow.period < cutoff)
    names = [column.name for column in TallyRow.__table__.primary_key]
    for row in session.scalars(query).all():
        key = {name: getattr(row, name) for name in names}
        count, minutes = row.count, row.minutes
        session.delete(row)
        session.flush()
        session.execute(_growing(names), [{**key, "period": row.period[:7], "count": count, "minutes": minutes}])


def rebuild_tallies(session: Session, now: datetime, return_window: int) -> list[str]:
    """Count every tally anew from the logged cases; the symptoms that have some."""
    session.execute(delete(TallyRow))
    counting = counting_of(session, now.date(), return_window)
    tally(session, [case_of(row) for row in session.scalars(select(CaseRow))], counting, 1)
    return sorted(session.scalars(select(TallyRow.symptom).distinct()))


def tallies(session: Session, symptom: str) -> Iterator[Tally]:
    """Every tally of a symptom, alike ones (but for site, facts and edition) not yet added up."""
    query = select(TallyRow.period, TallyRow.came_back, TallyRow.signature, TallyRow.count)
    for period, came_back, sign, count in session.execute(query.where(TallyRow.symptom == symptom)):
        yield Tally(period=period, came_back=came_back, signature=Signature.model_validate_json(sign), count=count)


@dataclass(frozen=True)
class HarmCount:
    """How often harm was asked about after a step, and how often each kind was seen."""

    asked: int
    seen: Mapping[str, int]


def harm_counts(session: Session, symptom: str) -> dict[str, HarmCount]:
    """By step, for a symptom's cases; a merged step counts as what it was merged into."""
    same = aliases(session)
    was_asked = func.json_type(AttemptRow.harmed) == "array"
    query = select(AttemptRow.step).join(CaseRow).where(CaseRow.symptom == symptom, was_asked)
    asked: Counter[str] = Counter()
    for step, count in session.execute(query.add_columns(func.count()).group_by(AttemptRow.step)):
        asked[same.get(step, step)] += count
    kind = func.json_each(AttemptRow.harmed).table_valued("value")
    seen: dict[str, Counter[str]] = defaultdict(Counter)
    told = query.add_columns(kind.c.value, func.count()).join(kind, true()).group_by(AttemptRow.step, kind.c.value)
    for step, harm, count in session.execute(told):
        seen[same.get(step, step)][harm] += count
    return {step: HarmCount(count, seen[step]) for step, count in asked.items()}


def symptom_counts(session: Session) -> dict[str, dict[str, int]]:
    """For each symptom, how many cases ended in each way."""
    found: dict[str, dict[str, int]] = {}
    for symptom, end, count in session.execute(
        select(CaseRow.symptom, CaseRow.end, func.count()).group_by(CaseRow.symptom, CaseRow.end)
    ):
        found.setdefault(symptom, {})[end] = count
    return found


def symptom_minutes(session: Session) -> dict[str, float]:
    """For each symptom, the minutes between opening and closing of all its cases."""
    query = select(TallyRow.symptom, func.sum(TallyRow.minutes)).group_by(TallyRow.symptom)
    return {row[0]: row[1] for row in session.execute(query)}
