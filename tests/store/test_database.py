"""Opening the database: migrations, pragmas, and plain words for what goes wrong."""

import os
import secrets
import shutil
import sqlite3
from contextlib import closing

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text

from mildladder.api.app import create_app
from mildladder.core.errors import Busy, Unavailable
from mildladder.store.database import Database
from mildladder.store.file import cookie_key
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


def test_a_database_that_may_not_be_written_is_read(tmp_path, templates, monkeypatch):
    path = tmp_path / "desk.db"
    shutil.copy(templates / "sample.db", path)
    monkeypatch.setattr("mildladder.store.file.os.access", lambda _path, mode: mode != os.W_OK)
    read_only(path, "may not be written")


@pytest.mark.parametrize("table", ["imports", "attempts", "climb_events"])
def test_a_damaged_database_is_read_as_far_as_it_can_be(tmp_path, templates, table):
    path = tmp_path / "desk.db"
    shutil.copy(templates / "sample.db", path)
    with closing(sqlite3.connect(path)) as whole:
        (size,) = whole.execute("PRAGMA page_size").fetchone()
        (page,) = whole.execute("SELECT rootpage FROM sqlite_master WHERE name = ?", (table,)).fetchone()
    with path.open("r+b") as file:
        file.seek((page - 1) * size)
        file.write(bytes(range(256)) * (size // 256))
    read_only(path, "is damaged")


def read_only(path, why: str) -> None:
    """The desk of that file is read, and nothing writes it."""
    before = path.read_bytes()
    desk = Database(path)
    assert why in desk.read_only
    browser = create_app(desk).test_client()
    assert browser.get("/api/symptoms").json["symptoms"][0]["id"] == "gate-arm-up"
    browser.put("/api/me", json={"person": browser.get("/api/me").json["people"][0]["id"]})
    body = {"id": "climb-0001", "playbook": "gate-arm-up", "started": {}}
    answer = browser.post("/api/climbs", json=body)
    assert (answer.status_code, "can only be read" in answer.json["detail"]) == (503, True)
    desk.close()
    assert path.read_bytes() == before


@pytest.mark.parametrize("name", ["desk?mode=ro.db", "desk#1.db", "100%25 mild.db"])
def test_odd_paths_name_the_file_that_they_say(tmp_path, name):
    path = tmp_path / "a ? b" / name
    desk = Database(path)
    with desk.writing() as session:
        session.execute(text("INSERT INTO settings (name, value) VALUES ('a', 'b')"))
    beside = {one.name for one in path.parent.iterdir()}
    assert beside == {name, f"{name}-wal", f"{name}-shm"}
    assert {one.stat().st_mode & 0o777 for one in path.parent.iterdir()} == {0o600}
    desk.close()
    assert [one.name for one in path.parent.iterdir()] == [name]


def test_a_desk_opened_for_reading_sees_what_its_owner_writes(tmp_path, templates, monkeypatch):
    path = tmp_path / "desk?.db"
    shutil.copy(templates / "sample.db", path)
    reader = only_reading(path, monkeypatch)
    assert settings_of(reader) == 0
    owner = Database(path)
    for count in (1, 2):
        with owner.writing() as session:
            session.execute(text("INSERT INTO settings (name, value) VALUES (:name, 'x')"), {"name": f"new-{count}"})
        assert settings_of(reader) == count
    owner.close()
    assert settings_of(reader) == 2


def test_a_reader_is_told_when_somebody_begins_to_write_under_it(tmp_path, templates, monkeypatch):
    path = tmp_path / "desk.db"
    shutil.copy(templates / "sample.db", path)
    reader = only_reading(path, monkeypatch)
    with pytest.raises(Busy, match="try again"), reader.reading():
        owner = Database(path)
        with owner.writing() as session:
            session.execute(text("INSERT INTO settings (name, value) VALUES ('new-1', 'x')"))
        owner.close()


def only_reading(path, monkeypatch) -> Database:
    with monkeypatch.context() as patch:
        patch.setattr("mildladder.store.file.os.access", lambda _path, mode: mode != os.W_OK)
        opened = Database(path)
    assert opened.read_only
    return opened


def settings_of(database) -> int:
    with database.reading() as session:
        return session.scalar(text("SELECT count(*) FROM settings WHERE name LIKE 'new-%'"))


def test_the_key_of_cookies_is_made_once_whoever_comes_first(tmp_path, monkeypatch):
    """Another process makes it between this one's look and its writing."""
    path, others = tmp_path / "desk.db", []
    token = secrets.token_hex

    def meanwhile(count):
        if not others:
            others.append("")
            others[0] = cookie_key(path, None)
        return token(count)

    monkeypatch.setattr("mildladder.store.file.secrets.token_hex", meanwhile)
    assert cookie_key(path, None) == others[0] == cookie_key(path, None)
    (file,) = tmp_path.iterdir()
    assert (file.read_text(), file.stat().st_mode & 0o777) == (others[0], 0o600)


def test_work_that_somebody_overtakes_is_done_again_on_what_there_is_then(database):
    seen = []

    def work(session):
        seen.append(session.scalar(text("SELECT count(*) FROM settings WHERE name = 'other'")))
        if len(seen) == 1:
            with database.writing() as other:
                other.execute(text("INSERT INTO settings (name, value) VALUES ('other', 'x')"))
        session.execute(text("INSERT INTO settings (name, value) VALUES ('mine', 'y')"))
        return len(seen)

    assert database.change(work) == 2
    assert seen == [0, 1]


def test_counting_anew_that_was_cut_off_is_done_at_the_next_opening(tmp_path, templates):
    path = tmp_path / "desk.db"
    shutil.copy(templates / "log.db", path)
    with closing(sqlite3.connect(path)) as cut:
        cut.execute("DELETE FROM settings WHERE name = 'counted_by'")
        cut.execute("DELETE FROM tallies")
        cut.commit()
    desk = Database(path)
    with desk.reading() as session:
        cases = session.scalar(text("SELECT count(*) FROM cases"))
        assert session.scalar(text("SELECT coalesce(sum(count), 0) FROM tallies")) == cases
    desk.close()
