"""Starting a case: a message that is read out chooses its symptom, and what is pressed is the choice."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import Served


def says(page: Page, text: str) -> None:
    page.get_by_label("What does the caller say?").fill(text)


def test_a_message_that_leaves_no_doubt_chooses_and_what_is_pressed_overrides_it(page: Page, demo: Served):
    page.goto(f"{demo.address}/start")
    rows = page.get_by_role("radio")
    expect(rows.first).to_be_attached()
    all_of_them = rows.count()
    assert all_of_them > 5
    expect(page.get_by_role("button", name="Begin")).to_be_disabled()
    says(page, "the reader, it says list not loaded since the morning")
    expect(rows).to_have_count(1)
    expect(page.get_by_role("radio", name="Handheld will not load", checked=True)).to_be_attached()
    expect(page.get_by_role("button", name="Begin")).to_be_enabled()
    page.get_by_role("button", name="It is another one").click()
    expect(rows).to_have_count(all_of_them)
    page.get_by_text("Kiosk prints", exact=False).first.click()
    expect(page.get_by_role("radio", name="Kiosk prints", checked=True)).to_be_attached()
    says(page, "list not loaded")
    expect(page.get_by_role("radio", name="Kiosk prints", checked=True)).to_be_attached()


def test_words_that_any_symptom_may_be_told_in_choose_nothing(page: Page, demo: Served):
    page.goto(f"{demo.address}/start")
    says(page, "the list is not there and the kiosk is dark")
    expect(page.get_by_text("The best fit stands first")).to_be_visible()
    expect(page.get_by_role("radio", checked=True)).to_have_count(0)
