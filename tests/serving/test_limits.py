"""A desk whose disk is full, whose file is damaged or newer: told in plain words, and read as far as it can be."""

import resource
import shutil
import sqlite3
import subprocess
import sys
from contextlib import closing

from tests.serving.desk import running

COMMAND = [sys.executable, "-m", "mildladder.cli"]


def test_a_full_disk_refuses_writes_and_answers_readers(tmp_path, templates):
    path = tmp_path / "desk.db"
    shutil.copy(templates / "sample.db", path)
    with running(path) as desk:
        desk.sit_down()
        used = path.stat().st_size
        resource.prlimit(desk.process.pid, resource.RLIMIT_FSIZE, (used // 2, resource.RLIM_INFINITY))
        told = []
        for number in range(60):
            body = {"id": f"climb-{number:04}", "playbook": "gate-arm-up", "started": {"said": "x" * 3_000}}
            told.append(desk.ask("POST", "/api/climbs", body))
        assert {status for status, _ in told} == {201, 503}
        assert all("nothing was changed" in body["detail"] for status, body in told if status == 503)
        assert desk.ask("GET", "/api/symptoms")[0] == 200
        begun = {one["id"] for one in desk.ask("GET", "/api/climbs")[1]["climbs"]}
        assert begun == {body["id"] for status, body in told if status == 201}
        resource.prlimit(desk.process.pid, resource.RLIMIT_FSIZE, (resource.RLIM_INFINITY, resource.RLIM_INFINITY))
        assert desk.stop() == 0
    with closing(sqlite3.connect(path)) as after:
        assert after.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        assert {row[0] for row in after.execute("SELECT id FROM climbs")} == begun


def test_serving_a_damaged_desk_says_so_at_once(tmp_path, templates):
    path = tmp_path / "desk.db"
    shutil.copy(templates / "sample.db", path)
    with closing(sqlite3.connect(path)) as whole:
        (page,) = whole.execute("SELECT rootpage FROM sqlite_master WHERE name = 'imports'").fetchone()
    with path.open("r+b") as file:
        file.seek((page - 1) * 4096)
        file.write(b"\xff" * 4096)
    with running(path) as desk:
        assert desk.ask("GET", "/api/symptoms")[0] == 200
        assert desk.stop() == 0
    done = subprocess.run(
        [*COMMAND, "import", "cases", "-", "--db", str(path)], input=b"", capture_output=True, check=False
    )
    assert (done.returncode, b"can only be read: it is damaged" in done.stderr) == (2, True)
    assert done.stderr.count(b"\n") == 1


def test_serving_a_newer_desk_is_refused_in_one_line(tmp_path, templates):
    path = tmp_path / "desk.db"
    shutil.copy(templates / "sample.db", path)
    with closing(sqlite3.connect(path)) as newer:
        newer.execute("UPDATE alembic_version SET version_num = '9999'")
        newer.commit()
    done = subprocess.run([*COMMAND, "serve", "--port", "0", "--db", str(path)], capture_output=True, check=False)
    assert (done.returncode, b"newer version" in done.stderr, done.stderr.count(b"\n")) == (2, True, 1)


def test_what_cannot_be_written_out_is_told_in_one_line(tmp_path, templates):
    path = tmp_path / "desk.db"
    shutil.copy(templates / "sample.db", path)
    for more in ([], ["--archive", "/dev/full"]):
        with open("/dev/full", "wb") as full:
            command = [*COMMAND, "export", "playbook", "gate-arm-up", "--db", str(path), *more]
            done = subprocess.run(command, stdout=full, stderr=subprocess.PIPE, check=False)
        assert (done.returncode, b"No space left" in done.stderr, done.stderr.count(b"\n")) == (2, True, 1)


def test_a_file_without_end_is_no_file_of_cases(tmp_path, templates):
    path = tmp_path / "desk.db"
    shutil.copy(templates / "sample.db", path)
    command = [*COMMAND, "import", "cases", "/dev/zero", "--leave-out", "--db", str(path)]
    done = subprocess.run(command, capture_output=True, check=False)
    assert (done.returncode, b"this is no file of cases" in done.stderr, done.stderr.count(b"\n")) == (2, True, 1)
    with closing(sqlite3.connect(path)) as after:
        assert after.execute("SELECT count(*) FROM imports WHERE state = 'running'").fetchone() == (0,)
