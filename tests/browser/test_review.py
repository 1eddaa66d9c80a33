"""Review, publishing and editions: a lead is stopped, mends with one press, publishes, and reads what changed."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, rung, rung_titles, saved
from tests.browser.rough import rough_line

LANE = "/playbooks/lane-scale-wrong"
SAVE, LOAD = "Note the scale's table", "Load the scale's table again"


def test_a_lead_is_stopped_mends_publishes_and_reads_the_difference(page: Page, demo: Served):
    page.goto(f"{demo.address}{LANE}/ladder")
    titles = rung_titles(page)
    assert titles.index(SAVE) > titles.index(LOAD)
    expect(page.get_by_role("img", name="Review: blocker")).to_have_count(1)

    # Stopped at publishing, with the reason.
    page.get_by_role("button", name="Publish edition 1").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("alert")).to_contain_text(f"“{SAVE}” must stand above “{LOAD}”")
    dialog.get_by_label("What changed, and why").fill("First edition")
    expect(dialog.get_by_role("button", name="Publish edition 1")).to_be_disabled()
    dialog.get_by_role("button", name="Not now").click()

    # One press in the strip mends it.
    strip = page.get_by_role("region", name="Review")
    strip.get_by_role("button", name=re.compile("Review")).click()
    strip.get_by_role("button", name=f"Move “{SAVE}” above “{LOAD}”").click()
    expect(page.get_by_role("img", name="Review: blocker")).to_have_count(0)
    saved(page)
    titles = rung_titles(page)
    assert titles.index(SAVE) < titles.index(LOAD)

    page.get_by_role("button", name="Publish edition 1").click()
    dialog.get_by_label("What changed, and why").fill("First edition")
    dialog.get_by_role("button", name="Publish edition 1").click()
    expect(dialog).to_have_count(0)

    # The next change is read as a sentence, when publishing and on the Editions tab.
    rung(page, "set-nought").focus()
    page.keyboard.press("Alt+ArrowDown")
    page.get_by_role("button", name="Publish edition 2").click()
    expect(dialog.get_by_role("region", name="What changed")).to_contain_text(
        "“Set the scale to nought” moved from 2 to 3"
    )
    dialog.get_by_label("What changed, and why").fill("Sweep before setting")
    dialog.get_by_role("button", name="Publish edition 2").click()
    expect(dialog).to_have_count(0)
    page.get_by_role("link", name="Editions").click()
    comparison = page.get_by_role("region", name="Comparison")
    expect(comparison).to_contain_text("“Set the scale to nought” moved from 2 to 3")
    expect(page.get_by_role("region", name="Timeline")).to_contain_text("Sweep before setting")


def test_an_edition_becomes_the_draft_again_and_undo_brings_back_what_was(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/kiosk-no-card-pad/editions")
    comparison = page.get_by_role("region", name="Comparison")
    expect(comparison).to_contain_text("“See whether the kiosk lists the pad” is new at 2")
    expect(comparison.get_by_role("row", name=re.compile("effort minutes a case")).first).to_be_visible()
    timeline = page.get_by_role("region", name="Timeline")
    timeline.get_by_role("button", name="Make it the draft again").last.click()
    expect(timeline).to_contain_text("Edition 1 brought back")
    page.get_by_role("link", name="Ladder").click()
    expect(page.locator("[data-rung]").first).to_have_text("Send the kiosk's unsent sales before a restart")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-rung]").first).to_have_text("Wake the pad with its green key")


def test_edits_that_go_to_the_server_one_after_the_other_are_compared_once_they_are_there(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/kiosk-no-card-pad/ladder")
    rung(page, "wake-pad").focus()
    with rough_line(page) as line:
        line.way = "cut"
        for _ in range(4):
            page.keyboard.press("Alt+ArrowDown")
            page.keyboard.press("Alt+ArrowUp")
        page.keyboard.press("Alt+ArrowDown")
        expect(page.get_by_role("status").filter(has_text="kept here, not yet sent")).to_be_visible()
        page.get_by_role("link", name="Editions").click()
        comparison = page.get_by_role("region", name="Comparison")
        expect(comparison.get_by_role("row", name=re.compile("effort minutes a case")).first).to_be_visible()
        comparison.get_by_label("From").select_option("edition 2")
        comparison.get_by_label("To").select_option("the draft")
        expect(comparison).to_contain_text("The two are the same.")
        line.seen.clear()
        # A good line would send them by itself, and might take the button away from under the press.
        line.way = "held"
        page.get_by_role("button", name="Send now").click()
        line.restore()
        expect(page.get_by_role("alert")).to_have_count(0)
        expect(comparison).to_contain_text("“Wake the pad with its green key” moved from 1 to 2")
        page.get_by_role("link", name="Ladder").click()
        saved(page)
        edits, compared = line.sent("POST playbooks/kiosk-no-card-pad/draft/edits"), line.sent("/compare?")
        assert edits > 2
        assert compared <= 2


def test_a_finding_leads_to_its_rung(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/counter-no-labels/ladder")
    page.locator("[data-rung]").nth(3).focus()
    page.keyboard.press("Alt+ArrowDown")
    strip = page.get_by_role("region", name="Review")
    strip.get_by_role("button", name=re.compile("Review")).click()
    expect(strip.get_by_role("listitem").first).to_be_visible()


WATCH = """
() => {
  window.gone = 0;
  const isMark = (node) => node instanceof Element && (node.getAttribute('aria-label') ?? '').startsWith('Review:');
  new MutationObserver((many) => {
    window.gone += many.flatMap(({ removedNodes }) => [...removedNodes]).filter(isMark).length;
  }).observe(document.querySelector('section[aria-label=Ladder]'), { childList: true, subtree: true });
}
"""


def test_marks_stay_while_a_new_review_is_waited_for(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/kiosk-no-card-pad/ladder")
    # A new step without a word of what to do is marked.
    line = page.get_by_label("New step at the foot of the ladder")
    line.fill("Look behind the card pad")
    line.press("Enter")
    marks = page.get_by_role("region", name="Ladder").get_by_role("img", name=re.compile("Review: (warning|blocker)"))
    expect(marks.first).to_be_visible()
    page.locator("[data-rung]").first.click()
    page.evaluate(WATCH)
    with page.expect_response(lambda answer: "/draft/review" in answer.url) as reviewed:
        page.get_by_label("Why it stands here").fill("It costs nothing and is often all")
    assert reviewed.value.ok
    expect(marks.first).to_be_visible()
    assert page.evaluate("window.gone") == 0
