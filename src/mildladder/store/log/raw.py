"""Plain SQLite within the session's transaction: for statements so many that their wrapping would take most time."""

import sqlite3

from sqlalchemy import Connection

__all__ = ["plain"]


def plain(connection: Connection) -> sqlite3.Connection:
    """The driver's own connection, in the same transaction."""
    found = connection.connection.driver_connection
    assert isinstance(found, sqlite3.Connection)
    return found
