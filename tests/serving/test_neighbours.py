"""Slow, idle and stuck connections keep nobody else waiting; SIGTERM cuts nothing off."""

import http.client
import shutil
import sqlite3
import stat
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing, contextmanager
from pathlib import Path

import pytest

from tests.serving.desk import Desk, running

START = {"id": "climb-{:04}", "playbook": "gate-arm-up", "started": {}}


@contextmanager
def sample(folder: Path, templates: Path) -> Iterator[Desk]:
    shutil.copy(templates / "sample.db", folder / "desk.db")
    with running(folder / "desk.db") as desk:
        desk.sit_down()
        yield desk


@pytest.fixture
def served(tmp_path: Path, templates: Path) -> Iterator[Desk]:
    """A desk for one test alone."""
    with sample(tmp_path, templates) as desk:
        yield desk


@pytest.fixture(scope="module")
def shared(tmp_path_factory, templates: Path) -> Iterator[Desk]:
    """A desk to which many things are sent that change nothing."""
    with sample(tmp_path_factory.mktemp("shared"), templates) as desk:
        yield desk


def start(number: int) -> dict:
    return {"id": f"climb-{number:04}", "playbook": "gate-arm-up", "started": {}}


@pytest.fixture
def locked(served: Desk) -> Iterator[sqlite3.Connection]:
    """Somebody else's transaction, which holds the database until it is closed."""
    with closing(sqlite3.connect(served.path, isolation_level=None)) as other:
        other.execute("BEGIN IMMEDIATE")
        yield other


def test_readers_are_answered_while_writers_are_stuck(served, locked):
    with ThreadPoolExecutor(40) as pool:
        writers = [pool.submit(served.ask, "POST", "/api/climbs", start(number)) for number in range(40)]
        readers = [served.ask("GET", path)[0] for _ in range(5) for path in ("/api/symptoms", "/api/cases", "/api/me")]
        assert set(readers) == {200}
        assert not all(writer.done() for writer in writers), "some still wait for the lock"
        locked.execute("ROLLBACK")
        answers = [writer.result() for writer in writers]
    assert {status for status, _ in answers} <= {201, 503}
    told = [body["detail"] for status, body in answers if status == 503]
    assert all("nothing was changed" in says for says in told)
    begun = sum(status == 201 for status, _ in answers)
    assert len(served.ask("GET", "/api/climbs")[1]["climbs"]) == begun


def test_many_who_write_at_once_wait_their_turn(served):
    """None of them is sent away because others were before it."""
    with ThreadPoolExecutor(16) as pool:
        answers = list(pool.map(lambda number: served.ask("POST", "/api/climbs", start(number)), range(16)))
    assert {status for status, _ in answers} == {201}


def test_what_writes_nothing_needs_no_turn(served, locked):
    """While others hold the database and every thread for writers waits for it."""
    with ThreadPoolExecutor(12) as pool:
        stuck = [pool.submit(served.ask, "POST", "/api/climbs", start(number)) for number in range(12)]
        words = {"text": "Wipe it, 5 min", "playbook": None}
        assert served.ask("POST", "/api/quick-words", words)[0] == 200
        condition = {"text": "model is GR4"}
        assert served.ask("POST", "/api/playbooks/gate-arm-up/draft/condition", condition)[0] == 200
        served.sit_down()
        assert not any(one.done() for one in stuck)
        locked.execute("ROLLBACK")


def test_a_head_that_asks_to_go_on_is_told_to_and_one_that_nobody_can_read_is_refused(shared):
    head = f"PUT /api/me HTTP/1.1\r\nHost: {shared.host}:{shared.port}\r\nContent-Type: application/json\r\n"
    with shared.open() as one:
        for _ in range(2):
            one.sendall(f"{head}Content-Length: 12\r\nExpect: 100-continue\r\n\r\n".encode())
            assert one.recv(25).startswith(b"HTTP/1.1 100 ")
            one.sendall(b'{"person":1}')
            answer = http.client.HTTPResponse(one)
            answer.begin()
            assert (answer.status, b"person" in answer.read()) == (200, True)
    with shared.open(f"{head}Content-Length: {'9' * 5_000}\r\n\r\n".encode()) as other:
        assert other.recv(4000).startswith(b"HTTP/1.1 400 ")


def test_idle_and_dribbling_connections_shut_nobody_out(served):
    idle = [served.open() for _ in range(250)]
    slow = [
        served.open(b"POST /api/people HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 99\r\n\r\n{") for _ in range(50)
    ]
    slow += [served.open(b"GET /api/symptoms HTT") for _ in range(50)]
    assert served.ask("GET", "/api/symptoms")[0] == 200
    assert served.ask("POST", "/api/climbs", start(1))[0] == 201
    for one in (*idle, *slow):
        one.close()


def test_sigterm_finishes_what_is_being_answered_and_leaves_nothing_in_the_log(served, locked):
    with served.open(served.request("POST", "/api/climbs", start(7))) as waiting:
        assert served.ask("GET", "/api/me")[0] == 200, "it took the write before"
        served.process.terminate()
        locked.execute("ROLLBACK")
        answer = waiting.makefile("rb").read()
    assert answer.startswith(b"HTTP/1.1 201 ")
    locked.close()
    assert served.process.wait(30) == 0
    log = served.path.with_name("desk.db-wal")
    assert not log.exists() or log.stat().st_size == 0
    with closing(sqlite3.connect(served.path)) as after:
        assert after.execute("SELECT count(*) FROM climbs WHERE id = 'climb-0007'").fetchone() == (1,)


def test_a_stopped_server_takes_no_more(served):
    assert served.stop() == 0
    with pytest.raises(ConnectionRefusedError):
        served.open()


def test_nobody_else_may_read_the_desk(served, tmp_path, templates):
    served.ask("POST", "/api/climbs", start(1))
    modes = {file.name: stat.S_IMODE(file.stat().st_mode) for file in tmp_path.glob("desk.db*")}
    assert set(modes) >= {"desk.db", "desk.db-wal", "desk.db-shm", "desk.db-key"}
    assert set(modes.values()) == {0o600}
    with running(tmp_path / "new" / "folder" / "desk.db"):
        assert stat.S_IMODE((tmp_path / "new" / "folder").stat().st_mode) == 0o700
    with closing(sqlite3.connect(served.path)) as database:
        assert database.execute("SELECT count(*) FROM settings WHERE name = 'cookie_key'").fetchone() == (0,)


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("POST", "/api/people", 100_000 * b"["),
        ("POST", "/api/people", 100_000 * b'{"a":'),
        ("POST", "/api/people", b'{"name": "A", "role": ' + 1_000_000 * b"9" + b"}"),
        ("POST", "/api/people", b"\xff"),
        ("POST", "/api/people", b'{"name": NaN, "role": "lead"}'),
        ("GET", "/api/playbooks/gate-arm-up/compare?before=%C2%B2", None),
        ("GET", "/api/playbooks/gate-arm-up/compare?before=1&after=%D9%A1", None),
        ("GET", "/api/cases?after=%C2%B2", None),
        ("GET", "/api/cases?rank=1e9", None),
        ("GET", "/api/cases?words=%00%22%27*", None),
        ("GET", "/" + 20_000 * "a", None),
    ],
)
def test_what_nobody_should_send_is_no_fault_of_the_desk(shared, method, path, body):
    status, _ = shared.ask(method, path, body)
    assert status < 500
