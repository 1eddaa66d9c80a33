"""Guided cases answered over HTTP while a file of a hundred and twenty thousand cases is brought in by the shell."""

import json
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from tests.browser.conftest import served

CASES, GUIDED = 120_000, 100
MOVES = (
    {"kind": "baseline", "result": "fails"},
    {"kind": "note", "text": "Lane 3"},
    {"kind": "end", "end": "abandoned"},
)
STEPS = ("clear-hold", "reload-program", "wave-through")


class _Browser:
    """An agent's browser: its cookie, and how long each answer took."""

    def __init__(self, address: str) -> None:
        self.address, self.cookie, self.taken = address, "", list[float]()
        person = self.send("GET", "/api/me")["people"][0]["id"]
        self.send("PUT", "/api/me", {"person": person})
        self.taken.clear()

    def send(self, method: str, path: str, body: Any = None) -> Any:
        data = json.dumps(body).encode() if body else None
        request = urllib.request.Request(self.address + path, method=method, data=data)
        request.add_header("Content-Type", "application/json")
        request.add_header("Cookie", self.cookie)
        began = time.perf_counter()
        with urllib.request.urlopen(request, timeout=30) as answer:
            self.cookie = (answer.headers.get("Set-Cookie") or self.cookie).split(";")[0]
            made = json.loads(answer.read())
        self.taken.append(time.perf_counter() - began)
        return made


def _file(path: Path) -> None:
    """Cases of one symptom on a few hundred units and one that is called unknown, as exports have it."""
    now = datetime.now(UTC)
    with path.open("w") as file:
        for number in range(CASES):
            closed = now - timedelta(minutes=13 * number)
            step = STEPS[number % 3]
            is_fixed = number % 4 > 0
            case = {
                "case": f"X-{number}",
                "closed": closed.isoformat(),
                "opened": (closed - timedelta(minutes=9)).isoformat(),
                "symptom": "gate-arm-up",
                "unit": "unknown" if number % 10 == 0 else f"GR4-{number % 400}",
                "attempts": [
                    {"step": STEPS[(number + 1) % 3], "outcome": "no-change", "minutes": 3},
                    {"step": step, "outcome": "fixed" if is_fixed else "no-change", "minutes": 5},
                ],
                "end": "resolved" if is_fixed else "handed-off",
                "resolved_by": step if is_fixed else None,
            }
            file.write(json.dumps(case) + "\n")


def prove() -> tuple[dict[str, Any], bool]:
    """None is refused, 95 of 100 answers come within 200 ms, and the import ends meanwhile or goes on unharmed."""
    with tempfile.TemporaryDirectory() as folder:
        path, file = Path(folder) / "demo.db", Path(folder) / "office.jsonl"
        _file(file)
        with served("demo", "--cases", "600", database=path) as desk:
            agent = _Browser(desk.address)
            began = time.perf_counter()
            command = [
                sys.executable,
                "-m",
                "mildladder.cli",
                "import",
                "cases",
                str(file),
                "--json",
                "--db",
                str(path),
            ]
            shell = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
            refused, meanwhile = 0, 0
            for number in range(GUIDED):
                name = f"soak-{number:06}"
                try:
                    view = agent.send("POST", "/api/climbs", {"id": name, "playbook": "gate-arm-up", "started": {}})
                    for move in MOVES:
                        body = {"key": f"{name}-{view['number']:04}", "after": view["number"], "move": move}
                        view = agent.send("POST", f"/api/climbs/{name}/moves", body)
                except OSError:
                    refused += 1
                meanwhile += shell.poll() is None
            out, err = shell.communicate()
            seconds = time.perf_counter() - began
    taken = sorted(agent.taken)
    p95 = 1000 * statistics.quantiles(taken, n=20)[-1]
    figures = {
        "imported": json.loads(out)["new"] if shell.returncode == 0 else err,
        "import_s": round(seconds, 1),
        "guided": GUIDED,
        "answers": len(taken),
        "begun_while_importing": meanwhile,
        "refused": refused,
        "p95_ms": round(p95, 1),
        "longest_ms": round(1000 * taken[-1], 1),
    }
    return figures, shell.returncode == 0 and refused == 0 and p95 <= 200 and meanwhile >= GUIDED / 2
