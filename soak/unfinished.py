"""Desks with drafts that are far from finished: how soon they answer, and how long their pages take."""

import http.client
import json
import random
import tempfile
import time
from pathlib import Path
from typing import Any

from mildladder.core.draft.form import random_keys
from mildladder.core.model import Playbook
from mildladder.desk.drafts.drafting import Sender, take
from mildladder.desk.publishing.files import import_playbook
from mildladder.store import drafts
from mildladder.store.database import Database
from tests.conftest import LEAD_ID, sample_desk
from tests.samples import GATE, NOON, gate
from tests.serving.desk import Desk, running

RUNGS, FLAWS, EDITS, DRAFTS = 490, 100, 2_000, 1
MOST_START_S, MOST_LIST_S, MOST_PAGE_S = 5.0, 1.0, 2.0
LARGEST_EDIT, MOST_EDIT_S = 500, 2.0


def prove() -> tuple[dict[str, Any], bool]:
    """A desk of drafts with a hundred flaws each, on five hundred rungs, after two thousand edits."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "desk.db"
        database = sample_desk(path)
        for number in range(DRAFTS):
            _unfinished(database, f"unfinished-{number}", number)
        database.close()
        began = time.perf_counter()
        with running(path) as desk:
            start = time.perf_counter() - began
            first = _seconds(desk.ask, "GET", "/api/me")
            listed = _seconds(desk.ask, "GET", "/api/symptoms")
            pages = {
                part: _seconds(desk.ask, "GET", f"/api/playbooks/unfinished-0/draft{part}")
                for part in ("", "/figures", "/review")
            }
            again = _seconds(desk.ask, "GET", "/api/symptoms")
            _finished(path, "finished")
            edits = _large_edits(desk, "finished")
            ended = desk.stop()
    figures = {
        "drafts": DRAFTS,
        "rungs": RUNGS,
        "flaws": FLAWS,
        "edits": EDITS,
        "start_s": round(start, 2),
        "first_answer_s": first,
        "symptoms_s": listed,
        "symptoms_again_s": again,
        "pages_s": {name or "/form": seconds for name, seconds in pages.items()},
        "edits_s": edits,
    }
    is_quick = (
        start <= MOST_START_S
        and listed <= MOST_LIST_S
        and max(pages.values()) <= MOST_PAGE_S
        and max(edits.values()) <= MOST_EDIT_S
    )
    return figures, is_quick and ended == 0


def _large_edits(desk: Desk, name: str) -> dict[str, float]:
    """Seconds for the largest edit there may be, for undoing it, and for bringing back the edition that was before."""
    desk.sit_down()
    path = f"/api/playbooks/{name}/draft"
    form = desk.ask("GET", path)[1]["form"]
    reasons = [
        {"op": "set", "key": rung["key"], "path": ["note"], "was": rung.get("note"), "value": f"Reason {number}"}
        for number, rung in enumerate(form["ladder"])
    ]
    steps = form["steps"][: LARGEST_EDIT - len(reasons)]
    titles = [
        {"op": "set", "key": step["key"], "path": ["title"], "was": step["title"], "value": f"Called {number}"}
        for number, step in enumerate(steps)
    ]
    base = desk.ask("GET", path)[1]["revision"]
    found = {}
    edits = {
        "500_operations": {"operations": [*reasons, *titles]},
        "undo_of_them": {"undo": "largest-1"},
        "redo_of_them": {"undo": "largest-2"},
        "edition_brought_back": {"deed": {"kind": "edition", "edition": 1}},
    }
    for number, (what, edit) in enumerate(edits.items(), start=1):
        sent = {"client": "largestedits", "number": number, "base": base, "group": f"largest-{number}"}
        found[what] = _seconds(desk.ask, "POST", f"{path}/edits", {**sent, **edit})
    return found


def _seconds(ask: Any, *what: Any) -> float:
    began = time.perf_counter()
    status, answer = ask(*what)
    assert status == http.client.OK, (what, status, json.dumps(answer)[:300])
    return round(time.perf_counter() - began, 3)


def _unfinished(database: Database, name: str, seed: int) -> None:
    """A draft in which titles were emptied that never had another one, and as many more edits were made."""
    rng = random.Random(seed)
    with database.writing() as session:
        import_playbook(session, _playbook(name), LEAD_ID, NOON, "file", None)
    key = random_keys(rng.randrange)
    with database.reading() as session:
        form = drafts.form_at(session, name, 1)
    steps = [step["key"] for step in form["steps"]]
    edits = [{"op": "set", "key": step, "path": ["title"], "was": None, "value": ""} for step in steps[-FLAWS:]]
    titles = {step["key"]: step["title"] for step in form["steps"]}
    for number in range(EDITS):
        with database.writing() as session:
            if number < FLAWS:
                edit = {**edits[number], "was": titles[edits[number]["key"]]}
            else:
                step = rng.choice(steps[:-FLAWS])
                edit = {"op": "set", "key": step, "path": ["title"], "was": titles[step], "value": f"Title {number}"}
                titles[step] = edit["value"]
            taken = take(session, name, Sender(key(), 1, f"g-{number}", LEAD_ID), [edit], NOON)
        drafts.remember(database, name, taken.row.number, taken.tree)


def _finished(path: Path, name: str) -> None:
    """A playbook as large, published beside the running desk."""
    database = Database(path)
    with database.writing() as session:
        import_playbook(session, _playbook(name), LEAD_ID, NOON, None, "As it was")
    database.close()


def _playbook(name: str) -> Playbook:
    fixes = [{**GATE["steps"][1], "id": f"fix-{number}", "title": f"Fix {number}"} for number in range(RUNGS)]
    rungs = [{"step": f"fix-{number}"} for number in range(RUNGS - len(GATE["ladder"]))]
    return gate(id=name, steps=[*GATE["steps"], *fixes], ladder=[*GATE["ladder"], *rungs])
