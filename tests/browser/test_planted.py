"""What the log holds beside guided cases: harm that was seen, names that no step has, lines that could not be read."""

import re
import subprocess
import sys

import pytest
from playwright.sync_api import Page, expect

from mildladder.exchange.case_lines import write_cases
from tests.browser.conftest import Served, press
from tests.samples import case

SYMPTOM = "handheld-no-sailing-list"
STEP = "end-list-program"


def evidence_of(page: Page, desk: Served, step: str) -> dict:
    rows = page.request.get(f"{desk.address}/api/playbooks/{SYMPTOM}/evidence").json()["rows"]
    return next(row for row in rows if row["step"] == step)


def climb_to_harm(page: Page, desk: Served) -> None:
    """Start a case and answer on, nothing helping, until a step asks about harm."""
    page.goto(f"{desk.address}/start?playbook={SYMPTOM}")
    expect(page.get_by_role("radio", checked=True)).to_be_visible()
    page.keyboard.press("Control+Enter")
    heading = page.get_by_role("heading", level=1)
    expect(heading).to_have_text("Is the fault there now?")
    harm = page.get_by_role("group", name="Did it do harm?")
    for _ in range(14):
        if harm.is_visible():
            return
        before = heading.inner_text()
        answers = page.get_by_role("region", name="Answers")
        if "First:" in answers.inner_text():
            press(page, "0")
            expect(answers).not_to_contain_text("First:")
        press(page, "2" if "No change" in answers.inner_text() else "1")
        expect(heading).not_to_have_text(before)
    raise AssertionError("no step asked about harm")


def test_harm_marked_in_a_guided_case_is_in_the_case_and_in_the_evidence(page: Page, demo: Served):
    climb_to_harm(page, demo)
    expect(page.get_by_role("heading", level=1)).to_have_text("End the list program and start it again")
    before = evidence_of(page, demo, STEP)["harms"][0]
    mark = page.get_by_role("group", name="Did it do harm?").get_by_role("button")
    expect(mark).to_have_attribute("aria-pressed", "false")
    page.keyboard.press("x")
    expect(mark).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("x")
    expect(mark).to_have_attribute("aria-pressed", "false")
    mark.click()
    expect(mark).to_have_attribute("aria-pressed", "true")
    press(page, "1")
    expect(page.get_by_role("heading", level=1)).to_have_text("Fixed. How is that known?")
    press(page, "1")
    expect(page.get_by_role("heading", level=1)).to_have_text("Resolved")
    page.get_by_role("region", name="Now", exact=True).get_by_role("link", name="G-").click()
    expect(page.get_by_text("something stored was lost", exact=True)).to_be_visible()
    after = evidence_of(page, demo, STEP)["harms"][0]
    assert (after["asked"], after["seen"]) == (before["asked"] + 1, before["seen"] + 1)


def log_harm(desk: Served, cases: int) -> None:
    """More cases in which the step lost data, brought in by another process."""
    attempt = {"step": STEP, "outcome": "no-change", "harmed": ["data"]}
    harmed = [case(n, attempts=[attempt], case=f"H-{n}", symptom=SYMPTOM) for n in range(cases)]
    command = [sys.executable, "-m", "mildladder.cli", "import", "cases", "-", "--db", str(desk.database)]
    subprocess.run(command, input=b"".join(write_cases(harmed)), check=True, timeout=60)


def test_evidence_shows_more_harm_than_the_step_names_and_what_was_done_under_other_names(page: Page, demo: Served):
    log_harm(demo, 12)
    page.goto(f"{demo.address}/playbooks/{SYMPTOM}/evidence")
    row = page.get_by_role("row", name="End the list program")
    expect(row).to_contain_text("not 10 %")
    other = page.get_by_role("group").filter(has_text="Under other names")
    name = other.get_by_role("link").first
    expect(name).to_be_hidden()
    other.get_by_text("Under other names").click()
    step = name.inner_text()
    name.click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Handheld will not load the sailing list")
    page.get_by_role("main").get_by_role("link", name="HO-").first.click()
    expect(page.get_by_role("listitem").get_by_text(step, exact=True).first).to_be_visible()


def test_a_lead_says_what_a_name_is_and_takes_it_back(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/gate-arm-up/evidence")
    page.get_by_text("Under other names").click()
    first = page.get_by_role("combobox", name=re.compile("^What “")).first
    name = re.match("What “(.*)” is", first.get_attribute("aria-label"))[1]
    row = page.get_by_role("row", name="Clear the hold-open setting").get_by_role("img").first
    before = row.get_attribute("aria-label")
    first.select_option("Clear the hold-open setting")
    expect(row).to_have_attribute("aria-label", before)
    page.get_by_role("button", name="Say so").press("Enter")
    said = page.get_by_role("region", name="What names were said to be")
    expect(said).to_contain_text(f"“{name}” counts as “Clear the hold-open setting”")
    expect(page.get_by_role("combobox", name=f"What “{name}” is")).to_have_count(0)
    expect(row).not_to_have_attribute("aria-label", before)
    said.get_by_role("button", name="take back").press("Enter")
    expect(said).to_have_count(0)
    expect(row).to_have_attribute("aria-label", before)
    other = page.get_by_role("combobox", name=f"What “{name}” is")
    other.select_option("of its own")
    page.get_by_role("button", name="Say so").press("Enter")
    expect(said).to_contain_text(f"“{name}” is a step of its own")
    expect(other).to_have_count(0)
    expect(
        page.get_by_role("group").filter(has_text="Under other names").get_by_role("link", name=name)
    ).to_be_visible()
    said.get_by_role("button", name="take back").press("Enter")
    expect(other).to_be_visible()


def test_lines_that_could_not_be_read_wait_on_the_desk_with_their_reasons(page: Page, demo: Served):
    page.goto(demo.address)
    total = page.request.get(f"{demo.address}/api/left-out").json()["total"]
    assert total > 0
    page.get_by_role("region", name="Waiting for you").get_by_role("link", name=f"{total} lines left out").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Left out")
    table = page.get_by_role("region", name="Lines left out")
    expect(table.get_by_role("rowheader")).to_contain_text("harbour-office.jsonl")
    expect(table.locator("tbody td:nth-child(3)")).to_have_count(total)
    for why in table.locator("tbody td:nth-child(2)").all_inner_texts():
        assert len(why) > 10
    page.goto(f"{demo.address}/cases")
    expect(page.get_by_role("link", name=f"{total} lines")).to_have_attribute("href", "/left-out")


@pytest.mark.parametrize("width", [1280, 1024, 390])
def test_names_to_decide_lead_from_the_desk_to_where_they_are_decided(page: Page, demo: Served, width: int):
    page.set_viewport_size({"width": width, "height": 800})
    page.goto(demo.address)
    page.get_by_role("link", name=re.compile(r"\d+ names to decide")).press("Enter")
    expect(page.get_by_role("combobox", name=re.compile("^What “")).first).to_be_visible()
    expect(page.get_by_text("Under other names")).to_be_in_viewport()
    # Only what stands below the head of the page moves.
    assert page.get_by_role("banner").bounding_box()["y"] == 0


def test_a_draft_that_agents_do_not_follow_yet_waits_with_what_holds_it(page: Page, demo: Served):
    title = "Berth lamp flickers at dusk"
    made = page.request.post(f"{demo.address}/api/playbooks", data={"title": title}, headers={"Origin": demo.address})
    assert made.ok, made.text()
    page.goto(demo.address)
    lamp = page.get_by_role("region", name="Waiting for you").get_by_role("listitem").filter(has_text=title)
    expect(lamp).to_contain_text(f"{title}: never published")
    expect(lamp.get_by_role("paragraph")).to_have_text(re.compile(r"^\w[^·]+ · changed "))
    lamp.get_by_role("link").click()
    expect(page.get_by_role("heading", level=1)).to_have_text(title)


def test_where_the_time_goes_leads_to_what_the_cases_say_of_it(page: Page, demo: Served):
    page.goto(demo.address)
    spent = page.get_by_role("region", name="Where the time goes")
    hours = [
        int(re.search(r"([\d,]+)\sh", text)[1].replace(",", ""))
        for text in spent.get_by_role("listitem").all_inner_texts()
    ]
    assert hours == sorted(hours, reverse=True)
    first = spent.get_by_role("link").first
    name = first.inner_text()
    first.click()
    expect(page.get_by_role("heading", level=1)).to_have_text(name)
    expect(page.get_by_role("link", name="Evidence")).to_have_attribute("aria-current", "page")
