"""Jobs of a served desk, in processes of their own: watched, killed, cancelled, and the server stopped in the middle."""

import errno
import json
import os
import shutil
import signal
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import pytest

from mildladder.api.app import create_app
from mildladder.desk.work.kinds import JOB_KINDS
from mildladder.desk.work.workers import ServedWorkers
from mildladder.exchange.case_lines import write_cases
from mildladder.store.database import Database
from tests.parts import in_part
from tests.samples import case
from tests.serving.desk import Desk, running
from tests.serving.ended import told_to_end_at

COUNT = 4_000
MOST_LOOKS = 20_000
FILE = b"".join(write_cases(case(n, ("clear-hold", "fixed"), days_ago=n % 50, unit=f"U-{n}") for n in range(COUNT)))
DRAFT = "/api/playbooks/gate-arm-up/draft"


@pytest.fixture
def path(tmp_path, templates) -> Path:
    shutil.copy(templates / "sample.db", tmp_path / "desk.db")
    return tmp_path / "desk.db"


def bring_in(desk: Desk) -> int:
    """The number of the work of a large file."""
    desk.sit_down()
    status, job = desk.ask("POST", "/api/imports?source=office.jsonl&leave_out=true", FILE)
    assert (status, job["state"] in ("waiting", "running"), job["who"]) == (202, True, "I. Vell"), str(job)
    assert desk.ask("POST", "/api/imports?source=office.jsonl&leave_out=true", FILE)[1]["number"] == job["number"]
    return job["number"]


def watch(desk: Desk, number: int, until) -> list[int]:
    """What is done at each look, until something holds of the job."""
    seen = []
    for _ in range(MOST_LOOKS):
        status, job = desk.ask("GET", f"/api/jobs/{number}")
        assert status == 200
        assert not seen or job["done"] >= seen[-1], "progress went back"
        seen.append(job["done"])
        if until(job):
            return seen
        assert job["state"] in ("waiting", "running", "cancelling"), job
    raise AssertionError(f"never came to it: {seen[-1]} done")


def is_in_the_middle(job) -> bool:
    return 0 < job["done"] < COUNT


def is_done(job) -> bool:
    return job["state"] == "done"


def workers_of(pid: int) -> list[int]:
    """The processes that a server's jobs run in: children of its helper, which is the one with children."""
    parents = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                parents[int(entry.name)] = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
            except OSError:
                continue
    helpers = {child for child, parent in parents.items() if parent == pid}
    return [child for child, parent in parents.items() if parent in helpers]


def check_all_is_there(path: Path, number: int) -> None:
    with closing(sqlite3.connect(path)) as database:
        assert database.execute("SELECT count(*), count(DISTINCT id) FROM cases").fetchone() == (COUNT, COUNT)
        assert database.execute("SELECT sum(count) FROM tallies").fetchone() == (COUNT,)
        state, done, of, result = database.execute(
            "SELECT state, done, of, result FROM jobs WHERE number = ?", (number,)
        ).fetchone()
    assert (state, done, of, json.loads(result)["new"]) == ("done", COUNT, COUNT, COUNT)
    assert not list(path.with_name("desk.db-brought").iterdir())


@pytest.mark.long
def test_a_killed_worker_s_import_is_taken_up_and_comes_to_its_end(path):
    with running(path) as desk:
        number = bring_in(desk)
        watch(desk, number, is_in_the_middle)
        (worker, *_) = workers_of(desk.process.pid)
        os.kill(worker, signal.SIGKILL)
        watch(desk, number, is_done)
        assert desk.stop() == 0
    check_all_is_there(path, number)


@pytest.mark.long
@pytest.mark.parametrize("how", in_part([signal.SIGKILL, signal.SIGTERM], 1))
def test_a_server_that_ends_in_the_middle_goes_on_at_its_next_start(path, how):
    with running(path) as desk:
        number = bring_in(desk)
        before = watch(desk, number, is_in_the_middle)
        workers = workers_of(desk.process.pid)
        desk.process.send_signal(how)
        assert desk.process.wait(30) == (0 if how == signal.SIGTERM else -9)
        while any(Path(f"/proc/{worker}").exists() for worker in workers):
            pass
    with running(path) as desk:
        assert watch(desk, number, is_done)[0] >= before[-1]
        assert desk.stop() == 0
    check_all_is_there(path, number)


def test_an_import_goes_on_whenever_the_whole_group_of_processes_is_told_to_end(path):
    """As service managers stop a program: the server, its helper, its workers and theirs get SIGTERM at once."""
    wrong = told_to_end_at(path, FILE, COUNT, [1, COUNT // 2])
    assert not wrong
    check_all_is_there(path, 1)


def test_an_accepted_import_waits_where_no_worker_can_be_started(path, monkeypatch):
    """For want of processes, say; a look every few seconds finds it."""
    monkeypatch.setattr("mildladder.desk.work.workers._LOOK_S", 0.05)
    database = Database(path)
    workers = ServedWorkers(database)
    workers.start()
    begin, failed = workers._begin, []

    def failing(kind):
        if len(failed) < 2:
            failed.append(kind)
            raise OSError(errno.EAGAIN, "Resource temporarily unavailable")
        begin(kind)

    monkeypatch.setattr(workers, "_begin", failing)
    app = create_app(database, workers=workers).test_client()
    app.put("/api/me", json={"person": app.get("/api/me").json["people"][0]["id"]})
    job = app.post("/api/imports?source=a.jsonl", data=FILE)
    assert job.status_code == 202
    for _ in range(MOST_LOOKS):
        if (found := app.get(f"/api/jobs/{job.json['number']}").json)["state"] == "done":
            break
    assert (found["state"], failed) == ("done", ["importing"] * 2)
    workers.close()
    database.close()


def test_what_a_killed_server_of_two_had_begun_is_taken_up_by_the_other(path):
    """Which of them begins it is chance: each looks for work every few seconds."""
    with running(path) as first, running(path) as second:
        number = bring_in(second)
        watch(second, number, is_in_the_middle)
        killed, other = (second, first) if workers_of(second.process.pid) else (first, second)
        workers = workers_of(killed.process.pid)
        assert workers, "one of them has begun it"
        killed.process.kill()
        for worker in workers:
            os.kill(worker, signal.SIGKILL)
        watch(other, number, is_done)
        assert other.stop() == 0
    check_all_is_there(path, number)


def test_a_cancelled_import_is_undone_while_others_are_answered(path):
    with running(path) as desk:
        number = bring_in(desk)
        watch(desk, number, is_in_the_middle)
        assert desk.ask("POST", f"/api/jobs/{number}/cancel", {})[0] == 200
        watch(desk, number, lambda job: job["state"] == "cancelled")
        assert desk.ask("POST", f"/api/jobs/{number}/cancel", {})[0] == 409
        assert desk.ask("GET", "/api/cases-total")[1]["total"] == 0
        assert [job["state"] for job in desk.ask("GET", "/api/jobs")[1]["jobs"]] == ["cancelled"]
        assert desk.stop() == 0


def test_a_question_about_an_order_is_answered_beside_and_after_its_worker_was_killed(path):
    with running(path) as desk:
        desk.sit_down()

        def whole(what: str):
            while (answer := desk.ask("GET", f"{DRAFT}/{what}"))[0] == 202:
                assert answer[1] == {"working": True}
            return answer

        assert whole("curve")[0] == 200
        for worker in workers_of(desk.process.pid):
            behind = os.getpriority(os.PRIO_PROCESS, worker) - os.getpriority(os.PRIO_PROCESS, desk.process.pid)
            assert behind == JOB_KINDS["ordering"].niceness > 0, "the server's own answers come first"
            os.kill(worker, signal.SIGKILL)
        assert whole("order")[1]["exact"]
        assert whole("rungs/99/why")[0] == 422
        assert desk.stop() == 0


def test_an_import_of_the_shell_is_seen_at_the_desk(path, tmp_path):
    (tmp_path / "office.jsonl").write_bytes(FILE)
    command = [sys.executable, "-m", "mildladder.cli", "import", "cases", str(tmp_path / "office.jsonl")]
    with running(path) as desk:
        desk.sit_down()
        with subprocess.Popen([*command, "--db", str(path)], stderr=subprocess.PIPE, text=True) as shell:
            while not (found := desk.ask("GET", "/api/jobs")[1]["jobs"]) or not is_in_the_middle(found[0]):
                assert shell.poll() is None
            assert (found[0]["who"], found[0]["of"], found[0]["phase"]) == ("shell", COUNT, "logging")
            # Whoever sits here is no lead, and did not ask for it.
            assert desk.ask("POST", f"/api/jobs/{found[0]['number']}/cancel", {})[0] == 403
            people = desk.ask("GET", "/api/me")[1]["people"]
            lead = next(person["id"] for person in people if person["role"] == "lead")
            desk.ask("PUT", "/api/me", {"person": lead})
            assert desk.ask("POST", f"/api/jobs/{found[0]['number']}/cancel", {})[0] == 200
            says = shell.communicate()[1]
        assert (shell.returncode, "cancelled this import" in says) == (2, True)
        assert desk.ask("GET", "/api/cases-total")[1]["total"] == 0
        assert desk.stop() == 0
