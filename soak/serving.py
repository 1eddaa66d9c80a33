"""The served desk under many: two hundred clients, twenty editors, slow and idle connections, SIGTERM in mid-answer."""

import http.client
import json
import random
import statistics
import tempfile
import threading
import time
from collections import Counter
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from mildladder.demo.desk import fill
from mildladder.store.database import Database
from tests.serving.desk import Desk, running

NOW = datetime(2026, 11, 20, 12, 0, tzinfo=UTC)
CLIENTS, PAUSE_S, SECONDS = 200, 2.0, 20.0
EDITORS, SLOW, IDLE, STOPS, GENERATED = 20, 50, 200, 20, 5_000
PLAYBOOK = "gate-arm-up"
DRAFT = f"/api/playbooks/{PLAYBOOK}/draft"
# What the clients ask for, and how often of a hundred: mostly reading, as people do.
MIX = (
    (25, "GET", "/api/symptoms"),
    (20, "GET", "/api/cases?words=lane"),
    (10, "GET", "/api/cases-total?words=lane"),
    (10, "GET", f"/api/playbooks/{PLAYBOOK}/evidence"),
    (10, "GET", DRAFT),
    (10, "GET", "/api/climbs"),
    (15, "POST", "/api/climbs"),
)
# What generated requests are made of, and what they are not.
WORDS = (
    "api", "cases", "playbooks", PLAYBOOK, "draft", "move", "editions", "climbs", "people", "me", "compare", "²", "..",
    "%00", "%ff", "\u202e", 300 * "a", "-1", "1e9", "steps", "merge", "order", "rungs", "0", "why",
)  # fmt: skip
BODIES = (
    b"", b"{", 5_000 * b"[", b"null", b'"x"', b"7", b'{"id": null}', b"\xff\xfe", 3_000 * b'{"a":',
    b'{"name": "N. Oake", "role": "lead"}', b'{"source": 1e99, "target": -1}', b'{"kind": "fact"}',
)  # fmt: skip


class _Told:
    """What was answered, to whom and how soon."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.statuses: Counter[int] = Counter()
        self.reads: list[float] = []

    def note(self, method: str, status: int, seconds: float) -> None:
        with self.lock:
            self.statuses[status] += 1
            if method == "GET":
                self.reads.append(seconds)


def prove() -> tuple[dict[str, Any], bool]:
    """No 5xx but a clear 503, nothing acknowledged lost, 95 of 100 readers answered within a second."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "desk.db"
        database = Database(path)
        with database.writing() as session:
            fill(session, 2_000, NOW)
        database.close()
        told, begun = _under_many(path)
        edits = _editors(path)
        generated = _generated(path)
        stops = _stopped(path)
    p95 = 1000 * statistics.quantiles(told.reads, n=20)[-1]
    figures = {
        "clients": CLIENTS, "pause_s": PAUSE_S, "for_s": SECONDS, "slow": SLOW, "idle": IDLE,
        "mix_percent": {f"{method} {place}": share for share, method, place in MIX},
        "answers": sum(told.statuses.values()),
        "statuses": {str(status): count for status, count in sorted(told.statuses.items())},
        "readers_p95_ms": round(p95), "readers_longest_ms": round(1000 * max(told.reads)),
        "begun_and_lost": begun,
        "editors": edits,
        "generated": generated,
        "stops": stops,
    }  # fmt: skip
    bad = [status for status in told.statuses if status >= 500 and status != 503]
    is_held = (
        not bad and p95 <= 1000 and begun == 0 and edits["lost"] == 0 and not generated["faults"]
        and stops["not_zero"] == stops["lost"] == 0
    )  # fmt: skip
    return figures, is_held


def _under_many(path: Path) -> tuple[_Told, int]:
    """Everybody at once; how many cases were begun, by what was answered, that the desk does not have."""
    told, acknowledged = _Told(), set[str]()
    with running(path) as desk:
        desk.sit_down()
        held = [desk.open() for _ in range(IDLE)]
        held += [desk.open(b"POST /api/people HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Le") for _ in range(SLOW)]
        deadline = time.monotonic() + SECONDS
        clients = [
            threading.Thread(target=_client, args=(desk, number, deadline, told, acknowledged))
            for number in range(CLIENTS)
        ]
        for client in clients:
            client.start()
        for client in clients:
            client.join()
        for one in held:
            one.close()
        there = {one["id"] for one in desk.ask("GET", "/api/climbs")[1]["climbs"]}
        desk.stop()
    return told, len(acknowledged - there)


def _client(desk: Desk, number: int, deadline: float, told: _Told, acknowledged: set[str]) -> None:
    rng = random.Random(number)
    time.sleep(rng.random() * PAUSE_S)
    connection = http.client.HTTPConnection(desk.host, desk.port, timeout=30)
    turn = 0
    while time.monotonic() < deadline:
        turn += 1
        _, method, place = rng.choices(MIX, [share for share, _, _ in MIX])[0]
        name = f"soak-{number:04}-{turn:04}"
        body = json.dumps({"id": name, "playbook": PLAYBOOK, "started": {}}) if method == "POST" else None
        began = time.perf_counter()
        connection.request(method, place, body, {"Cookie": desk.cookie, "Content-Type": "application/json"})
        answer = connection.getresponse()
        answer.read()
        told.note(method, answer.status, time.perf_counter() - began)
        if answer.status == 201:
            acknowledged.add(name)
        time.sleep(PAUSE_S)
    connection.close()


def _editors(path: Path) -> dict[str, int]:
    """Twenty people move rungs of one draft at once, each upon what is there; every move that was taken is counted."""
    taken, refused = Counter[int](), Counter[int]()
    with running(path) as desk:
        desk.sit_down()
        before = desk.ask("GET", DRAFT)[1]["revision"]

        def _edit(number: int) -> None:
            for turn in range(10):
                status, _ = desk.ask(
                    "POST", f"{DRAFT}/move", {"source": 0, "target": 1 + (turn + number) % 2}, **{"If-Match": "*"}
                )
                (taken if status == 200 else refused)[status] += 1

        threads = [threading.Thread(target=_edit, args=(number,)) for number in range(EDITORS)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        after = desk.ask("GET", DRAFT)[1]["revision"]
        desk.stop()
    return {
        "editors": EDITORS, "taken": taken.total(), "lost": taken.total() - (after - before),
        **{f"refused_{status}": count for status, count in sorted(refused.items())},
    }  # fmt: skip


def _generated(path: Path) -> dict[str, Any]:
    """Requests made at random out of what requests are made of, and out of what they are not."""
    rng, faults = random.Random(7), Counter[str]()
    with running(path) as desk:
        desk.sit_down()
        for _ in range(GENERATED):
            place = "/" + "/".join(rng.choice(WORDS) for _ in range(rng.randrange(1, 6)))
            if rng.random() < 0.4:
                place += "?" + "&".join(f"{rng.choice(WORDS)}={rng.choice(WORDS)}" for _ in range(3))
            method = rng.choice(("GET", "POST", "PUT", "DELETE", "PATCH"))
            place = place.encode("ascii", "ignore").decode() if rng.random() < 0.5 else _quoted(place)
            with suppress(UnicodeError, http.client.InvalidURL):
                status, _ = desk.ask(
                    method, place, rng.choice(BODIES), **{"If-Match": rng.choice(('"1"', "*", "x", "\x7f"))}
                )
                if status >= 500 and status != 503:
                    faults[f"{method} {place[:80]} {status}"] += 1
        alive = desk.ask("GET", "/api/symptoms")[0]
        desk.stop()
    return {"requests": GENERATED, "faults": dict(faults), "alive_after": alive}


def _quoted(place: str) -> str:
    return "".join(c if c.isascii() else "".join(f"%{byte:02X}" for byte in c.encode()) for c in place)


def _stopped(path: Path) -> dict[str, int]:
    """SIGTERM while answers are under way, again and again: what was acknowledged is there, and it ends with 0."""
    not_zero = lost = answered = 0
    for turn in range(STOPS):
        acknowledged: list[str] = []
        with running(path) as desk:
            desk.sit_down()

            def _begin(
                number: int, desk: Desk = desk, acknowledged: list[str] = acknowledged, turn: int = turn
            ) -> None:
                with suppress(OSError, http.client.HTTPException):
                    for step in range(100):
                        name = f"stop-{turn:02}-{number:02}-{step:03}"
                        status, _ = desk.ask("POST", "/api/climbs", {"id": name, "playbook": PLAYBOOK, "started": {}})
                        if status == 201:
                            acknowledged.append(name)

            threads = [threading.Thread(target=_begin, args=(number,)) for number in range(4)]
            for thread in threads:
                thread.start()
            time.sleep(random.Random(turn).random())
            not_zero += desk.stop() != 0
            for thread in threads:
                thread.join()
        database = Database(path)
        with database.reading() as session:
            there = set(session.connection().exec_driver_sql("SELECT id FROM climbs").scalars())
        database.close()
        answered += len(acknowledged)
        lost += len(set(acknowledged) - there)
    return {"stops": STOPS, "acknowledged": answered, "lost": lost, "not_zero": not_zero}
