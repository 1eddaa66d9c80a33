"""Logged cases as they are read out of the log, whole."""

import json
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import ValidationError
from sqlalchemy import Connection

from mildladder.core.errors import Unavailable
from mildladder.core.model import Case
from mildladder.core.model.versions import upgraded
from mildladder.store.log.columns import COLUMNS, OF_ATTEMPT, OfLog
from mildladder.store.log.prepared import Prepared
from mildladder.store.log.sql import driver
from mildladder.store.moments import from_stored

__all__ = ["LoggedCase", "load_cases", "stored_cases"]


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


_READ = ", ".join(f'"{name}"' for name in (*COLUMNS.values(), *OfLog._fields))
_READ_ATTEMPTS = ", ".join(f'"{name}"' for name in ("case", *OF_ATTEMPT))
_LISTS = ("harmed", "ways", "tried_with")
_MOST_NAMED = 900
_FIELDS = {name: place for place, name in enumerate(COLUMNS)}
_LOGS = {name: place for place, name in enumerate(OfLog._fields, start=len(COLUMNS))}
_NUMBER = _LOGS["number"]


class StoredCase:
    """A logged case as its rows say it, nothing of it understood yet."""

    __slots__ = ("_attempts", "_facts", "_row")

    def __init__(self, row: tuple[Any, ...], attempts: list[tuple[Any, ...]], facts: dict[str, str]) -> None:
        self._row, self._attempts, self._facts = row, attempts, facts

    @property
    def id(self) -> str:
        """The id of the case."""
        return str(self._row[_FIELDS["case"]])

    def of_log(self, name: str) -> Any:
        """What the log says itself, by column."""
        return self._row[_LOGS[name]]

    def is_same(self, prepared: Prepared) -> bool:
        """Whether logging that one would change nothing."""
        there = (self._row[: len(COLUMNS)], self.of_log("rest"), self._attempts, self._facts)
        wanted = (prepared.values, prepared.rest, prepared.attempts, prepared.case.facts)
        return there == wanted or bool(_case(*there) == _case(*wanted))

    def read(self) -> LoggedCase:
        """The case itself. Raises Unavailable when it cannot be read."""
        of_log, back = self.of_log, self.of_log("came_back")
        case = _case(self._row, of_log("rest"), self._attempts, self._facts)
        return LoggedCase(
            case,
            of_log("number"),
            of_log("origin"),
            of_log("who"),
            from_stored(of_log("logged")),
            of_log("brought_by"),
            of_log("linked"),
            from_stored(back) if back else None,
            of_log("stratum"),
            of_log("signature"),
        )


def load_cases(connection: Connection, column: str, values: Sequence[Any]) -> list[LoggedCase]:
    """The logged cases with one of these values in a column, such as `number` or `id`, by number."""
    return sorted((one.read() for one in stored_cases(connection, column, values)), key=lambda one: one.number)


def stored_cases(connection: Connection, column: str, values: Sequence[Any]) -> list[StoredCase]:
    """The same, unread and in no order."""
    execute = driver(connection).execute
    found = []
    for start in range(0, len(values), _MOST_NAMED):
        some = tuple(values[start : start + _MOST_NAMED])
        rows = execute(f'SELECT {_READ} FROM cases WHERE "{column}" IN ({", ".join("?" * len(some))})', some).fetchall()
        among = f'"case" IN ({", ".join(str(row[_NUMBER]) for row in rows)})'
        attempts: dict[int, list[tuple[Any, ...]]] = defaultdict(list)
        for row in execute(f'SELECT {_READ_ATTEMPTS} FROM attempts WHERE {among} ORDER BY "case", position'):
            attempts[row[0]].append(row[1:])
        facts: dict[int, dict[str, str]] = defaultdict(dict)
        for number, fact, value in execute(f'SELECT "case", fact, value FROM case_facts WHERE {among}'):
            facts[number][fact] = value
        found += [StoredCase(row, attempts[row[_NUMBER]], facts[row[_NUMBER]]) for row in rows]
    return found


def _case(values: Sequence[Any], rest: str, attempts: Sequence[Sequence[Any]], facts: dict[str, str]) -> Case:
    try:
        return Case.model_validate(
            {
                **{name: values[place] for name, place in _FIELDS.items()},
                **upgraded("remains", json.loads(rest)),
                "facts": facts,
                "attempts": [_attempt(attempt) for attempt in attempts],
            }
        )
    except ValidationError as error:
        name = values[_FIELDS["case"]]
        raise Unavailable(f"the case '{name}' is stored in a way that this program cannot read") from error


def _attempt(columns: Sequence[Any]) -> dict[str, Any]:
    made = dict(zip(OF_ATTEMPT, columns, strict=True))
    for name in _LISTS:
        made[name] = json.loads(made[name]) if made[name] else None
    return made
