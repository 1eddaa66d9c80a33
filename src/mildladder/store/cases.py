"""Queries for what is counted: logged cases, their attempts, and the tallies kept in the same transaction."""

import json
from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from sqlalchemy import Select, delete, func, or_, select, true, tuple_
from sqlalchemy.dialects.sqlite import Insert, insert
from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.core.evidence.rates import Signature, Tally, signature
from mildladder.core.model import Case, Consent, Passed
from mildladder.core.model.events import EarlierCase
from mildladder.store.documents import aliases
from mildladder.store.tables import AttemptRow, CaseFactRow, CaseRow, FactRow, TallyRow

__all__ = [
    "CURED", "CaseFilter", "Counting", "HarmCount", "case", "case_page", "count_cases", "counting_of", "fold_tallies",
    "harm_counts", "log_case", "mark_come_back", "plain_attempts", "plain_row", "rebuild_tallies", "symptom_counts",
    "symptom_minutes", "tallies", "tally_many", "unit_history",
]  # fmt: skip

CURED = ("resolved", "worked-around")
_PLAIN = (
    "symptom", "opened", "closed", "said", "unit", "edition", "baseline", "end", "resolved_by", "confirmed",
    "came_back", "reopened_from", "notes",
)  # fmt: skip
_OF_ATTEMPT = (
    "step", "outcome", "finding", "minutes", "by", "trial", "took", "harmed", "safeguard_used", "reading", "at",
)  # fmt: skip


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


def log_case(session: Session, logged: Case, origin: str, who: str, now: datetime, return_window: int) -> str:
    """Put a case into the log and its tally, replacing one of the same id: 'new', 'updated' or 'unchanged'.

    An earlier case of the same symptom on the same unit is marked as come back when this one opened within its
    return window; likewise this one by a later case that is in the log already.
    """
    counting = counting_of(session, now.date(), return_window)
    there = session.get(CaseRow, logged.case)
    if there is not None:
        if _same(case_of(there), logged):
            return "unchanged"
        _tally(session, case_of(there), counting, -1)
        session.delete(there)
        session.flush()
    row = _row(logged, origin, who, now)
    _link_returns(session, row, counting)
    session.add(row)
    session.flush()
    _tally(session, case_of(row), counting, 1)
    return "new" if there is None else "updated"


def _same(there: Case, logged: Case) -> bool:
    return there == logged or there.model_copy(update={"came_back": logged.came_back}) == logged


def _row(logged: Case, origin: str, who: str, now: datetime) -> CaseRow:
    return CaseRow(
        attempts=[AttemptRow(**attempt) for attempt in plain_attempts(logged)],
        facts=[CaseFactRow(fact=fact, value=value) for fact, value in logged.facts.items()],
        **plain_row(logged, origin, who, now),
    )


def plain_row(logged: Case, origin: str, who: str, now: datetime) -> dict[str, Any]:
    """A case's own row, by column, its attempts and facts left out."""
    plain = {name: getattr(logged, name) for name in _PLAIN}
    kept = logged.model_dump(mode="json", include={"values", "consents", "passed", "waited"})
    return {**plain, "id": logged.case, "site": logged.site, "playbook_id": logged.playbook, "rest": kept,
            "origin": origin, "who": who, "logged": now}  # fmt: skip


def plain_attempts(logged: Case) -> list[dict[str, Any]]:
    """A case's attempts, by column."""
    return [
        {"position": number, "case_id": logged.case, **{name: getattr(attempt, name) for name in _OF_ATTEMPT}}
        for number, attempt in enumerate(logged.attempts)
    ]


def case_of(row: CaseRow) -> Case:
    """The case as it was logged."""
    attempts = [{name: getattr(attempt, name) for name in _OF_ATTEMPT} for attempt in row.attempts]
    return Case.model_validate(
        {
            "case": row.id, "opened": row.opened, "closed": row.closed, "symptom": row.symptom, "said": row.said,
            "unit": row.unit, "facts": {fact.fact: fact.value for fact in row.facts}, "playbook": row.playbook_id,
            "edition": row.edition, "attempts": attempts, "baseline": row.baseline, "end": row.end,
            "resolved_by": row.resolved_by, "confirmed": row.confirmed, "came_back": row.came_back,
            "reopened_from": row.reopened_from, "notes": row.notes, "values": row.rest.get("values", {}),
            "consents": [Consent.model_validate_json(json.dumps(c)) for c in row.rest.get("consents", [])],
            "passed": [Passed.model_validate(p) for p in row.rest.get("passed", [])],
            "waited": row.rest.get("waited"),
        }
    )  # fmt: skip


def _link_returns(session: Session, row: CaseRow, counting: Counting) -> None:
    if not row.unit:
        return
    window = timedelta(days=counting.return_window)
    same = select(CaseRow).where(CaseRow.symptom == row.symptom, CaseRow.unit == row.unit, CaseRow.id != row.id)
    earlier = same.where(
        CaseRow.end.in_(CURED),
        CaseRow.came_back.is_(None),
        CaseRow.closed <= row.opened,
        CaseRow.closed >= row.opened - window,
    )
    for before in session.scalars(earlier).all():
        _tally(session, case_of(before), counting, -1)
        before.came_back = row.opened
        _tally(session, case_of(before), counting, 1)
    if row.end in CURED and row.came_back is None:
        later = same.where(CaseRow.opened >= row.closed, CaseRow.opened <= row.closed + window)
        again = session.scalars(later.order_by(CaseRow.opened).limit(1)).first()
        row.came_back = again.opened if again else None


def mark_come_back(session: Session, case_id: str, at: datetime, counting: Counting) -> None:
    """Note that the fault of a case in the log has come back."""
    row = session.get_one(CaseRow, case_id)
    _tally(session, case_of(row), counting, -1)
    row.came_back = at
    session.flush()
    _tally(session, case_of(row), counting, 1)


def _tally(session: Session, counted: Case, counting: Counting, change: int) -> None:
    """Add the case to its tally (change 1) or take it out (change -1)."""
    _add(session, _tally_key(counted, counting), change, change * counted.minutes())


def tally_many(session: Session, counted: Sequence[Case], counting: Counting) -> None:
    """Add many cases to their tallies, like ones at once."""
    totals: dict[tuple[object, ...], tuple[int, float]] = {}
    names: list[str] = []
    for one in counted:
        key = _tally_key(one, counting)
        names = list(key)
        count, minutes = totals.get(tuple(key.values()), (0, 0.0))
        totals[tuple(key.values())] = (count + 1, minutes + one.minutes())
    rows = [
        {**dict(zip(names, values, strict=True)), "count": count, "minutes": minutes}
        for values, (count, minutes) in totals.items()
    ]
    if rows:
        session.execute(_growing(names), rows)


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


def _add(session: Session, key: dict[str, object], count: int, minutes: float) -> None:
    session.execute(_growing(list(key)), [{**key, "count": count, "minutes": minutes}])
    if count < 0:
        same = [getattr(TallyRow, name) == value for name, value in key.items()]
        session.execute(delete(TallyRow).where(*same, TallyRow.count == 0))


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
        _add(session, {**key, "period": row.period[:7]}, count, minutes)


def rebuild_tallies(session: Session, now: datetime, return_window: int) -> list[str]:
    """Count every tally anew from the logged cases; the symptoms that have some."""
    session.execute(delete(TallyRow))
    counting = counting_of(session, now.date(), return_window)
    for row in session.scalars(select(CaseRow)).all():
        _tally(session, case_of(row), counting, 1)
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


@dataclass(frozen=True)
class CaseFilter:
    """Which cases to show; empty fields let everything through. `words`: in what was said, notes, unit or id."""

    symptom: str = ""
    step: str = ""
    end: str = ""
    words: str = ""

    def on(self, query: Select[CaseRow]) -> Select[CaseRow]:
        """The query narrowed to the cases that fit."""
        if self.symptom:
            query = query.where(CaseRow.symptom == self.symptom)
        if self.end:
            query = query.where(CaseRow.end == self.end)
        if self.step:
            query = query.where(CaseRow.attempts.any(AttemptRow.step == self.step))
        if self.words:
            texts = (CaseRow.said, CaseRow.notes, CaseRow.unit, CaseRow.id)
            query = query.where(or_(*(text.icontains(self.words, autoescape=True) for text in texts)))
        return query


def case_page(
    session: Session, wanted: CaseFilter, after: tuple[datetime, str] | None, limit: int
) -> Sequence[CaseRow]:
    """At most `limit` cases, the last closed first, going on after the (closed, id) of the last one shown."""
    query = wanted.on(select(CaseRow))
    if after is not None:
        query = query.where(tuple_(CaseRow.closed, CaseRow.id) < tuple_(*after))
    return session.scalars(query.order_by(CaseRow.closed.desc(), CaseRow.id.desc()).limit(limit)).all()


def unit_history(session: Session, symptom: str, unit: str, limit: int) -> list[EarlierCase]:
    """The cases of a symptom that a unit had, the last closed first; merged steps count as what they are now."""
    if not unit:
        return []
    query = select(CaseRow.id, CaseRow.closed, CaseRow.resolved_by)
    of_unit = query.where(CaseRow.symptom == symptom, CaseRow.unit == unit).order_by(CaseRow.closed.desc())
    same = aliases(session)
    return [
        EarlierCase(case=case_id, closed=closed, resolved_by=same.get(step, step) if step else None)
        for case_id, closed, step in session.execute(of_unit.limit(limit))
    ]


def count_cases(session: Session, wanted: CaseFilter) -> int:
    """How many cases fit."""
    found = wanted.on(select(CaseRow)).with_only_columns(CaseRow.id).subquery()
    return session.scalar(select(func.count()).select_from(found)) or 0


def case(session: Session, case_id: str) -> CaseRow:
    """One case. Raises NotFound."""
    row = session.get(CaseRow, case_id)
    if row is None:
        raise NotFound(f"there is no case '{case_id}'")
    return row
