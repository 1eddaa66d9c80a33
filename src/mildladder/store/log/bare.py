"""Logged cases as far as they are counted, and no further: read many times faster than whole ones.

What was checked when a case was logged is not checked again; of a stored row only what a key or a count looks at is
read. A row that cannot be read is counted nowhere.
"""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from contextlib import suppress
from datetime import datetime
from functools import lru_cache
from itertools import groupby
from operator import attrgetter, itemgetter
from types import SimpleNamespace
from typing import Any, NamedTuple, cast

from pydantic_core import from_json
from sqlalchemy import Connection

from mildladder.core.model import Case
from mildladder.core.model.versions import upgraded
from mildladder.store.log.columns import NOTHING_REMAINS
from mildladder.store.log.sql import driver, rows_as
from mildladder.store.moments import from_stored

__all__ = ["BareCase", "bare_cases", "cases_in_order", "key_of"]

_SPAN = 5_000
_MOST_NAMED = 900


class _Attempt(NamedTuple):
    number: int
    step: str
    outcome: str | None
    finding: str | None
    trial: int | None
    took: str | None
    by: str
    minutes: float | None
    harmed: Any
    safeguard_used: str | None
    put_right: str | None
    ways: Any


class BareCase:
    """A row of the log: the case with what is counted of it, and what the log knows of it beside."""

    __slots__ = ("came_back", "case", "linked", "number", "origin", "signature", "stratum")

    def __init__(
        self,
        case: Case,
        number: int,
        origin: str,
        linked: int | None,
        came_back: datetime | None,
        stratum: int,
        signature: int,
    ) -> None:
        self.case, self.number, self.origin, self.linked = case, number, origin, linked
        self.came_back, self.stratum, self.signature = came_back, stratum, signature


class _Case:
    """What of a `Case` is counted, under the same names."""

    __slots__ = (
        "attempts",
        "baseline",
        "came_back",
        "case",
        "closed",
        "end",
        "facts",
        "opened",
        "passed",
        "resolved_by",
        "site",
        "symptom",
        "unit",
        "waited",
    )
    attempts: Sequence[_Attempt]
    baseline: str | None
    came_back: datetime | None
    case: str
    closed: datetime
    end: str
    facts: dict[str, str]
    opened: datetime
    passed: Sequence[Any]
    resolved_by: str | None
    site: str
    symptom: str
    unit: str | None
    waited: float | None
    minutes = Case.minutes


class _Row(NamedTuple):
    """The columns of a case that are counted, as stored."""

    number: int
    id: str
    opened: str
    closed: str
    symptom: str
    unit: str | None
    told_back: str | None
    baseline: str | None
    end: str
    resolved_by: str | None
    rest: str
    origin: str
    linked: int | None
    came_back: str | None
    stratum: int
    signature: int


_OF_ATTEMPT = ", ".join(f'"{name}"' for name in ("case", *_Attempt._fields[1:]))


class _Key(NamedTuple):
    case: str
    opened: datetime
    closed: datetime
    symptom: str
    unit: str | None
    facts: dict[str, str]
    site: str
    end: str
    came_back: datetime | None


_of_key = attrgetter(*_Key._fields)


def key_of(case: Case) -> Case:
    """Of a case what its key and its links look at, and no more, under the same names."""
    return cast(Case, _Key._make(_of_key(case)))


def bare_cases(connection: Connection, numbers: Sequence[int]) -> list[BareCase]:
    """The cases of these numbers, by number."""
    found = []
    for start in range(0, len(numbers), _MOST_NAMED):
        among = f"IN ({', '.join(map(str, numbers[start : start + _MOST_NAMED]))})"
        found += _read(connection, among)
    return sorted(found, key=lambda row: row.number)


def cases_in_order(connection: Connection) -> Iterator[list[BareCase]]:
    """Every case, some thousands at a time, by number."""
    last: int = driver(connection).execute("SELECT coalesce(max(number), 0) FROM cases").fetchone()[0]
    for start in range(1, last + 1, _SPAN):
        if rows := _read(connection, f"BETWEEN {start} AND {start + _SPAN - 1}"):
            yield rows


def _read(connection: Connection, which: str) -> list[BareCase]:
    execute = driver(connection).execute
    rows = execute(f'SELECT {_OF_ATTEMPT} FROM attempts WHERE "case" {which} ORDER BY "case", position')
    attempts = {number: list(group) for number, group in groupby(map(_attempt, rows), key=itemgetter(0))}
    facts: dict[int, dict[str, str]] = defaultdict(dict)
    for number, fact, value in execute(f'SELECT "case", fact, value FROM case_facts WHERE "case" {which}'):
        facts[number][fact] = value
    found = []
    for row in rows_as(connection, _Row, f"FROM cases WHERE number {which} ORDER BY number"):
        with suppress(ValueError):
            found.append(_bare(row, attempts.get(row.number, []), facts.get(row.number, {})))
    return found


def _attempt(row: tuple[Any, ...]) -> _Attempt:
    made = _Attempt._make(row)
    if made.harmed is None and made.ways is None:
        return made
    read = {name: _read_json(text) for name in ("harmed", "ways") if (text := getattr(made, name)) is not None}
    return made._replace(**read)


_read_json = lru_cache(maxsize=1024)(from_json)


def _remains(rest: str) -> tuple[float | None, list[Any]]:
    """How long the case waited, and which rungs it passed."""
    remains = upgraded("remains", from_json(rest))
    return remains.get("waited"), [SimpleNamespace(step=one["step"]) for one in remains.get("passed", ())]


def _bare(row: _Row, attempts: list[_Attempt], facts: dict[str, str]) -> BareCase:
    case = _Case()
    case.case, case.opened, case.closed = row.id, from_stored(row.opened), from_stored(row.closed)
    case.symptom, case.unit = row.symptom, row.unit
    case.came_back = from_stored(row.told_back) if row.told_back else None
    case.baseline, case.end, case.resolved_by, case.facts = row.baseline, row.end, row.resolved_by, facts
    case.attempts, case.site = attempts, facts.get("site", "")
    case.passed, case.waited = (), None
    if row.rest != NOTHING_REMAINS:
        case.waited, case.passed = _remains(row.rest)
    came_back = from_stored(row.came_back) if row.came_back else None
    return BareCase(cast(Case, case), row.number, row.origin, row.linked, came_back, row.stratum, row.signature)
