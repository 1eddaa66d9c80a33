"""Killed at any moment, a desk loses nothing that it acknowledged and leaves nothing half done."""

import random
import shutil
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from sqlalchemy.orm import Session

from mildladder.desk.log.batches import undo_unfinished
from mildladder.store.database import Database
from mildladder.store.drafts import form_at
from mildladder.store.log.rebuild import rebuild
from tests.parts import in_part
from tests.store.test_log_machine import snapshot

ROOT = Path(__file__).parents[2]


def killed(work: str, path: Path, seed: int) -> list[str]:
    """What the desk had acknowledged when it was killed, somewhere in its next thing."""
    rng = random.Random(seed)
    command = [sys.executable, "-m", "tests.store.busy_desk", work, str(path)]
    with subprocess.Popen(command, cwd=ROOT, stdout=subprocess.PIPE, text=True) as process:
        told = [process.stdout.readline().strip() for _ in range(rng.randrange(1, 25))]
        # A few thousand turns of a loop: somewhere in what comes next, by chance and without a clock.
        for _ in range(rng.randrange(200_000)):
            pass
        process.send_signal(signal.SIGKILL)
        told += process.stdout.read().split("\n")
    return [line for line in told if line]


def check(path: Path, told: list[str]) -> None:
    database = Database(path)
    undo_unfinished(database)
    with database.writing() as session:
        execute = session.connection().exec_driver_sql
        assert execute("PRAGMA integrity_check").scalar() == "ok"
        assert execute("PRAGMA foreign_key_check").all() == []
        holds = {
            "climb": set(execute("SELECT id FROM climbs").scalars()),
            "case": set(execute("SELECT id FROM cases").scalars()),
            "revision": {str(n) for n in execute("SELECT number FROM revisions").scalars()},
            "edition": {str(n) for n in execute("SELECT number FROM editions").scalars()},
            "edit": _edits(session),
            "import": {f"{n - 1}" for n in execute("SELECT number FROM imports WHERE state = 'done'").scalars()},
        }
        for what, name in (line.split() for line in told):
            assert what == "logged" or name in holds[what], f"{what} {name}"
        assert execute("SELECT count(*) FROM imports WHERE state NOT IN ('done', 'undone')").scalar() == 0
        assert execute("SELECT count(*) FROM jobs WHERE state NOT IN ('done', 'failed')").scalar() == 0
        undone = "SELECT count(*) FROM cases JOIN imports ON imports.number = brought_by WHERE state = 'undone'"
        assert execute(undone).scalar() == 0
        ended = "SELECT count(*) FROM climbs WHERE ended IS NOT NULL AND case_id NOT IN (SELECT id FROM cases)"
        assert execute(ended).scalar() == 0
        kept = snapshot(session)
        rebuild(session, 14)
        assert snapshot(session) == kept
    database.close()


def _edits(session: Session) -> set[str]:
    """Every edit of a page that is there: once, in its order, and with a form that can be made of all of them."""
    execute = session.connection().exec_driver_sql
    found: set[str] = set()
    for client, following in execute("SELECT client, next FROM draft_clients").all():
        sent = execute("SELECT sent FROM revisions WHERE client = ? ORDER BY number", (client,)).scalars().all()
        assert list(sent) == list(range(1, following))
        found |= {f"{client}-{number}" for number in sent}
    newest = execute("SELECT draft FROM playbooks WHERE id = 'gate-arm-up'").scalar()
    assert newest == execute("SELECT max(number) FROM revisions WHERE playbook_id = 'gate-arm-up'").scalar()
    form_at(session, "gate-arm-up", newest)
    return found


@pytest.mark.parametrize(
    ("work", "seed"),
    in_part(
        [
            (work, seed)
            for seed in range(6)
            for work, times in (("guide", 3), ("import", 3), ("edit", 6))
            if seed < times
        ],
        in_the_suite=5,
    ),
)
def test_nothing_acknowledged_is_lost_and_nothing_is_half_done(work, seed, tmp_path, templates):
    shutil.copy(templates / "sample.db", tmp_path / "desk.db")
    check(tmp_path / "desk.db", killed(work, tmp_path / "desk.db", seed))
