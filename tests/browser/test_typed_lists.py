"""Lists that are typed or pasted in the inspector: one deed each, under the names that files know."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, saved

PASTE = """(text) => {
  const data = new DataTransfer();
  data.setData("text/plain", text);
  document.activeElement.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
}"""


def section(page: Page, demo: Served, name: str):
    """A part of the inspector of the first rung, unfolded."""
    page.goto(f"{demo.address}/playbooks/lane-scale-wrong/ladder")
    page.locator("[data-rung]").first.click()
    part = page.get_by_role("complementary", name="The chosen rung").get_by_role("group", name=name, exact=True).first
    if part.get_attribute("open") is None:
        part.locator("> summary").click()
    return part


def undone(page: Page, count: int, items) -> None:
    """One press takes back all of the list, the next one the empty item that it was pasted into."""
    for _ in range(2):
        page.get_by_role("button", name="Undo", exact=True).click()
    expect(items).to_have_count(count)
    saved(page)


def test_a_pasted_list_of_instructions_is_one_deed(page: Page, demo: Served):
    text = section(page, demo, "Text")
    items = text.get_by_role("combobox", name=re.compile("^What to do, "))
    count = items.count()
    text.get_by_role("button", name="add a thing to do", exact=True).last.click()
    expect(items).to_have_count(count + 1)
    page.evaluate(PASTE, "1. Open the cover\n2. Wipe it\n• Close it")
    expect(items).to_have_count(count + 3)
    expect(items.nth(count)).to_have_value("Open the cover")
    expect(items.nth(count + 2)).to_be_focused()
    expect(items.nth(count + 2)).to_have_value("Close it")
    undone(page, count, items)


def test_names_that_are_pasted_are_kept_as_files_write_them(page: Page, demo: Served):
    fine = section(page, demo, "Fine print")
    items = fine.get_by_role("textbox", name=re.compile("^uses "))
    count = items.count()
    fine.get_by_role("button", name="add a thing that must still work").click()
    page.evaluate(PASTE, "- Lane Page\n- Gate screen")
    expect(items).to_have_count(count + 2)
    expect(items.nth(count)).to_have_value("lane page")
    expect(page.get_by_text("should match pattern")).to_have_count(0)
    undone(page, count, items)


def test_a_line_that_is_typed_outlasts_a_reload_and_is_read_once_the_server_answers(page: Page, demo: Served):
    ladder = f"{demo.address}/playbooks/lane-scale-wrong/ladder"
    page.goto(ladder)
    line = page.get_by_role("combobox", name="New step at the foot of the ladder")
    line.fill("Tap the scale, 5 min visit; equipment mild")
    page.reload()
    expect(line).to_have_value("Tap the scale, 5 min visit; equipment mild")
    failed: list[str] = []

    def fail_twice(route):
        failed.append(route.request.url)
        route.fulfill(status=500, body="{}") if len(failed) < 3 else route.continue_()

    page.route("**/api/quick-words", fail_twice)
    line.focus()
    page.keyboard.press("Enter")
    rung = page.locator("[data-rung]").filter(has_text=re.compile("^Tap the scale$"))
    expect(rung).to_be_visible()
    assert len(failed) >= 3
    saved(page)
    page.reload()
    expect(rung).to_be_visible()
    expect(line).to_have_value("")
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(rung).to_have_count(0)
    saved(page)
