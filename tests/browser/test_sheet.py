"""The sheet that is taken along: what stands on it, and what was ticked is entered in one go."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, answer_with


def test_what_was_ticked_is_entered_in_one_go(page: Page, demo: Served):
    page.goto(f"{demo.address}/start?playbook=kiosk-faint-tickets")
    expect(page.get_by_role("radio", checked=True)).to_be_attached()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Is the fault there now?")
    answer_with(page, "1")
    case = page.url
    page.get_by_role("link", name="A sheet to take along").click()
    expect(page.get_by_role("heading", name="Take along")).to_be_visible()
    first = page.locator("section").filter(has=page.get_by_role("heading", name="Ask how the ticket looks"))
    first.get_by_role("checkbox").first.check()
    enter = page.get_by_role("button", name="Enter what was ticked: 1 step")
    expect(enter).to_be_visible()
    first.get_by_role("checkbox").first.uncheck()
    expect(enter).to_have_count(0)
    first.get_by_role("checkbox").first.check()
    lid = page.locator("section").filter(has=page.get_by_role("heading", name="Press the printer lid until it clicks"))
    lid.get_by_role("checkbox", name="No change").check()
    page.get_by_role("button", name="Enter what was ticked: 2 steps").click()
    expect(page).to_have_url(case)
    path = page.get_by_role("region", name="The path so far")
    expect(path).to_contain_text("Press the printer lid until it clicks")
    page.get_by_role("link", name="A sheet to take along").click()
    expect(page.get_by_role("heading", name="Take along")).to_be_visible()
    expect(page.get_by_role("heading", name="Press the printer lid until it clicks")).to_have_count(0)
