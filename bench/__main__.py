"""Run every benchmark and print one JSON document."""

import json
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from playwright.sync_api import sync_playwright

from bench.desk import desk
from bench.drafts import drafts
from bench.evidence import evidence
from bench.hundred_rungs import hundred_rungs
from bench.live_edit import live_edit, live_edit_by_the_cases
from bench.log import log
from bench.orders import growth, orders
from bench.starts import starts
from bench.typing import first_loads, typing
from mildladder.clock import utc_now
from mildladder.core.figures.forecast import forecast
from mildladder.core.model import Playbook, Rung
from mildladder.core.review import review
from mildladder.demo.desk import playbooks
from mildladder.desk.publishing.files import import_playbook
from mildladder.store.database import Database
from tests.browser.conftest import ARGUMENTS, rung, served, sit_down
from tests.core.ordering.ladders import wide_ladder

# Cases of the parts on the log and the Desk; `--cases 1000000` takes a quarter of an hour.
LOGGED = int(sys.argv[sys.argv.index("--cases") + 1]) if "--cases" in sys.argv else 100_000


def milliseconds(work: Callable[[], object], times: int = 30) -> float:
    """The best of several runs, which the machine's other work disturbs least."""
    best = float("inf")
    for _ in range(times):
        start = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - start)
    return round(best * 1000, 2)


def forecasts() -> dict[str, float]:
    """Milliseconds of the forecast of each demo ladder, and of the two that a bar is set for."""
    made = {playbook.id: playbook for playbook in playbooks()}
    made |= {"twelve rungs": twelve_rungs(), "hundred rungs, ten checks": long_ladder()}
    made["twelve rungs, every word"] = wide_ladder(12, is_rich=True, has_every_word=True)
    return {name: milliseconds(lambda p=playbook: forecast(p)) for name, playbook in made.items()}


def reviews() -> float:
    """Milliseconds of the review of a hundred rungs."""
    playbook = long_ladder()
    return milliseconds(lambda: review(playbook), 10)


def long_ladder() -> Playbook:
    """A hundred rungs with ten checks, whose findings rails and later conditions hang on."""
    causes = [{"id": f"c-{n}", "title": "C", "layer": "data", "weight": 1 + n} for n in range(8)]
    steps: list[dict[str, Any]] = []
    ladder: list[dict[str, Any]] = []
    for n in range(100):
        name, cause = f"step-{n}", f"c-{n % 8}"
        if n % 10 == 0:
            given = {cause: 0.9, "*": 0.2}
            findings = [
                {"id": "yes", "title": "Yes", "given": given},
                {"id": "no", "title": "No", "given": {cause: 0.1, "*": 0.8}},
            ]
            steps.append({"id": name, "title": name, "kind": "check", "findings": findings, "effort": {"hands_on": 1}})
            steps.append({"id": f"side-{n}", "title": name, "kind": "fix", "fixes": {cause: 0.3}})
            ladder.append({"step": name, "on": {"yes": [{"step": f"side-{n}"}]}})
        else:
            steps.append({"id": name, "title": name, "kind": "fix", "fixes": {cause: 0.1}, "effort": {"hands_on": 2}})
            after = f"step-{n - n % 10} found no"
            ladder.append({"step": name, **({"when": after} if n % 10 == 5 else {})})
    data = {"format": "mild-ladder/playbook/1", "id": "long", "title": "Long", "symptom": {"says": "Long"}}
    return Playbook.model_validate({**data, "causes": causes, "steps": steps, "ladder": ladder})


def twelve_rungs() -> Playbook:
    """The demo's richest ladder, lengthened to twelve rungs of the main line."""
    playbook = next(playbook for playbook in playbooks() if playbook.id == "gate-arm-up")
    more = 12 - len(playbook.ladder)
    fixes = [step for step in playbook.steps if step.id in ("clear-hold", "restart-lane-unit")]
    added = [fixes[n % 2].model_copy(update={"id": f"more-{n}"}) for n in range(more)]
    rungs = tuple(Rung(step=step.id) for step in added)
    return playbook.model_copy(update={"steps": (*playbook.steps, *added), "ladder": (*playbook.ladder, *rungs)})


def first_pages(path: Path) -> dict[str, float]:
    """Milliseconds to the first sight of what is counted of a log of any size: by a program just started, and again."""
    places = {"evidence": "/playbooks/gate-arm-up/evidence", "desk": "/", "cases": "/cases"}
    taken = {}
    for name, place in places.items():
        with served("serve", database=path) as desk, sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
            page = sit_down(browser.new_context(viewport={"width": 1280, "height": 800}), desk)
            taken |= first_loads(page, desk.address, {name: place})
            taken |= first_loads(page, desk.address, {f"{name}, again": place})
            browser.close()
    return taken


def served_figures(folder: Path) -> dict[str, Any]:
    """What is seen from outside of a served demo desk: starts, the first load, the live edit."""
    start = time.perf_counter()
    with served("demo", database=folder / "demo.db"):
        first = time.perf_counter() - start
    long = long_ladder()
    database = Database(folder / "demo.db")
    with database.writing() as session:
        import_playbook(session, long, 1, utc_now(), None, None)
    database.close()
    start = time.perf_counter()
    with served("demo", database=folder / "demo.db") as desk, sync_playwright() as playwright:
        second = time.perf_counter() - start
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        page = sit_down(browser.new_context(viewport={"width": 1280, "height": 800}), desk)
        edit = live_edit(page, desk.address, "kiosk-faint-tickets", rung(page, "set-darkness"))
        taught = live_edit_by_the_cases(page, desk.address, "kiosk-faint-tickets", rung(page, "set-darkness"))
        script = page.evaluate(
            "() => performance.getEntriesByType('resource').filter(r => r.name.endsWith('.js'))"
            ".reduce((sum, r) => sum + r.encodedBodySize, 0)"
        )
        hundred = hundred_rungs(page, desk.address, long)
        typed, loads = typing(page, desk.address), first_loads(page, desk.address)
        browser.close()
    return {
        "demo_first_start_s": round(first, 1),
        "demo_second_start_s": round(second, 1),
        "first_load_script_kb": round(script / 1000, 1),
        "live_edit": edit,
        "live_edit_by_the_cases": taught,
        "hundred_rungs": hundred,
        "typing": typed,
        "first_load_ms": loads,
    }


def main() -> None:
    """Print the figures."""
    with tempfile.TemporaryDirectory() as folder:
        figures = {
            "forecast_ms": forecasts(),
            "review_ms": reviews(),
            "starts": starts(),
            "orders": orders(),
            "evidence_ms": evidence(),
            "growth": growth(),
            "log": log(Path(folder), LOGGED),
            "first_pages_ms": first_pages(Path(folder) / "desk.db"),
            "desk": desk(Path(folder), LOGGED),
            "drafts": {
                "100_rungs": drafts(Path(folder), long_ladder()),
                "12_rungs": drafts(Path(folder), twelve_rungs(), 200),
            },
            **served_figures(Path(folder)),
        }
    print(json.dumps(figures, indent=2))


if __name__ == "__main__":
    main()
