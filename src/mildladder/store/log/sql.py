"""Plain SQL in the session's transaction, for statements so many that SQLAlchemy would take most of the time."""

import sqlite3
from collections.abc import Iterator, Sequence
from typing import Any, TypeVar

from sqlalchemy import Connection

__all__ = ["driver", "rows_as"]

Row = TypeVar("Row", bound=tuple[Any, ...])


def driver(connection: Connection) -> sqlite3.Connection:
    """The driver's own connection, in the same transaction."""
    found = connection.connection.driver_connection
    assert isinstance(found, sqlite3.Connection)
    return found


def rows_as(
    connection: Connection, shape: type[Row], rest: str, values: Sequence[Any] = (), **expressions: str
) -> Iterator[Row]:
    """Select rows as a NamedTuple: the columns are its fields, so nothing is read by position.

    rest: the statement from FROM on. expressions: by field, what is selected where it is no column of that name.
    """
    described: Any = shape
    columns = ", ".join(f"{expressions.get(name, _quoted(name))} AS {_quoted(name)}" for name in described._fields)
    return map(described._make, driver(connection).execute(f"SELECT {columns} {rest}", values))


def _quoted(name: str) -> str:
    return f'"{name}"'
