"""A first ladder from the log: a symptom whose cases came without a playbook is begun in a few presses."""

import json
import random
import re
from datetime import UTC, datetime, timedelta

from playwright.sync_api import Page, expect

from tests.browser.conftest import Served
from tests.browser.test_loop import shell

TRIES = {"Wiped the contacts": (0.5, 4), "Turned it off and on": (0.3, 2), "Changed the lead": (0.6, 15)}


def lines(count: int):
    """What another system logged of a symptom that nobody has written a playbook for."""
    chance = random.Random(5)
    for number in range(count):
        closed = datetime.now(UTC) - timedelta(days=1 + number % 60)
        attempts, ended = [], None
        for step in chance.sample(sorted(TRIES), 3):
            share, minutes = TRIES[step]
            is_fixed = chance.random() < share
            attempts.append({"step": step, "outcome": "fixed" if is_fixed else "no-change", "minutes": minutes})
            if is_fixed:
                ended = step
                break
        yield json.dumps(
            {
                "case": f"LB-{number}",
                "symptom": "lamp-at-berth-dark",
                "opened": (closed - timedelta(minutes=20)).isoformat(),
                "closed": closed.isoformat(),
                "attempts": attempts,
                "end": "resolved" if ended else "handed-off",
                "resolved_by": ended,
            }
        )


def test_a_symptom_that_came_without_a_playbook_is_begun_from_its_log(page: Page, demo: Served, tmp_path):
    file = tmp_path / "lamps.jsonl"
    file.write_text("\n".join(lines(120)))
    shell(demo, "import", "cases", str(file))
    page.goto(demo.address)
    note = page.get_by_text(re.compile(r"Without a playbook: Lamp at berth dark, 120\s+cases"))
    expect(note).to_be_visible()
    page.get_by_role("link", name="Begin a ladder from the log").click()
    part = page.get_by_role("region", name="From the log")
    part.get_by_role("button", name=re.compile("Lamp at berth dark")).press("Enter")
    expect(page.get_by_label("Title", exact=True)).to_have_value("Lamp at berth dark")
    steps = part.get_by_role("list").last.get_by_role("listitem")
    expect(steps).to_have_count(3, timeout=60_000)
    # Two minutes for three in ten, then four for five in ten, and fifteen for six in ten.
    proposed = steps.all_inner_texts()
    assert [next(name for name in TRIES if name in one) for one in proposed][-1] == "Changed the lead"
    assert all("A guess from the log: tried" in one for one in proposed)
    page.get_by_label("Who takes what the ladder leaves").fill("Harbour crew")
    part.get_by_role("button", name="Begin with this ladder").press("Enter")
    expect(page.get_by_role("heading", level=1, name="Lamp at berth dark")).to_be_visible()
    expect(page.locator("[data-rung]")).to_have_count(3)
    # What was logged under those names counts for its steps at once.
    page.get_by_role("link", name="Evidence").click()
    expect(page.get_by_role("row", name=re.compile("Changed the lead")).first).to_be_visible()
    expect(page.get_by_text("Under other names")).to_have_count(0)
    page.get_by_role("link", name="Desk").first.click()
    expect(note).to_have_count(0)
