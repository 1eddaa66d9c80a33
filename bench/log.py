"""The log at size: every filter, evidence, Desk, guided answers, import beside the plain tool, counting anew."""

import csv
import gc
import random
import resource
import statistics
import subprocess
import time
from collections import defaultdict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from mildladder.api.app import create_app
from mildladder.demo.desk import fill
from mildladder.demo.multiply import SIMULATED, multiply
from mildladder.desk.log.batches import import_in_batches
from mildladder.exchange.case_lines import read_each, write_cases
from mildladder.store.database import Database
from mildladder.store.log.rebuild import rebuild
from mildladder.store.log.rows import load_cases

__all__ = ["Held", "log", "made", "p95"]

NOW = datetime(2026, 11, 20, 12, 0, tzinfo=UTC)
IMPORTED = 30_000
TIMES = 40


class Held:
    """How long the write lock was held, each time, while this is watched."""

    def __init__(self, database: Database) -> None:
        self.seconds: list[float] = []
        inner = database.writing

        @contextmanager
        def writing(is_durable: bool = True) -> Iterator[Any]:
            with inner(is_durable) as session:
                began = time.perf_counter()
                yield session
            self.seconds.append(time.perf_counter() - began)

        database.writing = writing  # type: ignore[method-assign]


def made(path: Path, cases: int) -> tuple[Database, float]:
    """A demo desk of so many cases, and the seconds that it took."""
    began = time.perf_counter()
    database = Database(path)
    with database.writing() as session:
        fill(session, min(cases, SIMULATED), NOW)
    if cases > SIMULATED:
        multiply(database, cases, NOW)
    return database, time.perf_counter() - began


def log(folder: Path, cases: int) -> dict[str, Any]:
    """Everything that `docs/measured/log.json` keeps, on a desk of so many cases."""
    database, seconds = made(folder / "desk.db", cases)
    client = create_app(database, now=lambda: NOW).test_client()
    client.put("/api/me", json={"person": client.get("/api/me").json["people"][0]["id"]})
    figures = {
        "cases": cases,
        "made_s": round(seconds, 1),
        "database_mb": round((folder / "desk.db").stat().st_size / 1e6),
        "first_rows_p95_ms": _filters(client),
        "total_p95_ms": p95(lambda: client.get("/api/cases-total?words=the"), 10),
        "deep_page_p95_ms": p95(lambda: client.get(f"/api/cases?rank={random.randrange(cases)}")),
        "evidence_ms": p95(lambda: client.get("/api/playbooks/gate-arm-up/evidence"), 10),
        "evidence_after_a_case_ms": _after_a_case(client, "evidence"),
        "estimate_after_a_case_ms": _after_a_case(client, "estimate"),
        "desk_ms": p95(lambda: client.get("/api/symptoms"), 10),
        "answer_p95_ms": _answers(client),
        "import": _import(folder, database),
        "rebuild": _rebuild(database),
    }
    database.close()
    return figures


def p95(work: Callable[[], Any], times: int = TIMES) -> float:
    """Milliseconds within which 95 of 100 runs are done."""
    taken: list[float] = []
    for _ in range(times):
        with _timed(taken):
            work()
    return _quantile(taken)


def _quantile(taken: list[float]) -> float:
    return round(1000 * statistics.quantiles(taken, n=20)[-1], 1)


def _filters(client: Any) -> dict[str, float]:
    """95th percentile of the first rows, by filter, each asked with many values."""
    rng = random.Random(1)
    symptoms = client.get("/api/symptoms").json["symptoms"]
    ends = ("resolved", "worked-around", "handed-off", "abandoned", "self-cleared")
    words = ("the", "lane", "stuck", "nothing prints", "quay", "OF-1", "zzz", "screen dark", "gr4")

    def symptom() -> str:
        return f"symptom={rng.choice(symptoms)['id']}"

    def step() -> str:
        return f"step={rng.choice(rng.choice(symptoms)['steps'])['id']}"

    kinds = {
        "none": lambda: "",
        "symptom": symptom,
        "end": lambda: f"end={rng.choice(ends)}",
        "symptom and end": lambda: f"{symptom()}&end={rng.choice(ends)}",
        "step": step,
        "step and end": lambda: f"{step()}&end={rng.choice(ends)}",
        "step and another symptom": lambda: f"{step()}&{symptom()}",
        "words": lambda: f"words={rng.choice(words)}",
        "words and symptom": lambda: f"words={rng.choice(words)}&{symptom()}",
        "words and end": lambda: f"words={rng.choice(words)}&end={rng.choice(ends)}",
        "words and step": lambda: f"words={rng.choice(words)}&{step()}",
    }
    return {name: p95(lambda made=made: client.get(f"/api/cases?{made()}")) for name, made in kinds.items()}


def _answers(client: Any) -> dict[str, float]:
    """95th percentile of what an agent waits for, by move; a case is begun, answered and ended again and again."""
    moves = (
        ("baseline", {"kind": "baseline", "result": "fails"}),
        ("note", {"kind": "note", "text": "Lane 3"}),
        ("end", {"kind": "end", "end": "abandoned"}),
    )
    taken: dict[str, list[float]] = defaultdict(list)
    for number in range(TIMES):
        name = f"bench-{number:05}"
        body = {"id": name, "playbook": "gate-arm-up", "started": {"unit": "GR4-0117"}}
        with _timed(taken["start"]):
            view = client.post("/api/climbs", json=body).json
        for kind, move in moves:
            answer = {"key": f"{name}-{kind}", "after": view["number"], "move": move}
            with _timed(taken[kind]):
                view = client.post(f"/api/climbs/{name}/moves", json=answer).json
        assert view["ended"] is not None
    return {kind: _quantile(times) for kind, times in taken.items()}


def _after_a_case(client: Any, what: str) -> float:
    """What a symptom's page asks for, when a case has just been logged there, so that nothing that was kept holds."""
    taken: list[float] = []
    for number in range(5):
        name = f"fresh-{what}-{number:05}"
        client.post("/api/climbs", json={"id": name, "playbook": "gate-arm-up", "started": {}})
        end = {"key": f"{name}-end", "after": 1, "move": {"kind": "end", "end": "abandoned"}}
        assert client.post(f"/api/climbs/{name}/moves", json=end).status_code == 200
        with _timed(taken):
            assert client.get(f"/api/playbooks/gate-arm-up/{what}").status_code == 200
    return _quantile(taken)


@contextmanager
def _timed(taken: list[float]) -> Iterator[None]:
    began = time.perf_counter()
    yield
    taken.append(time.perf_counter() - began)


def _import(folder: Path, database: Database) -> dict[str, Any]:
    """A file of cases brought in, beside the plain tool's import of the same rows into the same indexed tables."""
    with database.reading() as session:
        rows = load_cases(session.connection(), "number", range(1, IMPORTED + 1))
    cases = [row.case.model_copy(update={"case": f"B-{row.number}", "unit": f"B-{row.case.unit}"}) for row in rows]
    attempts = sum(len(case.attempts) for case in cases)
    file = folder / "bench.jsonl"
    file.write_bytes(b"".join(write_cases(cases)))
    del rows, cases
    gc.collect()
    held = Held(database)
    began = time.perf_counter()
    done = import_in_batches(database, lambda: read_each(file.open("rb")), 1, NOW, "bench", leave_out=True)
    taken = time.perf_counter() - began
    plain = _plain_import(folder, database)
    return {
        "cases": done.new,
        "attempts_a_second": round(attempts / taken),
        "plain_tool_attempts_a_second": round(attempts / plain),
        "share_of_plain_tool": round(plain / taken, 2),
        "longest_hold_ms": round(1000 * max(held.seconds), 1),
    }


def _plain_import(folder: Path, database: Database) -> float:
    """Seconds that the `sqlite3` shell takes for the rows of those cases in an empty desk with the same indexes."""
    empty = folder / "plain.db"
    Database(empty).close()
    script = [".mode csv", "PRAGMA foreign_keys = OFF;"]
    with database.reading() as session:
        execute = session.connection().exec_driver_sql
        which = "(SELECT number FROM cases WHERE id LIKE 'B-%')"
        for table, key in (("cases", "number"), ("attempts", '"case"'), ("case_facts", '"case"')):
            made = execute(f"SELECT * FROM {table} WHERE {key} IN {which}").all()
            with (folder / f"{table}.csv").open("w", newline="") as file:
                csv.writer(file).writerows(made)
            script.append(f".import {folder / table}.csv {table}")
    began = time.perf_counter()
    subprocess.run(["sqlite3", str(empty)], input="\n".join(script), text=True, check=True, capture_output=True)
    return time.perf_counter() - began


def _rebuild(database: Database) -> dict[str, Any]:
    """Every tally counted anew, and how much memory that took beyond what was in use."""
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    began = time.perf_counter()
    with database.writing() as session:
        rebuild(session, 14)
    after = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    return {"seconds": round(time.perf_counter() - began, 1), "more_mb": round((after - before) / 1000)}
