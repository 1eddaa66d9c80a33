"""Desk, start and a guided case by keyboard alone, with no more than what a screen reader is told."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, answer_with, press
from tests.browser.test_firm_ground import listen, spoken

# What a screen reader says of what has the focus: its name, and what it is.
TOLD = """() => {
  const one = document.activeElement
  if (one === document.body) return ""
  const label = one.labels?.[0]?.innerText ?? ''
  return [one.getAttribute('aria-label') ?? '', label, one.innerText ?? '', one.value ?? ''].join(' ').trim()
}"""


def told(page: Page) -> str:
    return page.evaluate(TOLD)


def tab_to(page: Page, name: str, most: int = 60) -> None:
    """Go on by Tab until something of that name has the focus."""
    for _ in range(most):
        page.keyboard.press("Tab")
        if name in told(page):
            return
    raise AssertionError(f"Tab never came to {name!r}")


def asked(page: Page, name: str) -> None:
    """Something else is asked, and whoever cannot see it is at it."""
    expect(page.get_by_role("heading", level=1)).to_contain_text(name)
    page.wait_for_function(f"name => ({TOLD})().includes(name)", arg=name)


def test_a_caller_is_helped_by_keyboard_alone(page: Page, demo: Served):
    page.goto(demo.address)
    expect(page.get_by_role("heading", level=1)).to_be_focused()
    page.keyboard.press("s")
    expect(page.get_by_label("What does the caller say?")).to_be_focused()
    page.keyboard.type("ARM 3 NOT HOME, and it will not come down")
    tab_to(page, "Gate arm stays raised")
    page.keyboard.press("Space")
    tab_to(page, "Model on the side plate")
    page.keyboard.press("G")
    tab_to(page, "Which landing is the gate on?")
    page.keyboard.press("S")
    page.keyboard.press("Control+Enter")
    asked(page, "Is the fault there now?")
    listen(page)

    # A guard; a value inside the step, with the cursor in it; a rung with a rail on could-not; the way back to it.
    press(page, "1")
    asked(page, "Clear the hold-open setting")
    answer_with(page, "y")
    expect(page.get_by_label("Lane number")).to_be_focused()
    expect(page.get_by_text("not to be copied yet: Lane number is missing")).to_be_visible()
    page.keyboard.type("3")
    answer_with(page, "Enter")
    asked(page, "Clear the hold-open setting")
    page.keyboard.press("9")
    tab_to(page, "Could not do it")
    answer_with(page, "Enter")
    asked(page, "Ask the duty officer to unlock the lane page")
    answer_with(page, "1")
    asked(page, "Clear the hold-open setting")

    # A command is copied and said to be, once; a note does not take one out of the case.
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.keyboard.press("c")
    page.wait_for_function("() => window.heard.length > 0")
    assert spoken(page) == ["copied"]
    page.keyboard.press("a")
    aloud = page.get_by_role("list", name="Spelled aloud")
    expect(aloud).to_contain_text(re.compile("lima.*alfa.*november.*echo.*dash.*dash.*three", re.DOTALL))
    page.keyboard.press("a")
    expect(aloud).to_have_count(0)
    # The model is still asked: a message for the caller would have a hole.
    expect(page.get_by_role("button", name="copy for the caller")).to_have_count(0)
    page.keyboard.press("m")
    page.keyboard.type("Two cars are waiting")
    page.keyboard.press("Enter")
    expect(page.get_by_role("complementary", name="Known of the case")).to_contain_text("Two cars are waiting")
    page.keyboard.press("Escape")

    # A check with a reading, its rail, and the case handed off with all that is known.
    answer_with(page, "y")
    answer_with(page, "2")
    asked(page, "Put back: Clear the hold-open setting")
    answer_with(page, "1")
    asked(page, "Restart the lane unit")
    while page.get_by_role("button", name="No change").count() == 0:
        answer_with(page, "y")
    answer_with(page, "2")
    expect(page.get_by_label("It reads")).to_be_focused()
    page.keyboard.type("1.2")
    answer_with(page, "Enter")
    asked(page, "Wipe the home sensor")
    page.keyboard.press("h")
    expect(page.get_by_role("dialog", name="Hand off or close")).to_be_visible()
    tab_to(page, "Go on with the case", 20)
    page.keyboard.press("Enter")
    asked(page, "Wipe the home sensor")
    page.keyboard.press("h")
    if page.get_by_label("Why they stay open").is_visible():
        tab_to(page, "Why they stay open", 20)
        page.keyboard.type("the crew is on its way")
    tab_to(page, "Hand off to", 20)
    with page.expect_response(lambda response: response.url.endswith("/moves")):
        page.keyboard.press("Enter")
    asked(page, "Handed off")
    assert page.title().startswith("G-")
    case = page.title().split(" · ")[0]
    logged = page.request.get(f"{demo.address}/api/cases/{case}").json()["case"]
    assert (logged["end"], logged["values"], logged["notes"]) == (
        "handed-off",
        {"arm": "3", "lane": "3"},
        "Two cars are waiting",
    )


def test_a_watch_is_let_wait_and_taken_up_again_by_keyboard(page: Page, demo: Served):
    page.goto(f"{demo.address}/start?playbook=handheld-dies")
    expect(page.get_by_role("radio", checked=True)).to_be_visible()
    page.keyboard.press("Control+Enter")
    asked(page, "Is the fault there now?")
    heading, bar = page.get_by_role("heading", level=1), page.get_by_role("region", name="Answers")
    for _ in range(12):
        if bar.get_by_label("Only normal use can tell. Watch for").is_visible():
            break
        said = bar.inner_text()
        if page.locator("[data-asked]").count():
            page.keyboard.type("6")
            answer_with(page, "Enter")
        else:
            answer_with(page, "y" if "y" in said.split() else "2" if "No change" in said else "1")
    step = heading.inner_text()
    tab_to(page, "Watch that long")
    with page.expect_response(lambda response: response.url.endswith("/moves")):
        press(page, "Enter")
    asked(page, "Being watched in normal use")
    case = page.title().split(" · ")[0]
    page.goto(demo.address)
    tab_to(page, case, 150)
    page.keyboard.press("Enter")
    asked(page, "Being watched in normal use")
    assert step
