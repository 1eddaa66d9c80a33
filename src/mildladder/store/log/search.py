"""Find cases in the log: pages and totals under any filter, one case, what a unit had before.

The first rows of any filter are found along an index, without counting or sorting what fits: of a step along the rows
of `tried`, of words along the index of words where they are rare, and along the cases themselves where they are not.
"""

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from typing import Any, NamedTuple

from sqlalchemy import Connection, select
from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.core.model.events import EarlierCase
from mildladder.store.library import aliases
from mildladder.store.log.rows import LoggedCase, load_cases
from mildladder.store.moments import as_stored
from mildladder.store.tables import CaseRow

__all__ = ["CaseFilter", "Found", "Total", "case", "case_page", "case_page_at", "count_cases", "unit_history"]

# Totals are exact up to so many.
_MOST_COUNTED = 10_000
# Words that so many cases have are rare: all of these are sorted.
_RARE = 2_000
# So many cases are looked at for a common word before all that have it are sorted.
_PATIENCE = 20_000
_CHUNK = 1_000
_TEXTS = ("said", "notes", "unit", "id")
_COLUMNS = (
    'number, cases.id, symptom, opened, closed, said, unit, site, "end", resolved_by, came_back, origin,'
    ' people.name AS who,'
    ' json_extract(rest, \'$.waited\') AS waited, json_extract(rest, \'$.sent_on\') AS sent_on,'
    ' (SELECT count(*) FROM attempts WHERE attempts."case" = cases.number) AS attempts'
)  # fmt: skip


@dataclass(frozen=True)
class CaseFilter:
    """Which cases to show; empty fields let everything through.

    step: tried it, under its own name or one that counts as it. words: each begins a word in what was said, notes,
    unit or id.
    """

    symptom: str = ""
    step: str = ""
    end: str = ""
    words: str = ""


class Found(NamedTuple):
    """A row of the log as it is stored, moments as text: what cannot be read of one must not stop a page."""

    number: int
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


@dataclass(frozen=True)
class Total:
    """How many cases fit: exactly, or about so many."""

    count: int
    is_exact: bool


Place = tuple[str, str]


def case_page(session: Session, wanted: CaseFilter, after: Place | None, limit: int) -> list[Found]:
    """At most `limit` cases, the last closed first, going on after the (closed, id) of the last one shown."""
    connection = session.connection()
    names = _names(session, wanted)
    if wanted.words:
        return _page_of_words(connection, wanted, names, after, limit)
    return _read(connection, _numbers(connection, wanted, names, after, limit))


def case_page_at(session: Session, rank: int, limit: int) -> list[Found]:
    """The cases from the one on that has so many above it, nothing filtered; days are counted, cases are not."""
    connection = session.connection()
    passed = 0
    for day, count in connection.exec_driver_sql("SELECT day, count FROM closing_days ORDER BY day DESC"):
        if passed + count > rank:
            numbers = connection.exec_driver_sql(
                "SELECT number FROM cases WHERE closed < ? ORDER BY closed DESC, id DESC LIMIT ? OFFSET ?",
                (_day_after(day), limit, rank - passed),
            )
            return _read(connection, list(numbers.scalars()))
        passed += count
    return []


def _day_after(day: str) -> str:
    return as_stored(datetime.combine(date.fromisoformat(day) + timedelta(days=1), datetime.min.time(), UTC))


def _names(session: Session, wanted: CaseFilter) -> list[str]:
    """The step that is asked for, and all that count as it."""
    return [wanted.step, *(old for old, new in aliases(session).items() if new == wanted.step)] if wanted.step else []


def _conditions(wanted: CaseFilter, after: Place | None) -> tuple[str, list[Any]]:
    """What rows must satisfy beside step and words, in SQL."""
    parts, values = ["1"], []
    for column in ("symptom", "end"):
        if value := getattr(wanted, column):
            parts.append(f'"{column}" = ?')
            values.append(value)
    if after is not None:
        parts.append("(closed, id) < (?, ?)")
        values += after
    return " AND ".join(parts), values


def _numbers(
    connection: Connection, wanted: CaseFilter, names: Sequence[str], after: Place | None, limit: int
) -> list[int]:
    """The numbers of the first that fit, words aside."""
    where, values = _conditions(wanted, after)
    last = "ORDER BY closed DESC, id DESC LIMIT ?"
    if not wanted.step:
        query = f"SELECT number FROM cases WHERE {where} {last}"
        return list(connection.exec_driver_sql(query, (*values, limit)).scalars())
    found: set[tuple[str, str, int]] = set()
    for name in names:
        query = f'SELECT closed, id, "case" FROM tried WHERE step = ? AND {where} {last}'
        found |= {tuple(row) for row in connection.exec_driver_sql(query, (name, *values, limit))}
    return [row[2] for row in sorted(found, reverse=True)[:limit]]


def _read(connection: Connection, numbers: Sequence[int]) -> list[Found]:
    """The rows of these cases, in that order."""
    if not numbers:
        return []
    marks = ", ".join("?" * len(numbers))
    rows = connection.exec_driver_sql(
        f"SELECT {_COLUMNS} FROM cases JOIN people ON people.id = cases.who WHERE number IN ({marks})",
        tuple(numbers),
    )
    by_number = {row[0]: Found(*row) for row in rows}
    return [by_number[number] for number in numbers]


# Words


def _plain(text: str) -> str:
    """The text as the index of words reads it: in small letters, marks over them left out."""
    small = text.casefold()
    if small.isascii():
        return small
    return "".join(c for c in unicodedata.normalize("NFKD", small) if not unicodedata.combining(c))


def _words_of(text: str) -> list[str]:
    """Words as the index of words parts them: letters and digits."""
    return re.findall(r"[^\W_]+", _plain(text))


def _has(text: str, words: Sequence[str]) -> bool:
    """Whether each of the words begins one in the text."""
    plain = _plain(text)
    if not all(word in plain for word in words):
        return False
    parts = _words_of(plain)
    return all(any(part.startswith(word) for part in parts) for word in words)


def _match(wanted: CaseFilter) -> str:
    """What the index of words is asked: every word, as the beginning of one."""
    return " AND ".join(f'"{word}"*' for word in _words_of(wanted.words))


def _page_of_words(
    connection: Connection, wanted: CaseFilter, names: Sequence[str], after: Place | None, limit: int
) -> list[Found]:
    match = _match(wanted)
    if not match:
        return []
    query = "SELECT count(*) FROM (SELECT 1 FROM case_words WHERE case_words MATCH ? LIMIT ?)"
    is_rare = connection.exec_driver_sql(query, (match, _RARE + 1)).scalar_one() <= _RARE
    numbers = None if is_rare else _walked(connection, wanted, names, after, limit)
    if numbers is None:
        numbers = _sorted(connection, wanted, names, after, limit)
    return _read(connection, numbers)


def _walked(
    connection: Connection, wanted: CaseFilter, names: Sequence[str], after: Place | None, limit: int
) -> list[int] | None:
    """The first that fit, found by looking at one case after the other; None when that would take too long."""
    words, found = _words_of(wanted.words), []
    for seen in range(0, _PATIENCE, _CHUNK):
        some = _numbers(connection, replace(wanted, words=""), names, after, _CHUNK)
        texts = _texts(connection, some)
        for number in some:
            closed, name, text = texts[number]
            if _has(text, words):
                found.append(number)
                if len(found) == limit:
                    return found
            after = (closed, name)
        if len(some) < _CHUNK:
            return found
        if not found and seen > _PATIENCE / 4:
            return None
    return None


def _texts(connection: Connection, numbers: Sequence[int]) -> dict[int, tuple[str, str, str]]:
    if not numbers:
        return {}
    marks = ", ".join("?" * len(numbers))
    rows = connection.exec_driver_sql(
        f"SELECT number, closed, id, {', '.join(_TEXTS)} FROM cases WHERE number IN ({marks})", tuple(numbers)
    )
    return {row[0]: (row[1], row[2], " ".join(part for part in row[3:] if part)) for row in rows}


def _fitting(wanted: CaseFilter, names: Sequence[str], after: Place | None) -> tuple[str, list[Any]]:
    """Cases that have the words and fit otherwise too, in SQL."""
    where, values = _conditions(wanted, after)
    query = f"FROM case_words CROSS JOIN cases ON cases.number = case_words.rowid WHERE case_words MATCH ? AND {where}"
    query = query.replace("(closed, id)", "(closed, cases.id)")
    if names:
        marks = ", ".join("?" * len(names))
        query += f' AND EXISTS (SELECT 1 FROM tried WHERE tried."case" = cases.number AND step IN ({marks}))'
    return query, [_match(wanted), *values, *names]


def _sorted(
    connection: Connection, wanted: CaseFilter, names: Sequence[str], after: Place | None, limit: int
) -> list[int]:
    query, values = _fitting(wanted, names, after)
    last = "ORDER BY closed DESC, cases.id DESC LIMIT ?"
    return list(connection.exec_driver_sql(f"SELECT cases.number {query} {last}", (*values, limit)).scalars())


# Totals, single cases, units


def count_cases(session: Session, wanted: CaseFilter) -> Total:
    """How many cases fit: exactly up to ten thousand, about so many above that."""
    connection, names = session.connection(), _names(session, wanted)
    most = _MOST_COUNTED + 1
    if wanted.words and not _match(wanted):
        return Total(0, is_exact=True)
    if wanted.words:
        query, values = _fitting(wanted, names, None)
        some = f"SELECT 1 {query} LIMIT {most}"
    else:
        where, values = _conditions(wanted, None)
        if names:
            where = f"step IN ({', '.join('?' * len(names))}) AND {where}"
            some = f'SELECT DISTINCT "case" FROM tried WHERE {where} LIMIT {most}'
        else:
            some = f"SELECT 1 FROM cases WHERE {where} LIMIT {most}"
        values = [*names, *values]
    count = connection.exec_driver_sql(f"SELECT count(*) FROM ({some})", tuple(values)).scalar_one()
    if count <= _MOST_COUNTED:
        return Total(count, is_exact=True)
    return Total(max(count, _about(connection, wanted, names)), is_exact=False)


def _about(connection: Connection, wanted: CaseFilter, names: Sequence[str]) -> int:
    """How many fit but for the words, from the tallies; of words as large a share as of the cases last closed."""
    where, values = ["1"], []
    if wanted.symptom:
        where.append("symptom = ?")
        values.append(wanted.symptom)
    if wanted.end:
        where.append("json_extract(text, '$[1]') = ?")
        values.append(wanted.end)
    if names:
        where.append("instr(text, ?)")
        values.append(f'["{names[0]}",')
    counted: int = connection.exec_driver_sql(
        "SELECT coalesce(sum(count), 0) FROM tallies JOIN strata ON strata.number = stratum"
        f" JOIN signatures ON signatures.number = signature WHERE {' AND '.join(where)}",
        tuple(values),
    ).scalar_one()
    if not wanted.words:
        return counted
    some = _texts(connection, _numbers(connection, replace(wanted, words=""), names, None, _CHUNK))
    words = _words_of(wanted.words)
    fit = sum(_has(text, words) for _, _, text in some.values())
    return round(counted * fit / max(len(some), 1))


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


def case(session: Session, case_id: str) -> LoggedCase:
    """One case. Raises NotFound, and Unavailable for one that cannot be read."""
    found = load_cases(session.connection(), "id", [case_id])
    if not found:
        raise NotFound(f"there is no case '{case_id}'")
    return found[0]
