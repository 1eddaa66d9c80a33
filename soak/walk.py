"""Walks by chance through the whole interface, over a line that is rough at times."""

import sys
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
    """How many things were acknowledged, and what was wrong; an error that no page caught is among the latter."""
    made: list[Walk] = []
    try:
        _walk(seed, moves, made)
    except AssertionError as error:
        made[0].wrong.append(f"{made[0].last}, at last: {error}")
    return sum(made[0].acknowledged.values()), [f"seed {seed}, move {one}" for one in made[0].wrong]


def _walk(seed: int, moves: int, made: list[Walk]) -> None:
    with (
        tempfile.TemporaryDirectory() as folder,
        served("demo", "--cases", "600", database=Path(folder) / "demo.db") as desk,
        sync_playwright() as playwright,
        playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS) as browser,
        new_context(browser) as context,
        rough_line(context) as line,
    ):
        made.append(Walk(sit_down(context, desk), desk, line, seed))
        made[0].go(moves)


def prove() -> tuple[dict[str, Any], bool]:
    """Nothing wrong after any of the moves, and nothing missing that was acknowledged."""
    with ProcessPoolExecutor(2) as pool:
        made = []
        for one in pool.map(walked, range(100, 100 + WALKS)):
            made.append(one)
            print(f"{len(made)} of {WALKS} walks: {one[1]}", file=sys.stderr, flush=True)
    wrong = [one for _, some in made for one in some]
    figures = {"moves": MOVES * WALKS, "acknowledged": sum(one for one, _ in made), "wrong": wrong[:40]}
    return figures, not wrong
