"""Open the one SQLite database: pragmas, migrations, and the session in which every unit of work happens."""

import fcntl
import sqlite3
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy import Connection, Engine, create_engine, event, text
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session, sessionmaker

from mildladder.core.errors import Unavailable
from mildladder.store.kept import Kept
from mildladder.store.settings import RETURN_WINDOW, keep_setting, setting

__all__ = ["Database"]

_BUSY_MS = 10_000
_ASK_MS = 2
# Those who wait ask more often than that.
_GIVE_WAY_S = 0.006
_LONG_PAGES, _PAGE_BYTES = 1_000, 4_096
_MIGRATIONS = Path(__file__).parent / "migrations"
_COUNTED_BY = "counted_by"
_NEWEST = max(file.name[:4] for file in (_MIGRATIONS / "versions").glob("[0-9]*.py"))


class Database:
    """An open database file. Raises Unavailable, with the reason, when it cannot be opened or brought up to date."""

    def __init__(self, path: Path) -> None:
        self.path = path
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self.engine = _engine(path)
            self._sessions = sessionmaker(self.engine, expire_on_commit=False)
            self._kept = Kept()
            self._migrate()
            self._count_anew()
        except (DatabaseError, OSError) as error:
            raise Unavailable(f"the database {path} cannot be opened: {_reason(error)}") from error

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session that sees one state of the database and writes nothing."""
        with _plainly(), self._sessions(info=self._kept.info(is_writing=False)) as session:
            session.execute(text("BEGIN"))
            yield session

    @contextmanager
    def writing(self, is_lasting: bool = True) -> Iterator[Session]:
        """A session that is the one writer from its first statement; it commits at its end, or rolls all back.

        is_lasting: what it commits outlives a power cut, and is brought out of the write-ahead log once that is long; a
        part of something longer may leave both to the last part, and to `give_way`.
        Whoever waits asks again every few milliseconds, so that a long import, which pauses between its batches, keeps
        nobody waiting for much longer than a batch takes.
        """
        with _plainly(), self._sessions(info=self._kept.info(is_writing=True)) as session, session.begin():
            self._become_writer(session, is_lasting)
            yield session

    def _become_writer(self, session: Session, is_lasting: bool) -> None:
        deadline = time.monotonic() + _BUSY_MS / 1000
        connection = session.connection().connection.driver_connection
        assert connection is not None
        connection.execute(f"PRAGMA synchronous = {'FULL' if is_lasting else 'NORMAL'}")
        connection.execute(f"PRAGMA wal_autocheckpoint = {_LONG_PAGES if is_lasting else 0}")
        connection.execute(f"PRAGMA busy_timeout = {_ASK_MS}")
        try:
            while True:
                try:
                    connection.execute("BEGIN IMMEDIATE")
                    return
                except sqlite3.OperationalError as error:
                    if "locked" not in str(error) or time.monotonic() > deadline:
                        raise Unavailable(f"the database could not be used: {error}; nothing was changed") from error
                    time.sleep(_ASK_MS / 1000)
        finally:
            connection.execute(f"PRAGMA busy_timeout = {_BUSY_MS}")

    def give_way(self) -> None:
        """Let others write, after a part of something longer, and bring what was written out of the log meanwhile."""
        time.sleep(_GIVE_WAY_S)
        log = self.path.with_name(f"{self.path.name}-wal")
        if log.exists() and log.stat().st_size > _LONG_PAGES * _PAGE_BYTES:
            with self.engine.connect() as connection:
                connection.exec_driver_sql("PRAGMA wal_checkpoint(PASSIVE)")

    @contextmanager
    def importing(self) -> Iterator[None]:
        """Held while one import runs, by whatever process; it ends with the process, however that ends.

        Raises Unavailable while another runs.
        """
        with self.path.with_name(f"{self.path.name}-importing").open("w") as file:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError as error:
                raise Unavailable("another import is running on this desk; try again when it has ended") from error
            yield

    def close(self) -> None:
        """Let go of the file."""
        self.engine.dispose()

    def _count_anew(self) -> None:
        """Count and index what is logged, once for each version, for another may have done it differently."""
        from mildladder.store.log.index import index_anew
        from mildladder.store.log.rebuild import rebuild

        with self.reading() as session:
            if setting(session, _COUNTED_BY) == _NEWEST:
                return
        with self.writing() as session:
            kept = setting(session, "return_window")
            rebuild(session, int(kept) if kept else RETURN_WINDOW)
            index_anew(session.connection())
            keep_setting(session, _COUNTED_BY, _NEWEST)

    def _migrate(self) -> None:
        """Bring the tables up to this version.

        Tables are made anew for it, so what refers to them is checked last.
        """
        with self.engine.connect() as connection:
            if _version(connection) == _NEWEST:
                return
            connection.exec_driver_sql("PRAGMA foreign_keys = OFF")
            connection.exec_driver_sql("BEGIN IMMEDIATE")
            _upgrade(connection)
            if connection.exec_driver_sql("PRAGMA foreign_key_check").first():
                raise Unavailable(f"the database {self.path} cannot be brought up to date: a row refers to none")
            connection.commit()
            connection.exec_driver_sql("PRAGMA foreign_keys = ON")


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


def _engine(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}")

    @event.listens_for(engine, "connect")
    def _prepare(connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None
        for pragma in ("foreign_keys = ON", f"busy_timeout = {_BUSY_MS}", "journal_mode = WAL", "synchronous = FULL"):
            connection.execute(f"PRAGMA {pragma}").close()

    return engine


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
