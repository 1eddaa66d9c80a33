"""How connections to the file of a desk are made: for who may write it, and for who can only read it."""

import sqlite3
from pathlib import Path
from typing import NamedTuple

from sqlalchemy import URL, Engine, create_engine, event
from sqlalchemy.pool import NullPool

from mildladder.store.file import sibling

__all__ = ["BUSY_MS", "reading_engine", "state_of", "writing_engine"]

# So long a connection waits for another that writes.
BUSY_MS = 10_000


def uri_of(path: Path, **query: str) -> str:
    """The file as a URI for SQLite, whatever characters its path has."""
    asked = "&".join(f"{name}={value}" for name, value in query.items())
    return f"{path.absolute().as_uri()}?{asked}"


def writing_engine(path: Path) -> Engine:
    """Connections that read and write, in WAL mode."""
    engine = create_engine(URL.create("sqlite", database=str(path)))

    @event.listens_for(engine, "connect")
    def _prepare(connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None
        for pragma in ("foreign_keys = ON", f"busy_timeout = {BUSY_MS}", "journal_mode = WAL", "synchronous = FULL"):
            connection.execute(f"PRAGMA {pragma}").close()

    return engine


class FileState(NamedTuple):
    """What tells whether somebody writes the file, or has written it. has_writer: a write-ahead log lies beside it."""

    has_writer: bool
    changed_ns: int
    size: int


def state_of(path: Path) -> FileState:
    """How the file stands now; of one that is gone, nothing."""
    log, index = sibling(path, "wal"), sibling(path, "shm")
    try:
        found = path.stat()
        has_writer = log.exists() and (index.exists() or log.stat().st_size > 0)
    except FileNotFoundError:
        return FileState(has_writer=False, changed_ns=0, size=0)
    return FileState(has_writer, found.st_mtime_ns, found.st_size)


def reading_engine(path: Path) -> Engine:
    """Connections that only read, each made anew.

    A write-ahead log cannot be read without its index beside it, which a reader that may not write there cannot make.
    So while somebody has the desk open for writing, a connection shares theirs; otherwise the file is all there is and
    is read as one that nobody changes. Which of the two it is may differ from one connection to the next.
    """

    def _connect() -> sqlite3.Connection:
        alone = {} if state_of(path).has_writer else {"immutable": "1"}
        made = sqlite3.connect(uri_of(path, mode="ro", **alone), uri=True, check_same_thread=False)
        made.isolation_level = None
        made.execute(f"PRAGMA busy_timeout = {BUSY_MS}").close()
        return made

    return create_engine("sqlite://", creator=_connect, poolclass=NullPool)
