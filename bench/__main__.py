"""Run every benchmark and print one JSON document."""

import json
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from playwright.sync_api import sync_playwright

from bench.live_edit import live_edit
from mildladder.core.forecast import forecast
from mildladder.demo.desk import playbooks
from tests.browser.conftest import ARGUMENTS, served, sit_down


def milliseconds(work: Callable[[], object], times: int = 30) -> float:
    """The best of several runs, which the machine's other work disturbs least."""
    best = float("inf")
    for _ in range(times):
        start = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - start)
    return round(best * 1000, 2)


def forecasts() -> dict[str, float]:
    """Milliseconds of the forecast of each demo ladder."""
    return {playbook.id: milliseconds(lambda p=playbook: forecast(p)) for playbook in playbooks()}


def served_figures(folder: Path) -> dict[str, Any]:
    """What is seen from outside of a served demo desk: starts, the first load, the live edit."""
    start = time.perf_counter()
    with served("demo", database=folder / "demo.db"):
        first = time.perf_counter() - start
    start = time.perf_counter()
    with served("demo", database=folder / "demo.db") as desk, sync_playwright() as playwright:
        second = time.perf_counter() - start
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        page = sit_down(browser.new_context(viewport={"width": 1280, "height": 800}), desk)
        edit = live_edit(page, desk.address, "kiosk-faint-tickets", "clean-head")
        script = page.evaluate(
            "() => performance.getEntriesByType('resource').filter(r => r.name.endsWith('.js'))"
            ".reduce((sum, r) => sum + r.encodedBodySize, 0)"
        )
        browser.close()
    return {
        "demo_first_start_s": round(first, 1),
        "demo_second_start_s": round(second, 1),
        "first_load_script_kb": round(script / 1000, 1),
        "live_edit": edit,
    }


def main() -> None:
    """Print the figures."""
    with tempfile.TemporaryDirectory() as folder:
        figures = {"forecast_ms": forecasts(), **served_figures(Path(folder))}
    print(json.dumps(figures, indent=2))


if __name__ == "__main__":
    main()
