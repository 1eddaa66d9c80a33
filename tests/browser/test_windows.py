"""What one page must not do to another person, another case or another field; odd keys, and browsers that keep nothing."""

import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.company import BLOCKED
from tests.browser.conftest import Served, answer_with, new_context, rung_titles, saved, sit_down
from tests.browser.rough import rough_line
from tests.browser.test_every_page import PLACES, settled
from tests.browser.test_guide import start
from tests.browser.test_planted import climb_to_harm
from tests.parts import in_part

OTHER = "I. Vell"
LADDER = "/playbooks/counter-no-labels/ladder"
TWICE = """() => {
  const ids = [...document.querySelectorAll("[id]")].map((one) => one.id);
  return ids.filter((one, at) => ids.indexOf(one) !== at);
}"""


def choose(page: Page, name: str) -> None:
    page.get_by_role("button", name=re.compile("(lead|agent|technician)$")).click()
    page.get_by_role("menuitemradio", name=re.compile(f"^{re.escape(name)}")).click()


def shows(page: Page, name: str) -> None:
    expect(page.get_by_role("button", name=re.compile(f"^{re.escape(name)}"))).to_be_visible()


def straight_to(page: Page, url: str) -> None:
    """To another place as a link leads there: the page itself stays."""
    page.evaluate("url => { history.pushState(null, '', url); dispatchEvent(new PopStateEvent('popstate')) }", url)
    page.wait_for_url(url)


def last_saved(context: BrowserContext, desk: Served) -> str:
    return context.request.get(desk.address + "/api/playbooks/counter-no-labels/draft").json()["saved"]["who"]


def retitle(page: Page, title: str) -> None:
    page.locator("[data-rung]").first.click()
    page.keyboard.press("e")
    page.keyboard.type(title)
    page.keyboard.press("Enter")


def test_what_was_typed_in_one_case_is_not_there_in_the_next(page: Page, demo: Served):
    """Both are at the same rung, and the page goes from one to the other without being loaded anew."""
    cases = []
    for _ in range(2):
        start(page, demo)
        answer_with(page, "1")
        cases.append(page.url)
    expect(page.get_by_role("heading", level=1)).to_have_text("Ask how the ticket looks")
    page.keyboard.press("e")
    page.get_by_label("What was done").fill("Knocked on the lid")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    while page.url != cases[0]:
        here = page.url
        page.keyboard.press("o")
        page.wait_for_url(lambda url, here=here: url != here)
        expect(page.get_by_role("heading", level=1)).to_be_visible()
    page.keyboard.press("e")
    expect(page.get_by_label("What was done")).to_have_value("")


def test_harm_that_is_marked_in_one_case_is_not_marked_in_the_next(page: Page, demo: Served):
    """Both are at the same rung and were shown by this page before, which goes from one straight to the other."""
    climb_to_harm(page, demo)
    first = page.url
    climb_to_harm(page, demo)
    second = page.url
    harm = page.get_by_role("group", name="Did it do harm?").get_by_role("button").first
    straight_to(page, first)
    expect(harm).to_be_visible()
    straight_to(page, second)
    harm.click()
    expect(harm).to_have_attribute("aria-pressed", "true")
    straight_to(page, first)
    expect(harm).to_have_attribute("aria-pressed", "false")


def test_whoever_clicks_into_another_field_stays_there(page: Page, demo: Served):
    page.goto(demo.address + LADDER)
    before = rung_titles(page)
    page.locator("[data-rung]").first.click()
    page.keyboard.press("e")
    page.keyboard.type("Look at the roll once more")
    field = page.locator("[data-field='note']").first
    field.click()
    expect(field).to_be_focused()
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
    expect(field).to_be_focused()
    page.keyboard.press("Delete")
    page.keyboard.type("because")
    expect(field).to_have_value(re.compile("because"))
    saved(page)
    assert len(rung_titles(page)) == len(before), "Delete was meant for the text"


def test_a_change_of_person_reaches_the_other_window_at_once(context: BrowserContext, page: Page, demo: Served):
    page.goto(demo.address + LADDER)
    shows(page, "R. Tamsin")
    other = context.new_page()
    other.goto(demo.address)
    choose(other, OTHER)
    shows(page, OTHER)
    retitle(page, "Named by the second person")
    saved(page)
    assert last_saved(context, demo) == OTHER
    choose(other, "R. Tamsin")
    shows(page, "R. Tamsin")


def test_an_edit_is_never_sent_as_somebody_else_and_waits_for_its_person(browser, demo: Served):
    """Where windows cannot tell each other anything, the server does."""
    with new_context(browser) as context:
        context.add_init_script("delete window.BroadcastChannel")
        page = sit_down(context, demo)
        page.goto(demo.address + LADDER)
        retitle(page, "Named to begin with")
        saved(page)
        other = context.new_page()
        other.goto(demo.address)
        choose(other, OTHER)
        shows(page, "R. Tamsin")
        with page.expect_response(lambda one: one.url.endswith("/edits") and one.status == 403):
            retitle(page, "Named by the first person")
        shows(page, OTHER)
        assert last_saved(context, demo) == "R. Tamsin"
        expect(page.locator("[data-rung]").first).to_have_text("Named to begin with")
        choose(page, "R. Tamsin")
        expect(page.locator("[data-rung]").first).to_have_text("Named by the first person")
        saved(page)
        assert last_saved(context, demo) == "R. Tamsin"


def test_where_the_browser_keeps_nothing_one_works_all_the_same(browser, demo: Served):
    with new_context(browser) as context:
        page = sit_down(context, demo)
        page.add_init_script(BLOCKED)
        page.goto(demo.address)
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        page.goto(demo.address + LADDER)
        retitle(page, "Kept by the server alone")
        saved(page)
        page.reload()
        expect(page.locator("[data-rung]").first).to_have_text("Kept by the server alone")
        start(page, demo)
        page.keyboard.press("1")
        expect(page.get_by_role("heading", level=1)).to_have_text("Ask how the ticket looks")


def test_enter_that_ends_a_composed_character_makes_no_rung(page: Page, demo: Served):
    page.goto(demo.address + LADDER)
    before = rung_titles(page)
    page.locator("[data-rung]").first.click()
    page.keyboard.press("Enter")
    page.keyboard.type("ロールを見る")
    line = page.locator(":focus")
    line.dispatch_event("keydown", {"key": "Enter", "isComposing": True, "bubbles": True})
    expect(line).to_have_value("ロールを見る")
    assert rung_titles(page) == before
    page.keyboard.press("Escape")


def test_events_without_a_key_break_nothing(page: Page, demo: Served):
    page.goto(demo.address + LADDER)
    rung_titles(page)
    page.evaluate("() => document.body.dispatchEvent(new Event('keydown', { bubbles: true }))")


@pytest.mark.parametrize("name", in_part(PLACES, 5))
def test_no_two_elements_have_one_id(page: Page, demo: Served, name):
    page.goto(demo.address + PLACES[name])
    settled(page)
    assert page.evaluate(TWICE) == []


def test_what_is_chosen_in_the_find_box_stays_chosen_when_more_arrives(page: Page, demo: Served):
    page.goto(demo.address)
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    settled(page)
    with rough_line(page) as line:
        line.way, line.is_all = "held", True
        box = page.get_by_role("combobox", name="Find a symptom, step, unit or case")
        box.fill("ticket")
        box.press("ArrowDown")
        chosen = page.get_by_role("option", selected=True)
        text = chosen.inner_text()
        line.restore()
        expect(page.get_by_role("group", name="Cases")).to_be_visible()
        assert chosen.inner_text() == text


def test_a_filtered_log_asks_only_for_what_is_seen(page: Page, demo: Served):
    page.clock.install()
    page.goto(demo.address + "/cases?end=resolved")
    rows = page.get_by_role("region", name="Cases")
    expect(rows.get_by_role("link").first).to_be_visible()
    for _ in range(4):
        page.mouse.move(640, 600)
        page.mouse.wheel(0, 6_000)
        settled(page)
    with rough_line(page) as line:
        line.is_all = True
        # What is shown has become old: only then is it asked for again.
        page.clock.fast_forward(60_000)
        page.evaluate("() => window.dispatchEvent(new Event('visibilitychange'))")
        settled(page)
        assert line.sent("GET /api/cases?") <= 2
