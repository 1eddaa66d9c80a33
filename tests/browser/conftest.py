"""A served demo desk and a headless Chromium to drive it with."""

import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, Playwright, expect

from mildladder.clock import utc_now
from mildladder.demo.desk import CASES, fill, playbooks
from mildladder.desk.advice.nudging import nudges
from mildladder.desk.work.kinds import InlineWorkers
from mildladder.store.database import Database
from tests.conftest import made_once

LEAD = "R. Tamsin"
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]
# A machine may stall for seconds; how quick a page is, the bench says.
PATIENCE_MS = 60_000
expect.set_options(timeout=PATIENCE_MS)


@dataclass(frozen=True)
class Served:
    """A running desk: its address and its database file."""

    address: str
    database: Path


@contextmanager
def served(*command: str, database: Path) -> Iterator[Served]:
    """The product as its users start it, on any free port; what to do next is worked out once somebody asks."""
    full = [sys.executable, "-m", "mildladder.cli", *command, "--no-work-ahead", "--port", "0", "--db", str(database)]
    process = subprocess.Popen(full, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    try:
        line = process.stdout.readline()
        found = re.search(r"http://\S+:\d+", line)
        assert found, f"no address in: {line}"
        yield Served(found[0], database)
    finally:
        process.terminate()
        process.wait(10)
        process.stdout.close()


@pytest.fixture(scope="session")
def demo(tmp_path_factory) -> Iterator[Served]:
    """The demo desk; tests change it, so each says what it needs by looking."""
    with served("demo", "--cases", "600", database=tmp_path_factory.mktemp("demo") / "demo.db") as desk:
        yield desk


@pytest.fixture(scope="session")
def whole(tmp_path_factory) -> Path:
    """The demo desk with its whole log, every symptom of it looked through; made once for all processes that test."""

    def make(path: Path) -> None:
        database = Database(path)
        now = utc_now()
        with database.writing() as session:
            fill(session, CASES, now)
        nudges(database, InlineWorkers(database), now)
        assert nudges(database, InlineWorkers(database), now).waiting == 0
        database.close()

    return made_once(tmp_path_factory, "whole.db", make)


@pytest.fixture(scope="module")
def log(tmp_path_factory, whole: Path) -> Iterator[Served]:
    """That desk, to be changed: in a tenth of its log, hardly anything would stand out."""
    database = tmp_path_factory.mktemp("whole") / "desk.db"
    shutil.copy(whole, database)
    with served("serve", database=database) as desk:
        yield desk


@pytest.fixture(scope="session")
def empty(tmp_path_factory) -> Iterator[Served]:
    """A desk at which nobody has sat yet."""
    with served("serve", database=tmp_path_factory.mktemp("empty") / "desk.db") as desk:
        yield desk


@pytest.fixture(scope="session")
def browser(playwright: Playwright) -> Iterator[Browser]:
    """Debian's own Chromium; nothing is downloaded."""
    started = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
    yield started
    started.close()


@pytest.fixture
def context(browser: Browser) -> Iterator[BrowserContext]:
    """A browser of its own, 1280 wide, that fails the test when a page breaks."""
    with new_context(browser) as made:
        yield made


@contextmanager
def new_context(browser: Browser, **options) -> Iterator[BrowserContext]:
    made = browser.new_context(**{"viewport": {"width": 1280, "height": 800}, "locale": "en-GB"} | options)
    broken: list[str] = []
    made.on("weberror", lambda error: broken.append(str(error.error)))
    made.set_default_timeout(PATIENCE_MS)
    yield made
    made.close()
    assert broken == [], broken


@pytest.fixture
def page(context: BrowserContext, demo: Served) -> Page:
    """A page of the demo desk at which the lead sits."""
    return sit_down(context, demo)


def sit_down(context: BrowserContext, desk: Served, name: str = LEAD) -> Page:
    """A page that shows nothing yet, in a browser at which somebody sits."""
    me = desk.address + "/api/me"
    person = next(one["id"] for one in context.request.get(me).json()["people"] if one["name"] == name)
    assert context.request.put(me, data={"person": person}).ok
    page = context.new_page()
    # What the cases have taught comes a moment after the page; tests of figures choose it when they mean it.
    # The blank page that every history begins with has no storage.
    page.add_init_script(
        "if (location.origin !== 'null')"
        " localStorage.getItem('mild-ladder-figures') ?? localStorage.setItem('mild-ladder-figures', 'judged')"
    )
    return page


MAIN_LINE = "[data-rung]:not(ol ol [data-rung])"


def rung_titles(page: Page) -> list[str]:
    """The steps of the main line, drawn or, being out of sight, not yet."""
    expect(page.locator(MAIN_LINE).first).to_be_visible()
    return page.locator(MAIN_LINE).all_text_contents()


def rung(page: Page, step: str) -> Locator:
    """The first row of a step of the demo, by the step's id."""
    return page.locator("[data-rung]").filter(has_text=re.compile(f"^{re.escape(_titles()[step])}$")).first


@cache
def _titles() -> dict[str, str]:
    return {step.id: step.title for playbook in playbooks() for step in playbook.steps}


def saved(page: Page) -> None:
    """Wait until the server has everything of the draft."""
    expect(page.get_by_role("status").filter(has_text=re.compile("^saved "))).to_be_visible()


def press(page: Page, key: str) -> None:
    """Press a key once a guided case takes another answer: one given in haste would be meant for the question before."""
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    page.keyboard.press(key)


def answer_with(page: Page, key: str) -> None:
    """Press a key of a guided case's answers, once there are some, and wait until the server has taken the answer."""
    bar = page.get_by_role("region", name="Answers")
    expect(bar.get_by_role("button").first).to_be_visible()
    with page.expect_response(lambda response: response.url.endswith("/moves")):
        press(page, key)
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
