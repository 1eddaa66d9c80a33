"""What is changed by the cases, used roughly: answers that are lost, slow or failing, keys that are held."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Served
from tests.browser.rough import held, rough_line

EDITIONS = "/playbooks/kiosk-no-card-pad/editions"


def test_a_trial_whose_beginning_was_not_heard_of_is_shown_as_it_stands_and_is_begun_once(page: Page, demo: Served):
    page.goto(demo.address + EDITIONS)
    # Another test may have left a draft that differs, which is compared then.
    page.get_by_role("combobox", name="From", exact=True).select_option("1")
    page.get_by_role("combobox", name="To", exact=True).select_option("2")
    part = page.get_by_role("region", name="Side by side")
    begin = part.get_by_role("button", name="Run editions 1 and 2 side by side")
    begin.focus()
    with rough_line(page) as line:
        line.way = "unheard"
        page.keyboard.press("Enter")
        expect(part.get_by_role("alert")).to_contain_text("does not answer")
        expect(part).to_contain_text("run side by side since")
        expect(begin).to_have_count(0)
        line.way = "failing"
        part.get_by_role("button", name="Stop it").press("Enter")
        expect(part.get_by_role("alert")).to_contain_text("could not answer")
        line.way = "held"
        stop = part.get_by_role("button", name="Stop it")
        stop.focus()
        line.seen.clear()
        held(page, "Enter")
        expect(stop).to_be_disabled()
        line.restore()
        expect(part).to_contain_text("It was stopped before it was settled")
        assert line.sent("DELETE") == 1
    expect(part.get_by_role("alert")).to_have_count(0)


def test_a_month_that_fails_says_so_and_is_there_once_the_line_is_back(page: Page, demo: Served):
    page.goto(demo.address)
    page.get_by_role("link", name="The month on a page").press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text(re.compile("The service desk in "))
    with rough_line(page) as line:
        line.way, line.is_all = "failing", True
        page.get_by_label("Month", exact=True).fill("2025-12")
        again = page.get_by_role("button", name="Try again")
        expect(again).to_be_visible()
        line.restore()
        again.press("Enter")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Dec 2025")
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Dec 2025")
    page.get_by_role("link", name="To the desk").click()
    expect(page.get_by_role("heading", name="Symptoms")).to_be_visible()
