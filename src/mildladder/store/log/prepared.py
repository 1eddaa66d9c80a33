"""Cases made ready for the log, rows and all, so that little is left to do while the log is held.

Made of plain values: a process that reads a long file hands them to the one that writes.
"""

import json
from collections import Counter
from collections.abc import Sequence
from operator import attrgetter
from typing import Any, NamedTuple

from sqlalchemy import Connection

from mildladder.core.model import Case
from mildladder.core.model.versions import stamped
from mildladder.core.tally.counts import CaseCount, case_count
from mildladder.store.log.bare import key_of
from mildladder.store.log.columns import COLUMNS, NOTHING_REMAINS, OF_ATTEMPT, REST, OfLog
from mildladder.store.log.index import Entry, enter, leave, marks_of, place_of, words_of
from mildladder.store.log.sql import driver
from mildladder.store.moments import as_stored

__all__ = ["Prepared", "delete_cases", "insert_cases", "prepare"]


class Prepared(NamedTuple):
    """A case that is to be logged. case: what of it its key looks at; counts: what it adds, under its own names.
    values: its columns as stored, in the order of `COLUMNS`; attempts: likewise; words, marks: by which it is found.
    second: its place, as far as that goes without a number.
    line: where it stands in a file, 0 for no file.
    """

    case: Case
    counts: CaseCount
    values: tuple[Any, ...]
    attempts: list[tuple[Any, ...]]
    rest: str
    words: str
    marks: str
    second: int
    edition_hash: str | None
    line: int

    @property
    def id(self) -> str:
        """The id of the case."""
        return self.case.case

    @property
    def claim(self) -> tuple[str | None, int | None]:
        """The playbook and the edition that the case says it was climbed by."""
        return self.values[_PLAYBOOK], self.values[_EDITION]


_PLAYBOOK, _EDITION, _CLOSED = (list(COLUMNS).index(name) for name in ("playbook", "edition", "closed"))
# Read many at a time: by place, with those that are moments known beforehand.
_as_json = json.JSONEncoder(ensure_ascii=False).encode
_NOTHING: tuple[Any, ...] = (None, {}, ())
_OF_CASE, _FROM_ATTEMPT = attrgetter(*COLUMNS), attrgetter(*OF_ATTEMPT)
_MOMENTS = [place for place, name in enumerate(COLUMNS) if name in ("opened", "closed", "came_back")]
_AT = OF_ATTEMPT.index("at")
_LISTS = tuple(OF_ATTEMPT.index(name) for name in ("harmed", "ways", "tried_with"))


def prepare(case: Case, line: int = 0) -> Prepared:
    """The case as it goes into the log."""
    values = list(_OF_CASE(case))
    for place in _MOMENTS:
        if values[place] is not None:
            values[place] = as_stored(values[place])
    words = words_of((case.said, case.notes, case.unit, case.case, case.ticket, case.caller, case.call_back))
    marks = marks_of(case.symptom, case.end, (attempt.step for attempt in case.attempts))
    attempts = [_stored_attempt(_FROM_ATTEMPT(attempt)) for attempt in case.attempts]
    return Prepared(
        key_of(case),
        case_count(case),
        tuple(values),
        attempts,
        _rest(case),
        words,
        marks,
        place_of(case.closed, 0),
        case.edition_hash,
        line,
    )


def _stored_attempt(values: tuple[Any, ...]) -> tuple[Any, ...]:
    if values[_AT] is None and all(values[place] is None for place in _LISTS):
        return values
    made = list(values)
    made[_AT] = as_stored(made[_AT]) if made[_AT] is not None else None
    for place in _LISTS:
        made[place] = _as_json(made[place]) if made[place] is not None else None
    return tuple(made)


def _rest(case: Case) -> str:
    """What of a case has no column of its own, as JSON."""
    remains = {name for name in case.model_fields_set & REST if getattr(case, name) not in _NOTHING}
    if not remains:
        return NOTHING_REMAINS
    return _as_json(stamped("remains", case.model_dump(mode="json", include=remains)))


def _insert(table: str, columns: Sequence[str]) -> str:
    names = ", ".join(f'"{name}"' for name in columns)
    return f"INSERT INTO {table} ({names}) VALUES ({', '.join('?' * len(columns))})"


_INSERT_CASE = _insert("cases", (*COLUMNS.values(), *OfLog._fields))
_INSERT_ATTEMPT = _insert("attempts", ("case", "position", *OF_ATTEMPT))
_INSERT_FACT = _insert("case_facts", ("case", "fact", "value"))


def insert_cases(connection: Connection, cases: Sequence[tuple[Prepared, OfLog]]) -> None:
    """Put cases into the log."""
    if not cases:
        return
    rows, attempts, facts, entries = [], [], [], []
    for prepared, of_log in cases:
        number = of_log.number
        rows.append(prepared.values + of_log)
        attempts += [(number, position, *values) for position, values in enumerate(prepared.attempts)]
        facts += [(number, fact, value) for fact, value in prepared.case.facts.items()]
        entries.append(Entry(of_log.place, prepared.words, prepared.marks))
    for statement, many in ((_INSERT_CASE, rows), (_INSERT_ATTEMPT, attempts), (_INSERT_FACT, facts)):
        driver(connection).executemany(statement, many)
    enter(connection, entries)
    _count_days(connection, [prepared.values[_CLOSED] for prepared, _ in cases], 1)


def _count_days(connection: Connection, closed: Sequence[str], change: int) -> None:
    """So many cases more (change 1) or less (change -1) closed on the days of these moments."""
    days = Counter(moment[:10] for moment in closed)
    driver(connection).executemany(
        "INSERT INTO closing_days (day, count) VALUES (?, ?) ON CONFLICT DO UPDATE SET count = count + excluded.count",
        [(day, change * count) for day, count in days.items()],
    )
    if change < 0:
        driver(connection).execute("DELETE FROM closing_days WHERE count = 0")


def delete_cases(connection: Connection, numbers: Sequence[int]) -> None:
    """Take cases out of the log, with all that hangs on them."""
    which = [(number,) for number in numbers]
    if not which:
        return
    execute = driver(connection).execute
    _count_days(
        connection, [execute("SELECT closed FROM cases WHERE number = ?", one).fetchone()[0] for one in which], -1
    )
    leave(connection, numbers)
    driver(connection).executemany("DELETE FROM cases WHERE number = ?", which)
