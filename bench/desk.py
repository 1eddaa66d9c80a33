"""The Desk over two hundred symptoms: what its page asks for, on a log of any size."""

import time
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, undefer

from bench.log import NOW, made, p95
from mildladder.api.app import create_app
from mildladder.demo.desk import UNPUBLISHED, playbooks
from mildladder.desk.jobs.queue import Kind, Workers
from mildladder.desk.publishing.files import import_playbook
from mildladder.desk.settings import return_window
from mildladder.desk.work.kinds import InlineWorkers
from mildladder.store import jobs
from mildladder.store.database import Database
from mildladder.store.log.rows import LoggedCase, load_cases
from mildladder.store.log.writing import Logging, log_cases
from mildladder.store.tables import JobRow

__all__ = ["desk"]

_FEW = 20_000
_SYMPTOMS = 204
_BATCH = 500
# What the page of a lead asks for.
_ASKED = ("symptoms", "nudges", "first-ladders", "month", "climbs", "remarks", "notices", "left-out")


class _Nobody:
    """Carries out nothing: what is worked out beside the page is measured for itself."""

    def notify(self, kind: Kind) -> None:
        """There is work of that kind."""


def desk(folder: Path, cases: int) -> dict[str, Any]:
    """95th percentile of each answer in milliseconds, and of all one after the other; how many symptoms there are.
    first_ms: of all of it, when nothing has been read yet."""
    database, _ = made(folder / "many.db", min(cases, _FEW))
    # What to do next is worked out for the demo's symptoms, and shown for each of their copies.
    assert _client(database, InlineWorkers(database)).get("/api/nudges").json["waiting"] == 0
    longest = _longest(database)
    symptoms = _many_symptoms(database, cases)
    client = _client(database, _Nobody())

    def all_of_it() -> None:
        for part in _ASKED:
            assert client.get(f"/api/{part}").status_code == 200, part

    began = time.perf_counter()
    all_of_it()
    figures = {
        "first_ms": round(1000 * (time.perf_counter() - began)),
        "cases": client.get("/api/cases-total").json["total"],
        "symptoms": symptoms,
        "longest_nudges_of_a_symptom_s": longest,
        "p95_ms": {part: p95(lambda part=part: client.get(f"/api/{part}"), 20) for part in _ASKED},
        "all_p95_ms": p95(all_of_it, 20),
    }
    database.close()
    return figures


def _longest(database: Database) -> float:
    """Seconds that what to do next of one symptom took at most."""
    with database.reading() as session:
        rows = session.scalars(select(JobRow).where(JobRow.kind == "nudging", JobRow.state == "done")).all()
        return max((row.ended - row.began).total_seconds() for row in rows if row.began and row.ended)


def _client(database: Database, workers: Workers) -> Any:
    client = create_app(database, now=lambda: NOW, workers=workers).test_client()
    client.put("/api/me", json={"person": client.get("/api/me").json["people"][0]["id"]})
    return client


def _many_symptoms(database: Database, cases: int) -> int:
    """The demo's symptoms and their cases again under other names, published like them; how many there are then."""
    known = list(playbooks())
    copies = _SYMPTOMS // len(known)
    with database.writing() as session:
        for copy in range(1, copies):
            for one in known:
                named = one.model_copy(update={"id": f"{one.id}-{copy}", "title": f"{one.title}, line {copy}"})
                note = None if one.id in UNPUBLISHED else "First edition"
                import_playbook(session, named, 1, NOW - timedelta(days=700), None, note)
                _answer_like(session, one.id, named.id)
    with database.reading() as session:
        numbers = range(1, _FEW + 1)
        originals = load_cases(session.connection(), "number", numbers)
        window = return_window(session)
    logged, lines = len(originals), _lines(originals, copies)
    while logged < cases:
        batch = [next(lines) for _ in range(min(_BATCH, cases - logged))]
        with database.writing() as session:
            log_cases(session, (case for case in batch), Logging("demo", 1, NOW, window))
        logged += len(batch)
    return copies * len(known)


def _answer_like(session: Session, known: str, named: str) -> None:
    """What to do next of one symptom, as that of another."""
    query = select(JobRow).where(JobRow.kind == "nudging", JobRow.subject == known, JobRow.state == "done")
    for row in session.scalars(query.options(undefer(JobRow.result))).all():
        again = jobs.add(session, "nudging", named, 0, row.input, None, NOW)
        again.state, again.result = "done", row.result


def _lines(originals: list[LoggedCase], copies: int) -> Iterator[Any]:
    """The cases again and again, each time of another line of symptoms and on units of their own."""
    number = 0
    while True:
        number += 1
        line = number % copies
        for one in originals:
            case = one.case
            symptom = f"{case.symptom}-{line}" if line else case.symptom
            yield case.model_copy(
                update={
                    "case": f"{case.case}-{number}",
                    "symptom": symptom,
                    "unit": f"{case.unit}-{number}" if case.unit else None,
                    "playbook": None,
                    "edition": None,
                    "edition_hash": None,
                }
            )
