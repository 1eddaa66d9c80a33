"""What the Desk says to do next: opened in the draft, hidden, told once, and followed to what came of it."""

import json
import re
import subprocess
import sys

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.browser.conftest import Served, new_context, rung_titles, saved, sit_down
from tests.browser.rough import rough_line


@pytest.fixture
def page(context: BrowserContext, log: Served) -> Page:
    """A page of that desk at which the lead sits."""
    return sit_down(context, log)


def nudges(page: Page):
    return page.get_by_role("region", name="What to do next").get_by_role("listitem")


def look_through(page: Page, log: Served) -> None:
    """The Desk once every symptom was looked through, which is done in the background."""
    page.goto(log.address)
    expect(nudges(page).first).to_be_visible(timeout=120_000)
    expect(page.get_by_text("looked through so far")).to_have_count(0, timeout=240_000)


def test_what_the_desk_says_to_do_next_is_put_into_the_draft_and_moves_its_figures(page: Page, log: Served):
    look_through(page, log)
    rail = nudges(page).filter(has_text="Handheld will not load the sailing list").first
    expect(rail).to_contain_text(re.compile(r"\d\.\d h a month"))
    expect(rail).to_contain_text("less")
    said = rail.get_by_role("paragraph").nth(1).inner_text()
    link = rail.get_by_role("link", name="Open in draft")
    # An address alone, from wherever it comes, changes no draft.
    other = page.context.new_page()
    other.goto(log.address + str(link.get_attribute("href")))
    strip = other.get_by_role("alert").filter(has_text=said)
    expect(strip.get_by_role("button", name="Put it into the draft")).to_be_visible()
    expect(other.get_by_text("as agents follow it")).to_be_visible()
    effort = other.get_by_role("region", name="Totals").get_by_role("button", name="Effort a case")
    before = re.search(r"[\d.]+ min", effort.inner_text().replace("\u00a0", " "))[0]
    link.click()
    taken = page.get_by_role("region", name="Put into the draft")
    expect(taken).to_contain_text(said)
    expect(page.get_by_text("Differences are against edition")).to_be_visible()
    effort = page.get_by_role("region", name="Totals").get_by_role("button", name="Effort a case")
    expect(effort).not_to_contain_text(f"case{before}")
    saved(page)
    # Come back to or loaded anew, the page puts nothing in a second time.
    page.reload()
    expect(page.get_by_text("Differences are against edition")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_text("as agents follow it")).to_be_visible()
    expect(effort).to_contain_text(f"case{before}")


def test_every_planted_discovery_that_is_worth_something_is_said_on_the_desk(page: Page, log: Served):
    look_through(page, log)
    more = page.get_by_role("button", name=re.compile("more that save less"))
    more.click()
    said = page.get_by_role("region", name="What to do next").inner_text()
    # The hazard that no safeguard eases, the text that names a page of one kiosk alone, the order that is dear: of the
    # moves that touch the same rungs the one that spares most, by itself or with all others.
    assert "Let Send the boarding counts stand above End the list program and start it again and ease its harm" in said
    assert "Mend the text of Adjust the touch from the service page" in said
    assert re.search(r"Lane scale weighs wrong\s+(Take the best order|Put .+ above )", said)


def test_a_safeguard_that_the_desk_has_is_put_above_what_it_eases_and_the_step_says_so(page: Page, log: Served):
    look_through(page, log)
    guard, guarded = "Send the boarding counts", "End the list program and start it again"
    nudges(page).filter(has_text=f"Let {guard} stand above").get_by_role("link", name="Open in draft").click()
    expect(page.get_by_role("region", name="Put into the draft")).to_be_visible()
    page.get_by_role("button", name="Take it back out").click()
    expect(page.get_by_text("as agents follow it")).to_be_visible()
    before = rung_titles(page)
    page.get_by_role("button", name=re.compile("^Redo")).click()
    expect(page.get_by_text("Differences are against edition")).to_be_visible()
    saved(page)
    after = rung_titles(page)
    assert sorted(after) == sorted({*before, guard}, key=str)
    assert after.index(guard) == after.index(guarded) - 1
    page.locator("[data-rung]").filter(has_text=guarded).first.click()
    expect(page.get_by_role("complementary", name="The chosen rung")).to_contain_text(guard)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_text("as agents follow it")).to_be_visible()
    assert rung_titles(page) == before


def test_what_is_not_wanted_now_is_hidden_with_its_reason_and_an_agent_is_told_nothing(
    page: Page, log: Served, browser: Browser
):
    look_through(page, log)
    page.get_by_role("button", name=re.compile("more that save less")).click()
    last = nudges(page).last
    said = last.get_by_role("paragraph").nth(1).inner_text()
    last.get_by_role("button", name="not now").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("button", name="Never show it again")).to_be_disabled()
    dialog.get_by_label("Why").fill("The crew likes it")
    dialog.get_by_role("button", name="Not now").press("Enter")
    expect(dialog).to_have_count(0)
    expect(nudges(page).filter(has_text=said)).to_have_count(0)
    with new_context(browser) as context:
        agent = sit_down(context, log, "I. Vell")
        agent.goto(log.address)
        expect(agent.get_by_role("heading", name="Symptoms")).to_be_visible()
        expect(agent.get_by_role("region", name="What to do next")).to_have_count(0)


def test_what_has_stopped_working_stands_first_until_somebody_has_seen_it(page: Page, log: Served):
    look_through(page, log)
    stopped = nudges(page).filter(has_text="Restart the reader has ended less since")
    expect(nudges(page).first).to_contain_text("has ended less since")
    held = nudges(page).filter(has_text="has ended less since").count()
    expect(stopped).to_contain_text(re.compile(r"\d+\s% since\s*\d+\s% before"))
    stopped.get_by_role("button", name="seen").press("Enter")
    expect(stopped).to_have_count(0)
    page.reload()
    expect(nudges(page).filter(has_text="h a month").first).to_be_visible()
    expect(nudges(page).filter(has_text="has ended less since")).to_have_count(held - 1)


def test_what_to_do_next_stays_where_the_line_fails_and_says_so_where_it_was_never_there(page: Page, log: Served):
    look_through(page, log)
    said = nudges(page).first.inner_text()
    with rough_line(page) as line:
        page.get_by_role("link", name="Cases").first.click()
        line.way, line.is_all = "failing", True
        page.get_by_role("link", name="Desk").first.click()
        expect(nudges(page).first).to_be_visible()
        assert nudges(page).first.inner_text() == said
    page.route("**/api/nudges", lambda route: route.fulfill(status=500))
    page.reload()
    expect(page.get_by_text("What to do next cannot be told now")).to_be_visible()


@pytest.mark.long
def test_the_whole_circle_from_what_to_do_next_to_what_came_of_it(page: Page, log: Served):
    """Read on the Desk, look at its evidence, take it, publish it, let three months of cases come, see what came."""
    symptom = "Handheld will not load the sailing list"
    look_through(page, log)
    rail = nudges(page).filter(has_text=symptom).first
    rail.get_by_role("link", name=re.compile("case")).click()
    expect(page.get_by_role("heading", level=1, name=symptom)).to_be_visible()
    expect(page.get_by_text(re.compile("If tried first", re.IGNORECASE)).first).to_be_visible()
    page.go_back()
    rail.get_by_role("link", name="Open in draft").click()
    expect(page.get_by_role("region", name="Put into the draft")).to_be_visible()
    saved(page)
    page.get_by_role("button", name="Publish edition 2").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("What changed, and why").fill("As the cases say")
    dialog.get_by_role("button", name="Publish edition 2").click()
    expect(dialog).to_have_count(0)

    page.get_by_role("link", name="Desk").first.click()
    came = page.get_by_role("region", name="What came of it").get_by_role("listitem").filter(has_text=symptom)
    expect(came).to_contain_text(re.compile(r"Edition 2, .*promised \d+\.\d min less a case"), timeout=120_000)
    expect(came).to_contain_text(re.compile(r"0\s+cases by it so far"))

    command = [sys.executable, "-m", "mildladder.cli", "simulate", "--months", "3", "--json"]
    command += ["--playbook", "handheld-no-sailing-list", "--db", str(log.database)]
    done = subprocess.run(command, capture_output=True, text=True, check=True, timeout=240)
    cases = json.loads(done.stdout)["cases"]
    assert cases > 60
    page.reload()
    expect(came).to_contain_text(re.compile(rf"{cases}\s+cases by it since"), timeout=120_000)
    expect(came).to_contain_text(re.compile(r"Promised \d+\.\d min less a case"))
    expect(came).to_contain_text("On the clock, its cases took")
    expect(page.get_by_role("region", name="What came of it")).to_contain_text(
        re.compile(r"1\s+change promised, \d\.\d h came \([>\s\d]+%\)")
    )
    page.get_by_role("link", name="Edition 2").click()
    expect(page.get_by_role("region", name="As their own cases went")).to_contain_text(
        re.compile(r"and \d+ of edition 2"), timeout=60_000
    )


@pytest.mark.long
def test_two_editions_run_side_by_side_until_it_is_decided(page: Page, log: Served):
    page.goto(f"{log.address}/playbooks/kiosk-no-card-pad/editions")
    part = page.get_by_role("region", name="Side by side")
    expect(part.get_by_role("status")).to_contain_text(re.compile(r"takes about .*\sweeks at the present rate"))
    before = part.get_by_role("status").inner_text()
    part.get_by_label("Difference to be found").fill("60")
    expect(part.get_by_role("status")).not_to_have_text(before)
    expect(part.get_by_role("status")).to_contain_text("To find 60.0 minutes a case")
    part.get_by_role("button", name="Run editions 1 and 2 side by side").press("Enter")
    expect(part).to_contain_text("Nothing can be said before 40 cases")
    command = [sys.executable, "-m", "mildladder.cli", "simulate", "--cases", "110", "--months", "6", "--json"]
    command += ["--playbook", "kiosk-no-card-pad", "--db", str(log.database)]
    subprocess.run(command, capture_output=True, text=True, check=True, timeout=240)
    page.reload()
    expect(part).to_contain_text(re.compile(r"Editions 1 and 2 ran side by side from .* to "))
    expect(part).to_contain_text(re.compile(r"There is no difference of 60\.0 minutes a case|It is decided: edition 2"))
    expect(part).to_contain_text(re.compile(r"Edition 2 costs \d+\.\d min (less|more) a case against edition 1"))
    expect(part.get_by_role("button", name="Stop it")).to_have_count(0)
    expect(part.get_by_role("button", name="Run editions 1 and 2 side by side")).to_be_visible()
