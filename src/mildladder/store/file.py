"""The file that a desk lies in: kept to its owner, and opened for reading only where it cannot be written."""

import os
import secrets
import sqlite3
from contextlib import closing, suppress
from pathlib import Path

__all__ = ["cookie_key", "make_private", "opener", "sibling", "why_read_only"]

_FILE, _FOLDER = 0o600, 0o700
_COMPANIONS = ("", "-wal", "-shm", "-key", "-importing", "-ordering")


def sibling(path: Path, what: str) -> Path:
    """A companion of the database, in the same folder."""
    return path.with_name(f"{path.name}-{what}")


def opener(name: str, flags: int) -> int:
    """Opens a file that nobody else may read."""
    return os.open(name, flags, _FILE)


def make_private(path: Path) -> None:
    """Make the folder and the file where they are missing, and keep the file and its companions to their owner.

    A folder that was there before stays as it is: others may have a right to it. Raises OSError.
    """
    path.parent.mkdir(mode=_FOLDER, parents=True, exist_ok=True)
    if not path.exists():
        os.close(os.open(path, os.O_CREAT | os.O_WRONLY, _FILE))
    for end in _COMPANIONS:
        with suppress(OSError):
            path.with_name(path.name + end).chmod(_FILE)


def why_read_only(path: Path) -> str | None:
    """Why the database must not be written: it may not be, or it is damaged; None where it may.

    Damage is looked for where tables begin and end, which takes no time on any size. Raises DatabaseError for what is
    no database at all.
    """
    if not os.access(path, os.W_OK) or not os.access(path.parent, os.W_OK):
        return "its file or folder may not be written by this user"
    with closing(sqlite3.connect(path)) as connection:
        tables = connection.execute(
            "SELECT name FROM sqlite_master WHERE type = 'table' AND sql NOT LIKE 'CREATE VIRTUAL%'"
        )
        names = [row[0] for row in tables]
        try:
            connection.execute("PRAGMA query_only = ON")
            for name in names:
                for way in ("", "ORDER BY 1", "ORDER BY 1 DESC"):
                    connection.execute(f'SELECT * FROM "{name}" {way} LIMIT 1').fetchall()
        except sqlite3.DatabaseError as error:
            if error.sqlite_errorcode != sqlite3.SQLITE_CORRUPT:
                raise
            return f"it is damaged ({error}); bring back a copy"
    return None


def cookie_key(path: Path, kept: str | None) -> str:
    """The key that signs this desk's cookies: in a file of its own, made once; kept: as an earlier version kept it.

    Where no file can be made there, it is a new one each time, and people say again who they are.
    """
    file = sibling(path, "key")
    with suppress(OSError):
        if file.exists():
            if found := file.read_text().strip():
                return found
            file.unlink()
        return _written_once(file, kept or secrets.token_hex(32))
    return kept or secrets.token_hex(32)


def _written_once(file: Path, text: str) -> str:
    """What the file holds, written whole by whichever process came first. Raises OSError."""
    own = file.with_name(f"{file.name}-{secrets.token_hex(8)}")
    with open(own, "x", opener=opener) as out:
        out.write(text)
    try:
        with suppress(FileExistsError):
            os.link(own, file)
        return file.read_text().strip()
    finally:
        own.unlink()
