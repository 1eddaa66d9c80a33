"""Three pages on one draft over a line that loses, doubles and delays, a hundred times a thousand edits."""

import shutil
import tempfile
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

from mildladder.api.app import create_app
from mildladder.store.database import Database
from tests.api.draft_line import DRAFT, simulate
from tests.api.test_draft_line import people
from tests.conftest import sample_desk

SEEDS, EDITS = 100, 1000


def walked(seed: int) -> tuple[int, list[str]]:
    """How many revisions came of it, and what was wrong."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "desk.db"
        sample_desk(path).close()
        database = Database(path)
        browsers = people(create_app(database), database)
        wrong = simulate(browsers, seed, EDITS)
        revision = browsers[0][0].get(DRAFT).json["revision"]
        database.close()
        shutil.rmtree(folder, ignore_errors=True)
    return revision, wrong


def prove() -> tuple[dict[str, Any], bool]:
    """All pages end in the tree of the server, and every text is held."""
    with ProcessPoolExecutor(2) as pool:
        made = list(pool.map(walked, range(1000, 1000 + SEEDS)))
    wrong = [one for _, some in made for one in some]
    figures = {"seeds": SEEDS, "edits_each": EDITS, "revisions": sum(one for one, _ in made), "wrong": wrong[:40]}
    return figures, not wrong
