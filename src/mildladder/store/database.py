"""Open the one SQLite database: pragmas, migrations, and the session in which every unit of work happens."""

import fcntl
import os
import sqlite3
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import TypeVar

from sqlalchemy import Connection, text
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlalchemy.orm import Session, sessionmaker

from mildladder.core.errors import Busy, Unavailable
from mildladder.store.cache import Cache
from mildladder.store.connecting import BUSY_MS, reading_engine, state_of, writing_engine
from mildladder.store.file import beside, cookie_key, make_private, opener, why_read_only
from mildladder.store.settings import RETURN_WINDOW, forget_setting, keep_setting, setting

__all__ = ["Database"]

_TRIES = 3
_BUSY = (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_BUSY_SNAPSHOT)
T = TypeVar("T")
_ASK_MS = 2
_BETWEEN_TRIES_S = 0.05
# Another process may count all of a large log anew before this one can write.
_OTHERS_COUNT_MS = 600_000
# So long an ending process waits for others, to leave nothing in the write-ahead log.
_PATIENCE_MS = 500
# Those who wait ask more often than that.
_GIVE_WAY_S = 0.006
_LONG_PAGES, _PAGE_BYTES = 1_000, 4_096
# A part of something longer leaves more in it, for pages that each part writes are brought out once for several.
_LONGER_PAGES = 12_000
# The log stays as long as it has ever been, however little of it is left to bring out.
_BRING_OUT_S = 2.0
_SOME_KB, _MORE_KB = 2_000, 16_000
_MIGRATIONS = Path(__file__).parent / "migrations"
_MANY_CASES = 20_000
_COUNTED_BY = "counted_by"
_KEY = "cookie_key"
# The migration since which cases are counted and indexed as they are now.
_COUNTING = "0007"
_NEWEST = max(file.name[:4] for file in (_MIGRATIONS / "versions").glob("[0-9]*.py"))
# Without this the driver asks None, each time anew, whether it has another form: the longest part of binding a row.
sqlite3.register_adapter(type(None), lambda _: None)


class _Overtaken(Exception):
    """Somebody else has written since this transaction began."""


class Database:
    """An open database file. read_only: why it can only be read; None where it can be written.

    tell: is told in a sentence what takes long. Raises Unavailable, with the reason, when it cannot be opened or
    brought up to date.
    """

    def __init__(self, path: Path, tell: Callable[[str], None] = lambda _: None) -> None:
        self.path, self._tell = path, tell
        try:
            self.read_only = _made_ready(path)
            self.engine = writing_engine(path) if self.read_only is None else reading_engine(path)
            self._sessions = sessionmaker(self.engine, expire_on_commit=False)
            self.cache = Cache()
            self._brought_out = 0.0
            if self.read_only is None:
                self._migrate()
                self._count_anew()
            else:
                self._refuse_older()
        except (DatabaseError, sqlite3.DatabaseError, OSError) as error:
            raise Unavailable(f"the database {path} cannot be opened: {_reason(error)}") from error

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session that sees one state of the database and writes nothing.

        Raises Busy where a desk that can only be read was written for the first time meanwhile, for what was read may
        be of two states.
        """
        before = state_of(self.path) if self.read_only is not None else None
        with _plainly(), self._sessions(info=self.cache.info(is_writing=False)) as session:
            session.execute(text("BEGIN"))
            yield session
        if before is not None and not before.has_writer and state_of(self.path) != before:
            raise Busy("somebody has begun to write this desk; try again in a moment")

    @contextmanager
    def writing(self, is_lasting: bool = True, patience_ms: int = BUSY_MS) -> Iterator[Session]:
        """A session that is the one writer from its first statement; it commits at its end, or rolls all back.

        is_lasting: what it commits outlives a power cut, and is brought out of the write-ahead log once that is long; a
        part of something longer may leave both to the last part, and to `give_way`.
        patience_ms: for how long others may write first. Whoever waits asks again every few milliseconds, so that a
        long import, which pauses between its batches, keeps nobody waiting for much longer than a batch takes.
        """
        self._refuse_written()
        with _plainly(), self._sessions(info=self.cache.info(is_writing=True)) as session, session.begin():
            self._become_writer(session, is_lasting, patience_ms)
            yield session

    def change(self, work: Callable[[Session], T]) -> T:
        """Do work that reads and reckons at length before it writes a little; the database is held for the writing
        alone. When somebody else has written meanwhile, all is done again on what there is then, and in the end held
        throughout."""
        self._refuse_written()
        for _ in range(_TRIES):
            with suppress(_Overtaken):
                return self._tried(work)
        with self.writing() as session:
            return work(session)

    def cookie_key(self) -> str:
        """The key that signs this desk's cookies."""
        with self.reading() as session:
            kept = setting(session, _KEY)
        key = cookie_key(self.path, kept)
        if kept is not None and self.read_only is None:
            with self.writing() as session:
                forget_setting(session, _KEY)
        return key

    def _refuse_written(self) -> None:
        if self.read_only is not None:
            raise Unavailable(f"this desk can only be read: {self.read_only}; nothing was changed")

    def _tried(self, work: Callable[[Session], T]) -> T:
        with _plainly(), self._sessions(info=self.cache.info(is_writing=True)) as session:
            _make_lasting(_driver(session))
            try:
                session.execute(text("BEGIN"))
                made = work(session)
                session.commit()
            except OperationalError as error:
                if getattr(error.orig, "sqlite_errorcode", None) in _BUSY:
                    raise _Overtaken from error
                raise
            return made

    def _become_writer(self, session: Session, is_lasting: bool, patience_ms: int) -> None:
        deadline = time.monotonic() + patience_ms / 1000
        connection = _driver(session)
        _make_lasting(connection, is_lasting)
        connection.execute(f"PRAGMA busy_timeout = {_ASK_MS}")
        try:
            while True:
                try:
                    connection.execute("BEGIN IMMEDIATE")
                    return
                except sqlite3.OperationalError as error:
                    if "locked" not in str(error):
                        raise Unavailable(f"the database could not be used: {error}; nothing was changed") from error
                    if time.monotonic() > deadline:
                        raise Busy(f"the database could not be used: {error}; nothing was changed") from error
                    time.sleep(_ASK_MS / 1000)
        finally:
            connection.execute(f"PRAGMA busy_timeout = {BUSY_MS}")

    def give_way(self, since: float | None = None) -> None:
        """Let others write, after a part of something longer, and bring what was written out of the log meanwhile.

        since: when that part ended, by `time.monotonic`, where something else was done after it.
        """
        passed = time.monotonic() - since if since is not None else 0.0
        time.sleep(max(0.0, _GIVE_WAY_S - passed))
        if time.monotonic() - self._brought_out > _BRING_OUT_S:
            self.bring_out()

    def bring_out(self) -> None:
        """Bring what was written out of the write-ahead log, if that is long, so that no later part need do it."""
        log = beside(self.path, "wal")
        if log.exists() and log.stat().st_size > _LONGER_PAGES * _PAGE_BYTES:
            self._brought_out = time.monotonic()
            with self.engine.connect() as connection:
                connection.exec_driver_sql("PRAGMA wal_checkpoint(PASSIVE)")

    @contextmanager
    def alone(self, kind: str, is_waiting: Callable[[], bool] = lambda: False) -> Iterator[None]:
        """Held by the one process that carries out jobs of a kind; it ends with the process, however that ends.

        is_waiting: asked whether to wait for another that holds it. Raises Unavailable otherwise.
        """
        self._refuse_written()
        with open(beside(self.path, kind), "w", opener=opener) as file:
            while True:
                try:
                    fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    break
                except OSError as error:
                    if not is_waiting():
                        raise Unavailable(
                            f"another process is {kind} on this desk; try again when it has ended"
                        ) from error
                    time.sleep(_BETWEEN_TRIES_S)
            yield

    def close(self) -> None:
        """Let go of the file, everything brought out of the write-ahead log."""
        with suppress(DatabaseError):
            if self.read_only is None:
                with self.engine.connect() as connection:
                    connection.exec_driver_sql(f"PRAGMA busy_timeout = {_PATIENCE_MS}")
                    connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
        self.engine.dispose()

    def _refuse_older(self) -> None:
        with self.engine.connect() as connection:
            if _version(connection) != _NEWEST:
                raise Unavailable(f"the database {self.path} cannot be brought up to date: {self.read_only}")

    def _count_anew(self) -> None:
        """Count and index what is logged, where another version did it, for it may have done it differently."""
        from mildladder.store.log.index import index_anew
        from mildladder.store.log.rebuild import rebuild

        with self.reading() as session:
            if setting(session, _COUNTED_BY) == _COUNTING:
                return
        with self.reading() as session:
            cases = session.execute(text("SELECT count(*) FROM cases")).scalar_one()
        if cases > _MANY_CASES:
            self._tell(f"{cases:,} cases are counted and indexed anew")
        with self.writing(patience_ms=_OTHERS_COUNT_MS) as session:
            if setting(session, _COUNTED_BY) == _COUNTING:
                # Another process has done it, while this one waited for it.
                return
            kept = setting(session, "return_window")
            rebuild(session, int(kept) if kept else RETURN_WINDOW)
            index_anew(session.connection())
            keep_setting(session, _COUNTED_BY, _COUNTING)

    def _migrate(self) -> None:
        """Bring the tables up to this version.

        Tables are made anew for it, so what refers to them is checked last.
        """
        with self.engine.connect() as connection:
            there = _version(connection)
            if there == _NEWEST:
                return
            if there is not None and there < _NEWEST:
                self._tell("this desk was made by an earlier version; it is brought up to date, which takes a while")
            connection.exec_driver_sql("PRAGMA foreign_keys = OFF")
            connection.exec_driver_sql("BEGIN IMMEDIATE")
            _upgrade(connection)
            if connection.exec_driver_sql("PRAGMA foreign_key_check").first():
                raise Unavailable(f"the database {self.path} cannot be brought up to date: a row refers to none")
            connection.commit()
            connection.exec_driver_sql("PRAGMA foreign_keys = ON")


def _driver(session: Session) -> sqlite3.Connection:
    found = session.connection().connection.driver_connection
    assert isinstance(found, sqlite3.Connection)
    return found


def _make_lasting(connection: sqlite3.Connection, is_lasting: bool = True) -> None:
    """Whether what this connection commits from now on outlives a power cut; connections are used again.

    What is part of something longer comes back to the same pages, so more of them are kept at hand.
    """
    connection.execute(f"PRAGMA cache_size = {-_SOME_KB if is_lasting else -_MORE_KB}")
    connection.execute(f"PRAGMA synchronous = {'FULL' if is_lasting else 'NORMAL'}")
    connection.execute(f"PRAGMA wal_autocheckpoint = {_LONG_PAGES if is_lasting else 0}")


def _version(connection: Connection) -> str | None:
    """The newest migration that the database has seen; None for an empty one."""
    tables = connection.exec_driver_sql("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'")
    return connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar() if tables.first() else None


def _upgrade(connection: Connection) -> None:
    """Run the migrations; their package takes long to import and is not needed by a database of today."""
    from alembic import command
    from alembic.config import Config
    from alembic.util import CommandError

    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    config.attributes["connection"] = connection
    try:
        command.upgrade(config, "head")
    except CommandError as error:
        raise Unavailable(
            f"the database {connection.engine.url.database} cannot be opened: it was made by a newer version of this"
            " program"
        ) from error


def _made_ready(path: Path) -> str | None:
    """Why the file can only be read; None where it can be written."""
    if path.exists() and not os.access(path.parent, os.W_OK):
        return why_read_only(path)
    make_private(path)
    return why_read_only(path)


@contextmanager
def _plainly() -> Iterator[None]:
    """A full disk, a lock or damage reaches the user as one plain sentence."""
    try:
        yield
    except DatabaseError as error:
        if isinstance(error.orig, sqlite3.IntegrityError | sqlite3.ProgrammingError):
            raise
        raise Unavailable(f"the database could not be used: {_reason(error)}; nothing was changed") from error


def _reason(error: Exception) -> str:
    return str(getattr(error, "orig", None) or error).splitlines()[0]
