"""What people met who used the product for an afternoon, each shown mended where they met it."""

import re

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Served, answer_with, new_context, press, rung, saved, sit_down
from tests.browser.rough import rough_line
from tests.browser.test_closing import bar, heading
from tests.browser.test_guide import start
from tests.browser.test_on_purpose import gate, known, now

SYMPTOM = "/playbooks/tablet-loses-network"


def test_nothing_is_said_of_a_step_while_a_value_is_missing_that_it_waits_for(page: Page, demo: Served):
    gate(page, demo)
    expect(page.get_by_role("region", name="What is done then")).to_contain_text("lanectl hold")
    answer_with(page, "y")
    expect(bar(page)).to_contain_text("First: Lane number")
    expect(bar(page).get_by_role("button", name="Fixed")).to_have_count(0)
    press(page, "Escape")
    press(page, "9")
    expect(bar(page).get_by_role("button", name="Could not do it")).to_be_visible()
    press(page, "9")
    answer_with(page, "0")
    expect(bar(page).get_by_role("button", name="Fixed")).to_be_visible()
    expect(known(page)).to_contain_text("could not be told")


def test_a_case_waits_for_the_caller_and_is_taken_up_by_one_key(page: Page, demo: Served):
    start(page, demo)
    stood = heading(page).inner_text()
    page.keyboard.press("p")
    page.get_by_role("dialog").get_by_role("button", name="Let it wait").press("Enter")
    expect(heading(page)).to_have_text("Waiting for the caller to ring back")
    answer_with(page, "r")
    expect(heading(page)).to_have_text(stood)


def test_a_case_of_somebody_else_is_taken_over_by_one_key(page: Page, demo: Served, browser: Browser):
    start(page, demo)
    with new_context(browser) as context:
        other = sit_down(context, demo, "I. Vell")
        other.goto(page.url)
        expect(other.get_by_role("alert")).to_contain_text("R. Tamsin has this case")
        other.keyboard.press("k")
        expect(bar(other)).to_be_visible()


def test_from_a_guided_case_one_key_starts_another_and_one_finds(page: Page, demo: Served):
    start(page, demo)
    case = page.url
    press(page, "/")
    expect(page.get_by_role("combobox", name="Find a symptom, step, unit or case")).to_be_focused()
    page.goto(case)
    expect(heading(page)).to_be_visible()
    press(page, "s")
    expect(page.get_by_label("What does the caller say?")).to_be_focused()


def test_what_is_shown_stays_when_the_server_fails_and_says_that_it_may_be_old(page: Page, demo: Served):
    page.clock.install()
    start(page, demo)
    stood = heading(page).inner_text()
    with rough_line(page) as line:
        line.way, line.is_all = "failing", True
        # What is shown is asked for anew when the window is looked at, once it is some seconds old.
        page.clock.fast_forward(10_000)
        page.evaluate("() => document.dispatchEvent(new Event('visibilitychange'))")
        expect(page.get_by_role("alert")).to_contain_text("may be out of date")
        expect(heading(page)).to_have_text(stood)
        line.restore()
    page.get_by_role("alert").get_by_role("button", name="Try again").click()
    expect(page.get_by_role("alert")).to_have_count(0)


def test_a_prevention_is_made_and_edited_where_it_is_offered(page: Page, demo: Served):
    page.goto(f"{demo.address}{SYMPTOM}/symptom")
    page.get_by_role("button", name="make a step that prevents it").click()
    expect(page.get_by_label("title of the step")).to_be_focused()
    page.keyboard.type("Charge it overnight")
    saved(page)
    part = page.get_by_role("region", name="Trying again, and preventing")
    expect(part.get_by_label("offered once it is resolved").last).to_have_value(re.compile("."))
    part.get_by_role("button", name="add a thing to do").click()
    page.keyboard.type("Put it on the charger by the door")
    saved(page)
    page.reload()
    expect(page.get_by_label("title of the step")).to_have_value("Charge it overnight")
    for _ in range(4):
        if (undo := page.get_by_role("button", name="Undo", exact=True)).is_enabled():
            undo.click()
            saved(page)


def test_a_flaw_away_from_the_ladder_says_its_place_and_leads_there(page: Page, demo: Served):
    page.goto(f"{demo.address}{SYMPTOM}/symptom")
    page.get_by_role("button", name="add a look-alike").click()
    page.keyboard.type("The screen is black")
    saved(page)
    page.get_by_role("navigation", name="Of this symptom").get_by_role("link", name="Ladder").click()
    review = page.get_by_role("region", name="Review")
    expect(review).to_contain_text("1 flaw")
    review.get_by_role("button", name=re.compile("Review")).click()
    flaw = review.get_by_role("link", name=re.compile("“The screen is black”, the playbook that it belongs to"))
    flaw.click()
    expect(page.get_by_label("what one sees instead").last).to_be_focused()
    page.get_by_role("button", name="Take out The screen is black").click()
    saved(page)


def test_a_section_that_somebody_opened_stays_open_on_the_next_rung(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/gate-stays-amber/ladder")
    rung = page.locator("[data-rung]")
    rung.first.click()
    inspector = page.get_by_role("complementary", name="The chosen rung")
    fine = inspector.locator("summary", has_text="Fine print")
    fine.click()
    expect(inspector.get_by_role("button", name="add a guard")).to_be_visible()
    rung.nth(1).click()
    expect(inspector.get_by_role("button", name="add a guard")).to_be_visible()


def test_after_a_rail_the_rung_has_the_focus_and_its_dialog_can_be_left(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/gate-arm-up/ladder")
    below = rung(page, "save-counts")
    below.click()
    below.press("r")
    dialog = page.get_by_role("dialog", name="Into a side rail")
    dialog.get_by_role("button", name="Leave it where it is").click()
    expect(dialog).to_have_count(0)
    expect(below).to_be_focused()
    below.press("r")
    dialog.get_by_role("button", name="Reads blocked").click()
    expect(dialog).to_have_count(0)
    expect(below).to_be_focused()
    saved(page)
    page.get_by_role("button", name="Undo", exact=True).click()
    saved(page)


def test_the_marks_of_a_drawing_say_what_they_mean(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/counter-no-labels/ladder")
    key = page.get_by_role("button", name=re.compile("what the marks mean"))
    key.focus()
    key.press("?")
    expect(page.get_by_role("dialog", name=re.compile("What the marks mean"))).to_contain_text("Notches in the rail")
    page.keyboard.press("Escape")
    expect(key).to_be_focused()


def test_a_chosen_step_of_the_typed_line_is_named(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/gate-arm-up/ladder")
    line = page.get_by_role("combobox", name="New step at the foot of the ladder")
    line.fill("restart")
    expect(page.get_by_role("option").first).to_be_visible()
    line.press("ArrowDown")
    chosen = line.get_attribute("aria-activedescendant")
    expect(page.locator(f"[id='{chosen}']")).to_contain_text("Restart the lane unit")
    line.press("Escape")


def test_two_equal_editions_say_so_alone(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/kiosk-faint-tickets/editions")
    compared = page.get_by_role("region", name="Comparison")
    compared.get_by_label("From").select_option("1")
    compared.get_by_label("To").select_option("1")
    expect(compared).to_contain_text("The two are the same.")
    expect(compared.get_by_role("row", name=re.compile("effort minutes"))).to_have_count(0)


def test_a_guarded_step_is_answered_under_its_question(page: Page, demo: Served):
    gate(page, demo)
    asked, answers = now(page).bounding_box(), bar(page).bounding_box()
    assert asked
    assert answers
    assert 0 <= answers["y"] - (asked["y"] + asked["height"]) < 40
