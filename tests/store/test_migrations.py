"""What a migration makes of the rows of the version before it."""

import ast
import io
import sqlite3
from contextlib import closing

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine, select

from mildladder.desk.log.batches import forget_files, queue_import
from mildladder.store import jobs as store
from mildladder.store.database import _MIGRATIONS, Database
from mildladder.store.tables import JobRow
from tests.samples import NOON

JOB = (
    "INSERT INTO jobs (number, kind, subject, version, digest, input, is_outside, state, phase, done, so_far, tries,"
    " who, asked) VALUES (?, ?, 'office.jsonl', NULL, ?, ?, ?, ?, '', 0, '{}', 1, NULL, '2026-03-01T12:00:00.000000Z')"
)


def as_of(path, version: str) -> None:
    """An empty desk as that version would have made it."""
    engine = create_engine(f"sqlite:///{path}")
    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, version)
        connection.commit()
    engine.dispose()


def test_jobs_of_the_version_before_wait_on_with_their_files_and_no_number_comes_again(tmp_path):
    path = tmp_path / "desk.db"
    as_of(path, "0015")
    with closing(sqlite3.connect(path)) as old:
        old.execute(JOB, (7, "importing", "d7", '{"digest": "x", "leave_out": true}', False, "waiting"))
        old.execute(JOB, (9, "importing", "d9", '{"leave_out": true}', True, "done"))
        old.execute(JOB, (12, "ordering", "d12", '{"ask": "curve"}', False, "done"))
        old.execute(
            "INSERT INTO people (name, role, since) VALUES ('R. Tamsin', 'lead', '2026-03-01T12:00:00.000000Z')"
        )
        old.execute(
            "INSERT INTO imports (number, source, began, state, who, job)"
            " VALUES (1, 'office.jsonl', '2026-03-01T12:00:00.000000Z', 'running', 1, 7)"
        )
        old.commit()
    brought = tmp_path / "desk.db-brought"
    brought.mkdir()
    (brought / "7").write_bytes(b"{}\n")
    database = Database(path)
    forget_files(database)
    assert (brought / "7").exists()
    with database.writing() as session:
        rows = {row.number: row for row in session.scalars(select(JobRow))}
        assert {number: row.input.get("file") for number, row in rows.items()} == {7: "7", 9: None, 12: None}
        assert {row.tries for row in rows.values()} == {0}
        assert store.next_due(session, "importing", False, NOON).number == 7
        session.delete(rows[12])
    assert queue_import(database, io.BytesIO(b"{}\n"), "next.jsonl", True, 1, NOON) == 13
    database.close()


def test_no_migration_knows_anything_of_today_s_program():
    """What a migration needs is kept beside it as it was, so that it does the same whatever the program becomes."""
    beside = "mildladder.store.migrations."
    for path in sorted(_MIGRATIONS.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            names = [one.name for one in node.names] if isinstance(node, ast.Import) else []
            names += [node.module or ""] if isinstance(node, ast.ImportFrom) else []
            known = [name for name in names if name.startswith("mildladder") and not name.startswith(beside)]
            assert not known, f"{path.name} imports {known}"
