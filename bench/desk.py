"""The Desk over two hundred symptoms: what its page asks for, on a log of any size."""

from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

from bench.log import NOW, made, p95
from mildladder.api.app import create_app
from mildladder.demo.desk import UNPUBLISHED, playbooks
from mildladder.desk.files import import_playbook
from mildladder.desk.settings import return_window
from mildladder.store.database import Database
from mildladder.store.log.rows import LoggedCase, load_cases
from mildladder.store.log.writing import Logging, log_cases

__all__ = ["desk"]

_FEW = 20_000
_SYMPTOMS = 204
_BATCH = 500
# What the page of a lead asks for.
_ASKED = ("symptoms", "nudges", "first-ladders", "month", "climbs", "remarks", "notices", "left-out")


def desk(folder: Path, cases: int) -> dict[str, Any]:
    """95th percentile of each answer in milliseconds, and of all one after the other; how many symptoms there are."""
    database, _ = made(folder / "many.db", min(cases, _FEW))
    symptoms = _many_symptoms(database, cases)
    client = create_app(database, now=lambda: NOW).test_client()
    client.put("/api/me", json={"person": client.get("/api/me").json["people"][0]["id"]})

    def all_of_it() -> None:
        for part in _ASKED:
            assert client.get(f"/api/{part}").status_code == 200, part

    figures = {
        "cases": client.get("/api/cases-total").json["total"],
        "symptoms": symptoms,
        "p95_ms": {part: p95(lambda part=part: client.get(f"/api/{part}"), 20) for part in _ASKED},
        "all_p95_ms": p95(all_of_it, 20),
    }
    database.close()
    return figures


def _many_symptoms(database: Database, cases: int) -> int:
    """The demo's symptoms again under other names, published like them, until there are so many; their cases likewise."""
    known = list(playbooks())
    copies = _SYMPTOMS // len(known)
    with database.writing() as session:
        for copy in range(1, copies):
            for one in known:
                named = one.model_copy(update={"id": f"{one.id}-{copy}", "title": f"{one.title}, line {copy}"})
                note = None if one.id in UNPUBLISHED else "First edition"
                import_playbook(session, named, 1, NOW - timedelta(days=700), None, note)
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
