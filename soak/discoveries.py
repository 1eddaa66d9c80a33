"""Five desks on which the made-up desk's kinds of discovery are planted elsewhere, and the made-up desk itself: all of
them are told, and nothing that is not so."""

import tempfile
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

from sqlalchemy.orm import Session

from mildladder.demo.desk import CASES, LEAD, fill
from mildladder.demo.truth import TRUTHS
from mildladder.desk.documents import document
from mildladder.desk.people import add_person, everybody
from mildladder.store.database import Database
from tests.demo.planted import Planted, log_cases_of, planted
from tests.demo.readings import Reading, read
from tests.samples import NOON

SEEDS = range(1, 6)
MADE_UP = 0
_LEAST_HELD = 0.86
_MOST_FALSE = 0.05


def _desk(seed: int) -> dict[str, Any]:
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "desk.db")
        reading = _made_up(database) if seed == MADE_UP else _planted(database, seed)
        made, false = reading.claims()
        held, figures = reading.held()
        database.close()
    return {
        "desk": f"seed {seed}" if seed != MADE_UP else "the made-up desk",
        "planted": len(reading.desk.spots),
        "missed": reading.missed(),
        "claims": made,
        "not_so": false,
        "figures": figures,
        "held": held,
    }


def _planted(database: Database, seed: int) -> Reading:
    with database.writing() as session:
        lead = add_person(session, LEAD, "lead", None, NOON).id
    return read(log_cases_of(planted(seed), database, CASES, NOON, 100 + seed), database, lead, NOON)


def _made_up(database: Database) -> Reading:
    """What is told there is looked for by the tests in the browser; here, whether it is so."""
    with database.writing() as session:
        fill(session, CASES, NOON)
        drafts = {name: document(session, name, "draft") for name in TRUTHS}
        lead = _lead(session)
    return read(Planted(drafts, dict(TRUTHS), ()), database, lead, NOON)


def _lead(session: Session) -> int:
    return next(one.id for one in everybody(session) if one.name == LEAD)


def prove() -> tuple[dict[str, Any], bool]:
    """Every planted discovery is told; of all that is claimed at most one in twenty is not so; the intervals of *if
    tried first* hold what is really so in 86 % and more, the causes as common as they happened to be."""
    with ProcessPoolExecutor(2) as pool:
        desks = list(pool.map(_desk, (MADE_UP, *SEEDS)))
    made, false = sum(one["claims"] for one in desks), sum(len(one["not_so"]) for one in desks)
    held = sum(one["held"] for one in desks) / sum(one["figures"] for one in desks)
    figures = {"cases_each": CASES, "claims": made, "not_so": false, "held_of_first": round(held, 3), "desks": desks}
    is_held = not any(one["missed"] for one in desks) and false <= _MOST_FALSE * made and held >= _LEAST_HELD
    return figures, is_held
