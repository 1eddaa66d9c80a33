"""Logged cases as rows, both ways; which field of a case lies where follows from the shape and the tables."""

import json
from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from operator import attrgetter
from typing import Any

from pydantic import ValidationError
from sqlalchemy import Connection

from mildladder.core.errors import Unavailable
from mildladder.core.model import Attempt, Case
from mildladder.core.model.versions import brought_up, stamped
from mildladder.store.log.index import enter, entry, leave, place_of
from mildladder.store.log.raw import plain
from mildladder.store.moments import as_stored, from_stored
from mildladder.store.tables import CaseRow

__all__ = ["NOTHING_REMAINS", "LoggedCase", "delete_cases", "insert_cases", "load_cases"]

_CALLED = {"case": "id", "playbook": "playbook_id", "came_back": "told_back"}
_OWN_ROWS = {"attempts", "facts"}
# A field of a case and its column; what has neither a column nor rows of its own lies in `rest`.
_COLUMNS = {
    name: column
    for name in Case.model_fields
    if name not in _OWN_ROWS and (column := _CALLED.get(name, name)) in CaseRow.__table__.columns
}
_REST = set(Case.model_fields) - set(_COLUMNS) - _OWN_ROWS
_OF_LOG = (
    "number",
    "site",
    "rest",
    "origin",
    "who",
    "logged",
    "brought_by",
    "came_back",
    "linked",
    "stratum",
    "signature",
    "place",
)
_OF_ATTEMPT = tuple(Attempt.model_fields)
_HARMED = _OF_ATTEMPT.index("harmed")
# Read many at a time: by place, with those that are moments known beforehand.
_OF_CASE, _FROM_ATTEMPT = attrgetter(*_COLUMNS), attrgetter(*_OF_ATTEMPT)
_MOMENTS = [place for place, name in enumerate(_COLUMNS) if name in ("opened", "closed", "came_back")]
_MOMENTS_OF_ATTEMPT = [_OF_ATTEMPT.index("at")]


def _insert(table: str, columns: Sequence[str]) -> str:
    names = ", ".join(f'"{name}"' for name in columns)
    return f"INSERT INTO {table} ({names}) VALUES ({', '.join('?' * len(columns))})"


_INSERT_CASE = _insert("cases", (*_COLUMNS.values(), *_OF_LOG))
_INSERT_ATTEMPT = _insert("attempts", ("case", "position", *_OF_ATTEMPT))
_INSERT_FACT = _insert("case_facts", ("case", "fact", "value"))


def _remains(case: Case) -> str:
    """What of a case has no column of its own, as JSON."""
    if not case.model_fields_set & _REST:
        return NOTHING_REMAINS
    return json.dumps(stamped("remains", case.model_dump(mode="json", include=_REST)), ensure_ascii=False)


NOTHING_REMAINS = json.dumps(stamped("remains", {}))


def insert_cases(connection: Connection, cases: Sequence[tuple[Case, dict[str, Any]]]) -> None:
    """Put cases into the log, each with the columns that are the log's own, `number` among them."""
    if not cases:
        return
    rows, attempts, facts, entries, days = [], [], [], [], []
    for case, own in cases:
        number, closed = own["number"], as_stored(case.closed)
        days.append(closed)
        place = place_of(case.closed, number)
        of_log = {**own, "site": case.site, "rest": _remains(case), "place": place}
        rows.append((*_with_moments(_OF_CASE(case), _MOMENTS), *(_stored(of_log[name]) for name in _OF_LOG)))
        for position, attempt in enumerate(case.attempts):
            values = _with_moments(_FROM_ATTEMPT(attempt), _MOMENTS_OF_ATTEMPT)
            if values[_HARMED] is not None:
                values[_HARMED] = json.dumps(values[_HARMED])
            attempts.append((number, position, *values))
        facts += [(number, fact, value) for fact, value in case.facts.items()]
        texts = (case.said, case.notes, case.unit, case.case)
        entries.append(entry(place, texts, case.symptom, case.end, (attempt.step for attempt in case.attempts)))
    for statement, many in ((_INSERT_CASE, rows), (_INSERT_ATTEMPT, attempts), (_INSERT_FACT, facts)):
        plain(connection).executemany(statement, many)
    enter(connection, entries)
    _count_days(connection, days, 1)


def _with_moments(values: Sequence[Any], moments: Sequence[int]) -> list[Any]:
    """The values with those that are moments as they are stored."""
    made = list(values)
    for place in moments:
        if made[place] is not None:
            made[place] = as_stored(made[place])
    return made


def _count_days(connection: Connection, closed: Sequence[str], change: int) -> None:
    """So many cases more (change 1) or less (change -1) closed on the days of these moments."""
    days = Counter(moment[:10] for moment in closed)
    connection.exec_driver_sql(
        "INSERT INTO closing_days (day, count) VALUES (?, ?) ON CONFLICT DO UPDATE SET count = count + excluded.count",
        [(day, change * count) for day, count in days.items()],
    )
    if change < 0:
        connection.exec_driver_sql("DELETE FROM closing_days WHERE count = 0")


def _stored(value: Any) -> Any:
    return as_stored(value) if isinstance(value, datetime) else value


def delete_cases(connection: Connection, numbers: Sequence[int]) -> None:
    """Take cases out of the log, with all that hangs on them."""
    which = [(number,) for number in numbers]
    if which:
        closed = [
            connection.exec_driver_sql("SELECT closed FROM cases WHERE number = ?", one).scalar_one() for one in which
        ]
        _count_days(connection, closed, -1)
        leave(connection, numbers)
        connection.exec_driver_sql("DELETE FROM cases WHERE number = ?", which)


@dataclass(frozen=True)
class LoggedCase:
    """A case with what the log knows of it beside what the case says itself (see `CaseRow`)."""

    case: Case
    number: int
    origin: str
    who: int
    logged: datetime
    brought_by: int | None
    linked: int | None
    came_back: datetime | None
    stratum: int
    signature: int


_READ = ", ".join(f'"{name}"' for name in (*_COLUMNS.values(), *_OF_LOG))
_READ_ATTEMPTS = ", ".join(f'"{name}"' for name in ("case", *_OF_ATTEMPT))
_MOST_NAMED = 900


def load_cases(connection: Connection, column: str, values: Sequence[Any]) -> list[LoggedCase]:
    """The logged cases with one of these values in a column, such as `number` or `id`, by number."""
    execute = plain(connection).execute
    found: list[LoggedCase] = []
    for start in range(0, len(values), _MOST_NAMED):
        some = tuple(values[start : start + _MOST_NAMED])
        rows = execute(f'SELECT {_READ} FROM cases WHERE "{column}" IN ({", ".join("?" * len(some))})', some).fetchall()
        numbers = tuple(row[_NUMBER] for row in rows)
        among = f'"case" IN ({", ".join("?" * len(numbers))})'
        attempts: dict[int, list[Any]] = defaultdict(list)
        for number, *attempt in execute(
            f'SELECT {_READ_ATTEMPTS} FROM attempts WHERE {among} ORDER BY "case", position', numbers
        ):
            attempts[number].append(attempt)
        facts: dict[int, dict[str, str]] = defaultdict(dict)
        for number, fact, value in execute(f'SELECT "case", fact, value FROM case_facts WHERE {among}', numbers):
            facts[number][fact] = value
        for row in rows:
            found.append(_logged(row, _whole(row, attempts[row[_NUMBER]], facts[row[_NUMBER]])))
    return sorted(found, key=lambda one: one.number)


_FIELDS = {name: place for place, name in enumerate(_COLUMNS)}
_LOGS = {name: place for place, name in enumerate(_OF_LOG, start=len(_COLUMNS))}
_NUMBER = _LOGS["number"]


def _logged(row: Sequence[Any], case: Case) -> LoggedCase:
    of_log = {name: row[place] for name, place in _LOGS.items()}
    back = of_log["came_back"]
    return LoggedCase(
        case, of_log["number"], of_log["origin"], of_log["who"], from_stored(of_log["logged"]), of_log["brought_by"],
        of_log["linked"], from_stored(back) if back else None, of_log["stratum"], of_log["signature"],
    )  # fmt: skip


def _whole(row: Sequence[Any], attempts: Sequence[Any], facts: dict[str, str]) -> Case:
    try:
        return Case.model_validate(
            {
                **{name: row[place] for name, place in _FIELDS.items()},
                **brought_up("remains", json.loads(row[_LOGS["rest"]])),
                "facts": facts,
                "attempts": [_read_attempt(attempt) for attempt in attempts],
            }
        )
    except ValidationError as error:
        name = row[_FIELDS["case"]]
        raise Unavailable(f"the case '{name}' is stored in a way that this program cannot read") from error


def _read_attempt(columns: Sequence[Any]) -> dict[str, Any]:
    made = dict(zip(_OF_ATTEMPT, columns, strict=True))
    made["harmed"] = json.loads(columns[_HARMED]) if columns[_HARMED] else None
    return made
