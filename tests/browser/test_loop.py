"""The main job from end to end, by keyboard alone: reorder, publish, guide a case, see the evidence change."""

import json
import re
import subprocess
import sys

from playwright.sync_api import Page, expect

from mildladder.store.database import Database
from tests.browser.conftest import MAIN_LINE, Served, press, rung, rung_titles, saved

PLAYBOOK = "handheld-no-sailing-list"
CLOCK, RADIO = "Set the clock from the network", "Switch the radio off and on"


def shell(desk: Served, *args: str) -> str:
    """What another process reads from the database."""
    command = [sys.executable, "-m", "mildladder.cli", *args, "--db", str(desk.database)]
    return subprocess.run(command, capture_output=True, text=True, check=True, timeout=60).stdout


def ladder_in_store(desk: Served, *more: str) -> list[str]:
    return [rung["step"] for rung in json.loads(shell(desk, "export", "playbook", PLAYBOOK, "--json", *more))["ladder"]]


def totals(page: Page) -> str:
    return page.get_by_role("region", name="Totals").inner_text()


def tried(page: Page, desk: Served, step: str) -> int:
    rows = page.request.get(f"{desk.address}/api/playbooks/{PLAYBOOK}/evidence").json()["rows"]
    return next(row["counts"]["tried"] for row in rows if row["step"] == step)


def press_answer(page: Page, key: str, then: str) -> None:
    """Answer by key, and wait until the next thing is asked."""
    press(page, key)
    expect(page.get_by_role("heading", level=1)).to_have_text(then)


def test_reorder_publish_guide_and_measure(page: Page, demo: Served):
    # Reorder: the radio stands above the clock; one key puts the clock first.
    page.goto(f"{demo.address}/playbooks/{PLAYBOOK}/ladder")
    before = rung_titles(page)
    assert before.index(CLOCK) == before.index(RADIO) + 1
    figures = totals(page)
    rung(page, "set-clock").focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(page.locator(MAIN_LINE).nth(before.index(RADIO))).to_have_text(CLOCK)
    expect(rung(page, "set-clock")).to_be_focused()
    expect(page.get_by_role("region", name="Totals")).not_to_have_text(figures)
    expect(page.get_by_role("region", name="Totals")).to_have_text(re.compile("more|less"))

    # Undo, and redo after a reload.
    page.keyboard.press("Control+z")
    expect(page.locator(MAIN_LINE).nth(before.index(RADIO))).to_have_text(RADIO)
    page.reload()
    assert rung_titles(page) == before
    page.keyboard.press("Control+Shift+z")
    expect(page.locator(MAIN_LINE).nth(before.index(RADIO))).to_have_text(CLOCK)
    saved(page)
    assert ladder_in_store(demo, "--draft").index("set-clock") == before.index(RADIO)

    # Publish with a note.
    page.get_by_role("button", name="Publish edition 2").focus()
    press(page, "Enter")
    page.keyboard.type("The clock costs nothing to look at")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("button", name="Edition 2 is out")).to_be_disabled()
    expect(page.get_by_role("dialog")).to_have_count(0)
    assert ladder_in_store(demo).index("set-clock") == before.index(RADIO)

    # Guide a case on the new edition.
    tried_before = tried(page, demo, "set-clock")
    page.locator("[data-rung]").first.focus()
    page.keyboard.press("s")
    expect(page.get_by_label("What does the caller say?")).to_be_focused()
    page.keyboard.type("LIST NOT LOADED, says the reader")
    # The message leaves no doubt: its symptom is chosen, and the others are out of the way.
    expect(page.get_by_role("radio")).to_have_count(1)
    expect(page.get_by_role("radio", name="Handheld will not load")).to_be_checked()
    for _ in range(3):
        page.keyboard.press("Tab")
    expect(page.get_by_label("Unit, as its plate says")).to_be_focused()
    page.keyboard.type("H7-1001")
    page.get_by_label("Where is it in use?").focus()
    page.keyboard.type("Low")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Is the fault there now?")
    press_answer(page, "1", "See whether the list has been released")
    press_answer(page, "1", "Do the other handhelds on this landing have the list?")
    press_answer(page, "1", "Choose the right landing")
    press_answer(page, "2", CLOCK)
    press_answer(page, "u", "Choose the right landing")
    press_answer(page, "2", CLOCK)
    press_answer(page, "1", "Fixed. How is that known?")
    press_answer(page, "1", "Resolved")
    case = page.get_by_role("region", name="Now", exact=True).get_by_role("link", name="G-").inner_text()

    # The log and the evidence have it, for another process too.
    assert tried(page, demo, "set-clock") == tried_before + 1
    other = Database(demo.database)
    with other.reading() as session:
        from mildladder.desk.log.pages import case_view

        logged = case_view(session, case).case
    other.close()
    assert (logged.edition, logged.resolved_by, logged.unit) == (2, "set-clock", "H7-1001")
    steps = ["see-list-released", "choose-landing", "set-clock"]
    assert [attempt.step for attempt in logged.attempts] == steps
    page.get_by_role("link", name="See the evidence").focus()
    press(page, "Enter")
    row = page.get_by_role("row", name=CLOCK)
    expect(row).to_contain_text(f"of {tried_before + 1}")
    page.goto(f"{demo.address}/cases/{case}")
    expect(page.get_by_role("listitem").filter(has_text=CLOCK)).to_contain_text("Fixed")


def test_a_case_that_nothing_helps_is_handed_on_with_all_that_is_known(page: Page, demo: Served):
    page.goto(f"{demo.address}/start?playbook=board-departed-sailing")
    page.get_by_label("Which landing is the board on?").select_option("Sallow Bay")
    page.get_by_label("How many of the landing's boards").select_option("one of them")
    page.get_by_label("What does the caller say?").fill("The board is an hour behind")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Is the fault there now?")
    press_answer(page, "1", "See whether the departure was signed off")
    press_answer(page, "1", "Restart the board")
    for _ in range(30):
        heading = page.get_by_role("heading", level=1)
        if heading.inner_text() == "Hand the case off":
            break
        bar = page.get_by_role("region", name="Answers")
        shown = bar.inner_text()
        press(page, "y" if "y" in shown.split() else "2" if "No change" in shown else "1")
        expect(bar).not_to_have_attribute("aria-busy", "true")
    text = page.get_by_label("For the next team").input_value()
    for said in (
        "The board is an hour behind",
        "Which landing is the board on? Sallow Bay",
        "one of them",
        "Restart the board",
    ):
        assert said in text
    press_answer(page, "1", "Handed off")
