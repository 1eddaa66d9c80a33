"""Opening the database: migrations, pragmas, and plain words for what goes wrong."""

import sqlite3

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text

from mildladder.core.errors import Unavailable
from mildladder.store.database import Database
from mildladder.store.tables import Base


def test_the_migrations_make_what_the_tables_say(database):
    with database.engine.connect() as connection:
        context = MigrationContext.configure(
            connection, opts={"include_object": lambda _, name, *__: not is_of_index(name)}
        )
        assert compare_metadata(context, Base.metadata) == []


def is_of_index(name: str | None) -> bool:
    """Whether a table is the index of the log or a part of it, which is no table of ours."""
    return name is not None and name.startswith("case_index")


def test_it_keeps_foreign_keys_and_a_write_ahead_log(database):
    with database.reading() as session:
        assert session.scalar(text("PRAGMA foreign_keys")) == 1
        assert session.scalar(text("PRAGMA journal_mode")) == "wal"
        assert session.scalar(text("PRAGMA busy_timeout")) == 10_000


def test_a_writer_that_fails_leaves_nothing(database):
    with pytest.raises(ZeroDivisionError), database.writing() as session:
        session.execute(text("INSERT INTO settings (name, value) VALUES ('a', 'b')"))
        raise ZeroDivisionError
    with database.reading() as session:
        assert session.scalar(text("SELECT count(*) FROM settings WHERE name = 'a'")) == 0


@pytest.mark.parametrize("content", [b"this is not a database, but a text of some length", b"\x00" * 4096])
def test_a_file_that_is_no_database_is_told_in_one_line(tmp_path, content):
    path = tmp_path / "bad.db"
    path.write_bytes(content)
    with pytest.raises(Unavailable, match="cannot be opened") as error:
        Database(path)
    assert "\n" not in str(error.value)
    assert path.read_bytes() == content


def test_a_folder_that_cannot_be_made_is_told_in_one_line(tmp_path):
    (tmp_path / "file").write_text("x")
    with pytest.raises(Unavailable, match="cannot be opened"):
        Database(tmp_path / "file" / "desk.db")


def test_a_database_of_a_newer_version_is_left_alone(tmp_path):
    path = tmp_path / "desk.db"
    Database(path).close()
    with sqlite3.connect(path) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    with pytest.raises(Unavailable, match="newer version"):
        Database(path)
