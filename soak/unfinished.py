"""Desks with drafts that are far from finished: how soon they answer, and how long their pages take."""

import http.client
import json
import random
import tempfile
import time
from pathlib import Path
from typing import Any

from mildladder.core.draft.form import keys_from
from mildladder.desk.drafts.drafting import Sender, take
from mildladder.desk.publishing.files import import_playbook
from mildladder.store import drafts
from mildladder.store.database import Database
from tests.conftest import LEAD_ID, sample_desk
from tests.samples import GATE, NOON, gate
from tests.serving.desk import running

RUNGS, FLAWS, EDITS, DRAFTS = 490, 100, 2_000, 1
MOST_START_S, MOST_LIST_S, MOST_PAGE_S = 5.0, 1.0, 2.0


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
    }
    is_held = start <= MOST_START_S and listed <= MOST_LIST_S and max(pages.values()) <= MOST_PAGE_S and ended == 0
    return figures, is_held


def _seconds(ask: Any, *what: str) -> float:
    began = time.perf_counter()
    status, answer = ask(*what)
    assert status == http.client.OK, (what, status, json.dumps(answer)[:300])
    return round(time.perf_counter() - began, 3)


def _unfinished(database: Database, name: str, seed: int) -> None:
    """A draft in which titles were emptied that never had another one, and as many more edits were made."""
    rng = random.Random(seed)
    fixes = [{**GATE["steps"][1], "id": f"fix-{number}", "title": f"Fix {number}"} for number in range(RUNGS)]
    rungs = [{"step": f"fix-{number}"} for number in range(RUNGS - len(GATE["ladder"]))]
    with database.writing() as session:
        playbook = gate(id=name, steps=[*GATE["steps"], *fixes], ladder=[*GATE["ladder"], *rungs])
        import_playbook(session, playbook, LEAD_ID, NOON, "file", None)
    key = keys_from(rng.randrange)
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
