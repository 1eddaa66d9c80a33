"""Walks by chance through the whole interface, over a line that is rough at times."""

import tempfile
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

from playwright.sync_api import sync_playwright

from tests.browser.conftest import ARGUMENTS, new_context, served, sit_down
from tests.browser.rough import rough_line
from tests.browser.walk import Walk

MOVES, WALKS = 500, 40


def walked(seed: int, moves: int = MOVES) -> tuple[int, list[str]]:
    """How many things were acknowledged, and what was wrong."""
    with (
        tempfile.TemporaryDirectory() as folder,
        served("demo", "--cases", "600", database=Path(folder) / "demo.db") as desk,
        sync_playwright() as playwright,
        playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS) as browser,
        new_context(browser) as context,
        rough_line(context) as line,
    ):
        walk = Walk(sit_down(context, desk), desk, line, seed)
        walk.go(moves)
    return sum(walk.acknowledged.values()), [f"seed {seed}, move {one}" for one in walk.wrong]


def prove() -> tuple[dict[str, Any], bool]:
    """Nothing wrong after any of the moves, and nothing missing that was acknowledged."""
    with ProcessPoolExecutor(2) as pool:
        made = list(pool.map(walked, range(100, 100 + WALKS)))
    wrong = [one for _, some in made for one in some]
    figures = {"moves": MOVES * WALKS, "acknowledged": sum(one for one, _ in made), "wrong": wrong[:40]}
    return figures, not wrong
