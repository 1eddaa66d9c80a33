"""Find cases in the log: pages and totals under any filter, one case, what a unit had before."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Any, NamedTuple

from sqlalchemy import Connection, select
from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.core.evidence.histories import Visited
from mildladder.core.model import Case
from mildladder.core.model.events import EarlierCase
from mildladder.store.library import aliases
from mildladder.store.log.index import (
    Kind,
    count,
    day_at,
    first_place,
    match_of,
    number_at,
    place_of,
    places,
)
from mildladder.store.log.rows import LoggedCase, load_cases
from mildladder.store.log.sql import rows_as
from mildladder.store.tables import CaseRow

__all__ = [
    "CaseFilter",
    "Found",
    "case",
    "case_page",
    "case_page_at",
    "count_cases",
    "first_closing",
    "newest_cases",
    "unit_history",
    "visits",
]

_EXPRESSIONS = {
    "id": "cases.id",
    "who": "people.name",
    "waited": "json_extract(rest, '$.waited')",
    "sent_on": "json_extract(rest, '$.sent_on')",
    "attempts": '(SELECT count(*) FROM attempts WHERE attempts."case" = cases.number)',
}


@dataclass(frozen=True)
class CaseFilter:
    """Which cases to show; empty fields let everything through.

    step: tried it, under its own name or one that counts as it. words: in what was said, notes, unit or id, see
    `match_of`.
    """

    symptom: str = ""
    step: str = ""
    end: str = ""
    words: str = ""


class Found(NamedTuple):
    """A row of the log as it is stored, moments as text: what cannot be read of one must not stop a page."""

    place: int
    id: str
    symptom: str
    opened: str
    closed: str
    said: str | None
    unit: str | None
    site: str
    end: str
    resolved_by: str | None
    came_back: str | None
    origin: str
    who: str
    waited: float | None
    sent_on: str | None
    attempts: int


def case_page(session: Session, wanted: CaseFilter, before: int | None, limit: int) -> list[Found]:
    """At most `limit` cases, the last closed first, going on below the place of the last one shown."""
    connection = session.connection()
    if wanted == CaseFilter():
        where, values = ("WHERE place < ?", (before, limit)) if before is not None else ("", (limit,))
        query = f"SELECT number FROM cases {where} ORDER BY place DESC LIMIT ?"
        return _read(connection, connection.exec_driver_sql(query, values).scalars().all())
    match = _match(session, wanted)
    found = places(connection, match, before, limit) if match else []
    return _read(connection, [number_at(place) for place in found])


def case_page_at(session: Session, wanted: CaseFilter, rank: int, limit: int) -> list[Found]:
    """The cases from the one on that has so many above it. Where nothing is filtered, days are counted, not cases."""
    connection = session.connection()
    if wanted != CaseFilter():
        match = _match(session, wanted)
        found = places(connection, match, None, limit, rank) if match else []
        return _read(connection, [number_at(place) for place in found])
    passed = 0
    for day, closed in connection.exec_driver_sql("SELECT day, count FROM closing_days ORDER BY day DESC"):
        if passed + closed > rank:
            numbers = connection.exec_driver_sql(
                "SELECT number FROM cases WHERE place < ? ORDER BY place DESC LIMIT ? OFFSET ?",
                (place_of(_day_after(day), 0), limit, rank - passed),
            )
            return _read(connection, numbers.scalars().all())
        passed += closed
    return []


def _day_after(day: str) -> datetime:
    return datetime.combine(date.fromisoformat(day) + timedelta(days=1), datetime.min.time(), UTC)


def _match(session: Session, wanted: CaseFilter) -> str | None:
    """What the index is asked; None when nothing can fit. A step is also found under the names that count as it."""
    names = []
    if wanted.symptom:
        names.append((Kind.SYMPTOM, [wanted.symptom]))
    if wanted.end:
        names.append((Kind.END, [wanted.end]))
    if wanted.step:
        same = [old for old, new in aliases(session).items() if new == wanted.step]
        names.append((Kind.STEP, [wanted.step, *same]))
    return match_of(wanted.words, names)


def _read(connection: Connection, numbers: Sequence[int]) -> list[Found]:
    """The rows of these cases, in that order."""
    if not numbers:
        return []
    marks = ", ".join("?" * len(numbers))
    of = f"FROM cases JOIN people ON people.id = cases.who WHERE number IN ({marks})"
    by_number = {number_at(row.place): row for row in rows_as(connection, Found, of, numbers, **_EXPRESSIONS)}
    return [by_number[number] for number in numbers if number in by_number]


def count_cases(session: Session, wanted: CaseFilter) -> int:
    """How many cases fit."""
    connection = session.connection()
    if wanted == CaseFilter():
        total: int = connection.exec_driver_sql("SELECT coalesce(sum(count), 0) FROM closing_days").scalar_one()
        return total
    match = _match(session, wanted)
    return count(connection, match) if match else 0


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


_MANY = 500


def visits(session: Session, symptom: str, most: int) -> tuple[list[Visited], list[Visited]]:
    """So many cases of a symptom, those logged last, and all cases of it that their units had."""
    same = aliases(session)

    def read(query: Any) -> list[Visited]:
        return [
            Visited(unit or "", opened, closed, same.get(step, step) if step else None)
            for unit, opened, closed, step in session.execute(query)
        ]

    query = select(CaseRow.unit, CaseRow.opened, CaseRow.closed, CaseRow.resolved_by).where(CaseRow.symptom == symptom)
    asked = read(query.order_by(CaseRow.number.desc()).limit(most))
    units = sorted({one.unit for one in asked} - {""})
    log = []
    for start in range(0, len(units), _MANY):
        log += read(query.where(CaseRow.unit.in_(units[start : start + _MANY])))
    return asked, log


def first_closing(session: Session, symptom: str) -> date | None:
    """The day, in UTC, on which the first case of a symptom was closed; None where there is none."""
    match = match_of("", [(Kind.SYMPTOM, [symptom])])
    assert match is not None, "a symptom is asked for"
    place = first_place(session.connection(), match)
    return None if place is None else day_at(place)


def newest_cases(session: Session, symptom: str, limit: int) -> list[Case]:
    """The cases of a symptom that were logged last, in the order of logging."""
    query = select(CaseRow.number).where(CaseRow.symptom == symptom).order_by(CaseRow.number.desc()).limit(limit)
    return [one.case for one in load_cases(session.connection(), "number", session.scalars(query).all())]


def case(session: Session, case_id: str) -> LoggedCase:
    """One case. Raises NotFound, and Unavailable for one that cannot be read."""
    found = load_cases(session.connection(), "id", [case_id])
    if not found:
        raise NotFound(f"there is no case '{case_id}'")
    return found[0]
