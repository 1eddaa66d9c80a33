"""A served desk whose whole group of processes is told to end, again and again, in the middle of one import."""

import os
import signal
import sqlite3
from collections.abc import Sequence
from contextlib import closing
from pathlib import Path
from typing import Any

from tests.serving.desk import PATIENCE_S, Desk, running

_MOST_LOOKS = 200_000


def told_to_end_at(path: Path, file: bytes, count: int, moments: Sequence[int]) -> list[str]:
    """Bring a file of so many cases in, and end all of the server's processes each time that so many cases are logged;
    what went wrong."""
    wrong: list[str] = []
    number: int | None = None
    for moment in moments:
        with running(path, start_new_session=True) as desk:
            if number is None:
                desk.sit_down()
                number = desk.ask("POST", "/api/imports?source=office.jsonl&leave_out=true", file)[1]["number"]
            _watch(desk, number, moment)
            group = _group(desk.process.pid)
            os.killpg(desk.process.pid, signal.SIGTERM)
            if desk.process.wait(PATIENCE_S) != 0:
                wrong.append(f"{moment}: ended with {desk.process.returncode}")
            while any(Path(f"/proc/{member}").exists() for member in group):
                pass
        state, tries, done = _job(path, number)
        if (state, tries) != ("waiting", 0) and done < count:
            wrong.append(f"{moment}: left {state} after {tries} tries in vain, {done} logged")
    assert number is not None
    with running(path) as desk:
        _watch(desk, number, count)
        desk.stop()
    state, tries, done = _job(path, number)
    if (state, tries, done) != ("done", 0, count):
        wrong.append(f"in the end: {state} after {tries} tries in vain, {done} logged")
    return wrong


def _watch(desk: Desk, number: int, done: int) -> None:
    for _ in range(_MOST_LOOKS):
        job: Any = desk.ask("GET", f"/api/jobs/{number}")[1]
        if job["done"] >= done and (job["state"] == "done" or done < job["of"] if job["of"] else done == 0):
            return
        assert job["state"] in ("waiting", "running"), job
    raise AssertionError(f"it never came to {done}")


def _group(leader: int) -> list[int]:
    """The processes of a group."""
    found = []
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                group = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[2])
            except OSError:
                continue
            if group == leader:
                found.append(int(entry.name))
    return found


def _job(path: Path, number: int) -> tuple[str, int, int]:
    with closing(sqlite3.connect(path)) as database:
        found = database.execute("SELECT state, tries, done FROM jobs WHERE number = ?", (number,)).fetchone()
    return found[0], found[1], found[2]
