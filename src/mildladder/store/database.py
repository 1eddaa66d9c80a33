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
from mildladder.store.file import cookie_key, make_private, opener, sibling, why_read_only
from mildladder.store.settings import RETURN_WINDOW, forget_setting, keep_setting, setting

__all__ = ["Database"]

_TRIES = 3
_BUSY = (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_BUSY_SNAPSHOT)
T = TypeVar("T")
_RETRY_MS = 2
_BETWEEN_TRIES_S = 0.05
# Timeout while another process rebuilds all tallies of a large log.
_REBUILD_MS = 600_000
# Busy timeout of the last checkpoint.
_CLOSE_MS = 500
# Longer than the interval at which waiting writers retry.
_YIELD_S = 0.006
_CHECKPOINT_PAGES, _PAGE_BYTES = 1_000, 4_096
# Batches of one job write the same pages again and again, so their checkpoints come later.
_BATCH_CHECKPOINT_PAGES = 12_000
# The WAL file never shrinks, so its size alone does not say whether a checkpoint is due.
_BETWEEN_CHECKPOINTS_S = 2.0
_CACHE_KB, _BATCH_CACHE_KB = 2_000, 16_000
_MIGRATIONS = Path(__file__).parent / "migrations"
_MANY_CASES = 20_000
_COUNTED_BY = "counted_by"
_KEY = "cookie_key"
# The newest migration that changed how cases are counted or indexed.
_COUNTING = "0007"
_NEWEST = max(file.name[:4] for file in (_MIGRATIONS / "versions").glob("[0-9]*.py"))
# Binding None is slow without an adapter: the driver searches for one each time.
sqlite3.register_adapter(type(None), lambda _: None)


class _WriteConflict(Exception):
    """Another connection has written since this transaction began."""


class Database:
    """An open database file. read_only: the reason why it is read-only; None if it is writable.

    tell: called with a sentence before something that takes long. Raises Unavailable, with the reason, if the file
    cannot be opened or migrated.
    """

    def __init__(self, path: Path, tell: Callable[[str], None] = lambda _: None) -> None:
        self.path, self._tell = path, tell
        try:
            self.read_only = _prepared_file(path)
            self.engine = writing_engine(path) if self.read_only is None else reading_engine(path)
            self._sessions = sessionmaker(self.engine, expire_on_commit=False)
            self.cache = Cache()
            self._checkpointed_at = 0.0
            if self.read_only is None:
                self._migrate()
                self._recount_if_outdated()
            else:
                self._refuse_older()
        except (DatabaseError, sqlite3.DatabaseError, OSError) as error:
            raise Unavailable(f"the database {path} cannot be opened: {_reason(error)}") from error

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A read-only session on one snapshot of the database.

        Raises Busy if the desk is read-only and another process began to write it meanwhile: what was read may then be
        from two snapshots.
        """
        before = state_of(self.path) if self.read_only is not None else None
        with _told_plainly(), self._sessions(info=self.cache.info(is_writing=False)) as session:
            session.execute(text("BEGIN"))
            yield session
        if before is not None and not before.has_writer and state_of(self.path) != before:
            raise Busy("somebody has begun to write this desk; try again in a moment")

    @contextmanager
    def writing(self, is_durable: bool = True, timeout_ms: int = BUSY_MS) -> Iterator[Session]:
        """A session that holds the write lock from its first statement. It commits at its end, or rolls back on error.

        is_durable: the commit survives a power cut, and a checkpoint follows when the WAL is long. Batches of a longer
        job may leave both to the last batch and to `yield_write_lock`.
        timeout_ms: how long to wait for the write lock. It is polled every few milliseconds, so a long import, which
        releases it between batches, delays others by little more than one batch.
        """
        self._refuse_written()
        with _told_plainly(), self._sessions(info=self.cache.info(is_writing=True)) as session, session.begin():
            self._begin_immediate(session, is_durable, timeout_ms)
            yield session

    def change(self, work: Callable[[Session], T]) -> T:
        """Run work that reads and computes for long and writes little, without holding the write lock while it reads.

        If another connection writes meanwhile, the work is run again; the last attempt holds the lock throughout.
        """
        self._refuse_written()
        for _ in range(_TRIES):
            with suppress(_WriteConflict):
                return self._write_optimistically(work)
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

    def _write_optimistically(self, work: Callable[[Session], T]) -> T:
        with _told_plainly(), self._sessions(info=self.cache.info(is_writing=True)) as session:
            _set_durability(_driver(session))
            try:
                session.execute(text("BEGIN"))
                made = work(session)
                session.commit()
            except OperationalError as error:
                if getattr(error.orig, "sqlite_errorcode", None) in _BUSY:
                    raise _WriteConflict from error
                raise
            return made

    def _begin_immediate(self, session: Session, is_durable: bool, timeout_ms: int) -> None:
        deadline = time.monotonic() + timeout_ms / 1000
        connection = _driver(session)
        _set_durability(connection, is_durable)
        connection.execute(f"PRAGMA busy_timeout = {_RETRY_MS}")
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
                    time.sleep(_RETRY_MS / 1000)
        finally:
            connection.execute(f"PRAGMA busy_timeout = {BUSY_MS}")

    def yield_write_lock(self, since: float | None = None) -> None:
        """Between two batches of a job: let waiting writers go first, and checkpoint the WAL if it is long.

        since: when the last batch ended, by `time.monotonic`; what has passed since counts towards the pause.
        """
        passed = time.monotonic() - since if since is not None else 0.0
        time.sleep(max(0.0, _YIELD_S - passed))
        if time.monotonic() - self._checkpointed_at > _BETWEEN_CHECKPOINTS_S:
            self.checkpoint_wal()

    def checkpoint_wal(self) -> None:
        """Copy the WAL into the database file if it is long."""
        log = sibling(self.path, "wal")
        if log.exists() and log.stat().st_size > _BATCH_CHECKPOINT_PAGES * _PAGE_BYTES:
            self._checkpointed_at = time.monotonic()
            with self.engine.connect() as connection:
                connection.exec_driver_sql("PRAGMA wal_checkpoint(PASSIVE)")

    @contextmanager
    def exclusive_worker(self, kind: str, is_waiting: Callable[[], bool] = lambda: False) -> Iterator[None]:
        """A lock that one process at a time holds for a kind of job. It is released when the process ends or crashes.

        is_waiting: called while another process holds it; wait on while true, else raise Unavailable.
        """
        self._refuse_written()
        with open(sibling(self.path, kind), "w", opener=opener) as file:
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
        """Checkpoint and truncate the WAL, and close every connection."""
        with suppress(DatabaseError):
            if self.read_only is None:
                with self.engine.connect() as connection:
                    connection.exec_driver_sql(f"PRAGMA busy_timeout = {_CLOSE_MS}")
                    connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
        self.engine.dispose()

    def _refuse_older(self) -> None:
        with self.engine.connect() as connection:
            if _version(connection) != _NEWEST:
                raise Unavailable(f"the database {self.path} cannot be brought up to date: {self.read_only}")

    def _recount_if_outdated(self) -> None:
        """Rebuild tallies and search index if another version of the program made them."""
        from mildladder.store.log.index import rebuild_index
        from mildladder.store.log.rebuild import rebuild

        with self.reading() as session:
            if setting(session, _COUNTED_BY) == _COUNTING:
                return
        with self.reading() as session:
            cases = session.execute(text("SELECT count(*) FROM cases")).scalar_one()
        if cases > _MANY_CASES:
            self._tell(f"{cases:,} cases are counted and indexed anew")
        with self.writing(timeout_ms=_REBUILD_MS) as session:
            if setting(session, _COUNTED_BY) == _COUNTING:
                # Another process rebuilt them while this one waited for the lock.
                return
            kept = setting(session, "return_window")
            rebuild(session, int(kept) if kept else RETURN_WINDOW)
            rebuild_index(session.connection())
            keep_setting(session, _COUNTED_BY, _COUNTING)

    def _migrate(self) -> None:
        """Run pending migrations. They recreate tables, so foreign keys are checked at the end."""
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


def _set_durability(connection: sqlite3.Connection, is_durable: bool = True) -> None:
    """Set durability, page cache and checkpoints of a pooled connection for the transaction that it begins.

    Batches of one job write the same pages again, so they get a larger page cache.
    """
    connection.execute(f"PRAGMA cache_size = {-_CACHE_KB if is_durable else -_BATCH_CACHE_KB}")
    connection.execute(f"PRAGMA synchronous = {'FULL' if is_durable else 'NORMAL'}")
    connection.execute(f"PRAGMA wal_autocheckpoint = {_CHECKPOINT_PAGES if is_durable else 0}")


def _version(connection: Connection) -> str | None:
    """The newest migration that was applied to the database; None for an empty one."""
    tables = connection.exec_driver_sql("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'")
    return connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar() if tables.first() else None


def _upgrade(connection: Connection) -> None:
    """Run the migrations. Alembic is imported here because it is slow to import and rarely needed."""
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


def _prepared_file(path: Path) -> str | None:
    """Prepare the file; the reason why it is read-only, None if it is writable."""
    if path.exists() and not os.access(path.parent, os.W_OK):
        return why_read_only(path)
    make_private(path)
    return why_read_only(path)


@contextmanager
def _told_plainly() -> Iterator[None]:
    """Turn errors of the driver (disk full, locked, damaged) into one plain sentence for users."""
    try:
        yield
    except DatabaseError as error:
        if isinstance(error.orig, sqlite3.IntegrityError | sqlite3.ProgrammingError):
            raise
        raise Unavailable(f"the database could not be used: {_reason(error)}; nothing was changed") from error


def _reason(error: Exception) -> str:
    return str(getattr(error, "orig", None) or error).splitlines()[0]
