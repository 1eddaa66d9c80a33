"""What an edit of a draft costs on the server: its answer, its hold of the database, and what it leaves in the file."""

import json
import statistics
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import event

from mildladder.core.model import Document, Playbook
from mildladder.core.model.sending import SendEdit
from mildladder.desk.drafts.author import draft_form, send, since
from mildladder.desk.drafts.draft_view import figures_of, review_of
from mildladder.desk.drafts.drafting import become
from mildladder.desk.people import named
from mildladder.store.database import Database

__all__ = ["drafts"]

_CLIENT = "benchpage1"


def drafts(folder: Path, playbook: Playbook, edits: int = 2_000) -> dict[str, Any]:
    """Edits of the texts of one ladder, one after the other; sizes in bytes, times in milliseconds."""
    database = Database(folder / f"drafts-{playbook.id}.db")
    now = datetime(2026, 3, 1, 12, tzinfo=UTC)
    with database.writing() as session:
        who = named(session, "Bench", now)
        become(session, Document(playbook=playbook, origins={}), "Begun", who, now)
    before = _bytes(database)
    with database.reading() as session:
        rungs = [rung["key"] for rung in draft_form(session, playbook.id, who).form["ladder"]]
    holds = _watch_holds(database)
    sent, whole, answers = [], [], []
    had: dict[str, str | None] = dict.fromkeys(rungs)
    for number in range(1, edits + 1):
        key = rungs[number % len(rungs)]
        text = f"Stands here because of reason {number}"
        operation = {"op": "set", "key": key, "path": ["note"], "was": had[key], "value": text}
        had[key] = text
        body = SendEdit.model_validate(
            {
                "client": _CLIENT,
                "number": number,
                "base": number,
                "group": f"bench-{number:05}",
                "operations": [operation],
            }
        )
        began = time.perf_counter()
        send(database, playbook.id, body, who, now + timedelta(seconds=number))
        sent.append(time.perf_counter() - began)
        if number <= 200:
            with database.reading() as session:
                answer = since(session, playbook.id, number, who, _CLIENT, answered=body)
            answers.append(len(answer.model_dump_json(by_alias=True)))
            whole.append(time.perf_counter() - began)
    figures = [_timed(database, what, playbook.id) for what in (figures_of, review_of)]
    taken = {
        "edits": edits,
        "edit_ms": _spread(sent),
        "edit_and_answer_ms": _spread(whole),
        "longest_answer_bytes": max(answers),
        "hold_ms": _spread(holds),
        "stored_kb": round((_bytes(database) - before) / 1000),
        "figures_ms": round(figures[0] * 1000),
        "review_ms": round(figures[1] * 1000),
    }
    database.close()
    return taken


def _timed(database: Database, what: Any, playbook_id: str) -> float:
    began = time.perf_counter()
    with database.reading() as session:
        json.loads(what(session, playbook_id).model_dump_json(by_alias=True))
    return time.perf_counter() - began


def _watch_holds(database: Database) -> list[float]:
    """For how long the write lock was held, from the first writing statement of each transaction to its end."""
    began: dict[int, float] = {}
    holds: list[float] = []

    @event.listens_for(database.engine, "before_cursor_execute")
    def _first(connection: Any, _cursor: Any, statement: str, *_more: Any) -> None:
        if statement.split(" ", 1)[0] in ("INSERT", "UPDATE", "DELETE"):
            began.setdefault(id(connection.connection.dbapi_connection), time.perf_counter())

    @event.listens_for(database.engine, "commit")
    def _last(connection: Any) -> None:
        since_when = began.pop(id(connection.connection.dbapi_connection), None)
        if since_when is not None:
            holds.append(time.perf_counter() - since_when)

    return holds


def _bytes(database: Database) -> int:
    with database.engine.connect() as connection:
        connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
    return database.path.stat().st_size


def _spread(taken: list[float]) -> dict[str, float]:
    ordered = sorted(one * 1000 for one in taken)
    return {
        "median": round(statistics.median(ordered), 1),
        "p95": round(ordered[int(0.95 * len(ordered)) - 1], 1),
        "most": round(ordered[-1], 1),
    }
