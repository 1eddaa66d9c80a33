"""The served desk under many: two hundred clients, twenty editors, slow and idle connections, SIGTERM in mid-answer."""

import http.client
import io
import json
import random
import statistics
import tempfile
import threading
import time
import zipfile
import zlib
from collections import Counter
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from mildladder.demo.desk import fill
from mildladder.store.database import Database
from tests.samples import GATE
from tests.serving.desk import Desk, running

NOW = datetime(2026, 11, 20, 12, 0, tzinfo=UTC)
CLIENTS, PAUSE_S, SECONDS = 200, 2.0, 20.0
EDITORS, EDITS, READERS, SLOW, IDLE, STOPS, GENERATED = 20, 10, 150, 50, 200, 20, 5_000
MOST_MB = 600
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
    "api",
    "cases",
    "playbooks",
    PLAYBOOK,
    "draft",
    "move",
    "editions",
    "climbs",
    "people",
    "me",
    "compare",
    "²",
    "..",
    "%00",
    "%ff",
    "\u202e",
    300 * "a",
    "-1",
    "1e9",
    "steps",
    "merge",
    "order",
    "rungs",
    "0",
    "why",
)
BODIES = (
    b"",
    b"{",
    5_000 * b"[",
    b"null",
    b'"x"',
    b"7",
    b'{"id": null}',
    b"\xff\xfe",
    3_000 * b'{"a":',
    b'{"name": "N. Oake", "role": "lead"}',
    b'{"source": 1e99, "target": -1}',
    b'{"kind": "fact"}',
)


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
        memory = _memory(path)
        generated = _generated(path)
        stops = _stopped(path)
    p95 = 1000 * statistics.quantiles(told.reads, n=20)[-1]
    figures = {
        "clients": CLIENTS,
        "pause_s": PAUSE_S,
        "for_s": SECONDS,
        "slow": SLOW,
        "idle": IDLE,
        "mix_percent": {f"{method} {place}": share for share, method, place in MIX},
        "answers": sum(told.statuses.values()),
        "statuses": {str(status): count for status, count in sorted(told.statuses.items())},
        "readers_p95_ms": round(p95),
        "readers_longest_ms": round(1000 * max(told.reads)),
        "begun_and_lost": begun,
        "editors": edits,
        "memory": memory,
        "generated": generated,
        "stops": stops,
    }
    bad = [status for status in told.statuses if status >= 500 and status != 503]
    is_held = (
        not bad
        and p95 <= 1000
        and begun == 0
        and not generated["faults"]
        and memory["most_mb"] <= MOST_MB
        and edits["taken"] == EDITORS * EDITS
        and edits["lost"] == 0
        and max(edits["writers_p95_ms"], edits["readers_p95_ms"]) <= 1000
        and stops["not_zero"] == stops["lost"] == 0
    )
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
    turn = 0
    with desk.kept_open() as connection:
        while time.monotonic() < deadline:
            turn += 1
            _, method, place = rng.choices(MIX, [share for share, _, _ in MIX])[0]
            name = f"soak-{number:04}-{turn:04}"
            body = {"id": name, "playbook": PLAYBOOK, "started": {}} if method == "POST" else None
            began = time.perf_counter()
            status, _ = desk.ask_on(connection, method, place, body)
            told.note(method, status, time.perf_counter() - began)
            if status == 201:
                acknowledged.add(name)
            time.sleep(PAUSE_S)


def _editors(path: Path) -> dict[str, Any]:
    """Twenty pages change one draft at once while a hundred and fifty readers read: how many first tries are taken, how
    soon, and whether every change that was taken is there."""
    taken, refused = Counter[int](), Counter[int]()
    writes: list[float] = []
    reads: list[float] = []
    with running(path) as desk:
        desk.sit_down()
        draft = desk.ask("GET", DRAFT)[1]
        keys, revision = [step["key"] for step in draft["form"]["steps"]], draft["revision"]
        is_over = threading.Event()

        def _edit(number: int) -> None:
            client, key, base = f"{number:02}" + 10 * "c", keys[number % len(keys)], revision
            with desk.kept_open() as connection:
                _edits(connection, number, client, key, base)

        def _edits(connection: Any, number: int, client: str, key: str, base: int) -> None:
            for turn in range(EDITS):
                line = {"key": f"{client}{turn:03}", "text": f"Line {turn} of page {number}"}
                insert = {"op": "insert", "parent": key, "list": ["do"], "after": None, "item": line}
                edit = {
                    "client": client,
                    "number": turn + 1,
                    "base": base,
                    "group": f"{client}-{turn}",
                    "operations": [insert],
                }
                began = time.perf_counter()
                status, answer = desk.ask_on(connection, "POST", f"{DRAFT}/edits", edit)
                writes.append(time.perf_counter() - began)
                (taken if status == 200 else refused)[status] += 1
                if status != 200:
                    return
                base = answer["revision"]
                time.sleep(PAUSE_S)

        def _read(number: int) -> None:
            rng = random.Random(number)
            with desk.kept_open() as connection:
                while not is_over.is_set():
                    is_over.wait(2 * PAUSE_S * rng.random())
                    _, _, place = rng.choices(MIX[:-1], [share for share, _, _ in MIX[:-1]])[0]
                    began = time.perf_counter()
                    status, _ = desk.ask_on(connection, "GET", place)
                    reads.append(time.perf_counter() - began)
                    if status != 200:
                        refused[status] += 1

        readers = [threading.Thread(target=_read, args=(number,)) for number in range(READERS)]
        editors = [threading.Thread(target=_edit, args=(number,)) for number in range(EDITORS)]
        for thread in (*readers, *editors):
            thread.start()
        for thread in editors:
            thread.join()
        is_over.set()
        for thread in readers:
            thread.join()
        lines = {line["key"] for step in desk.ask("GET", DRAFT)[1]["form"]["steps"] for line in step.get("do", ())}
        desk.stop()
    there = sum(f"{number:02}" + 10 * "c" + f"{turn:03}" in lines for number in range(EDITORS) for turn in range(EDITS))
    return {
        "editors": EDITORS,
        "readers": READERS,
        "taken": taken.total(),
        "lost": taken.total() - there,
        "writers_p95_ms": _p95(writes),
        "readers_p95_ms": _p95(reads),
        **{f"refused_{status}": count for status, count in sorted(refused.items())},
    }


def _p95(seconds: list[float]) -> int:
    return round(1000 * statistics.quantiles(seconds, n=20)[-1])


def _memory(path: Path) -> dict[str, int]:
    """The most memory that the server takes while six pictures and six archives are sent at once, each as large as it
    may be, and larger."""
    with running(path) as desk:
        desk.sit_down()
        bodies = [("pictures", _picture(size)) for size in ((3_500, 3_500), (8_000, 1_500), (1, 19_000_000))]
        bodies += [("archive", _archive(count)) for count in (2, 60)]
        threads = [threading.Thread(target=_send, args=(desk, what, body)) for what, body in bodies for _ in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        status = Path(f"/proc/{desk.process.pid}/status").read_text()
        desk.stop()
    most = next(line for line in status.splitlines() if line.startswith("VmHWM"))
    return {"most_mb": int(most.split()[1]) // 1024, "sent": len(threads)}


def _send(desk: Desk, what: str, body: bytes) -> None:
    if what == "pictures":
        desk.ask("POST", f"{DRAFT}/pictures", body, **{"Content-Type": "image/png"})
    else:
        desk.ask("POST", "/api/playbooks/file?steps=copy", body, **{"Content-Type": "application/zip"})


def _picture(size: tuple[int, int]) -> bytes:
    """A plain picture, which is small however large it is."""
    width, height = size
    row = zlib.compress(bytes((1 + 3 * width) * height), 9)
    head = width.to_bytes(4, "big") + height.to_bytes(4, "big") + bytes([8, 2, 0, 0, 0])
    parts = [
        (len(data)).to_bytes(4, "big") + name + data + zlib.crc32(name + data).to_bytes(4, "big")
        for name, data in ((b"IHDR", head), (b"IDAT", row), (b"IEND", b""))
    ]
    return b"\x89PNG\r\n\x1a\n" + b"".join(parts)


def _archive(count: int) -> bytes:
    """A playbook file that shows so many pictures, with them."""
    out, picture = io.BytesIO(), _picture((3_000, 3_000))
    do = [{"text": "Look", "picture": f"p{number}.png"} for number in range(count)]
    steps = [{**step, "do": do} if step["id"] == "clear-hold" else step for step in GATE["steps"]]
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("a.json", json.dumps({**GATE, "id": f"shown-{count}", "steps": steps}))
        for number in range(count):
            packed.writestr(f"p{number}.png", picture)
    return out.getvalue()


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
