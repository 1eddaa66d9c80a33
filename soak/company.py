"""Three windows of two people who write by chance: nothing lost, doubled, misplaced, or sent as somebody else's."""

import sys
import tempfile
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

from playwright.sync_api import sync_playwright

from tests.browser.company import company
from tests.browser.conftest import ARGUMENTS, served

MOVES, COMPANIES = 500, 40


def kept_company(seed: int, moves: int = MOVES) -> tuple[int, list[str]]:
    """How many texts were written, and what was wrong with them."""
    with (
        tempfile.TemporaryDirectory() as folder,
        served("demo", "--cases", "600", database=Path(folder) / "demo.db") as desk,
        sync_playwright() as playwright,
        playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS) as browser,
        company(browser, desk, seed) as made,
    ):
        made.go(moves)
        return len(made.written), made.wrong


def prove() -> tuple[dict[str, Any], bool]:
    """Every text is in the desk once, where and as whose it was written."""
    written, wrong = 0, []
    with ProcessPoolExecutor(2) as pool:
        for number, (texts, some) in enumerate(pool.map(kept_company, range(COMPANIES)), start=1):
            written += texts
            wrong += some
            print(f"{number} of {COMPANIES}: {texts} texts, {some}", file=sys.stderr, flush=True)
    return {"moves": MOVES * COMPANIES, "windows": 3, "texts": written, "wrong": wrong[:40]}, not wrong
