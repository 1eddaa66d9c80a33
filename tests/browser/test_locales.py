"""Numbers and dates as readers elsewhere write them: none is wrong, no day is moved, and what is typed is what is kept."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Served, new_context, rung, saved, sit_down

LOCALES = ("de-DE", "ja-JP", "ar-EG")
LADDER = "gate-arm-up"
# As the browser's own standard writes them.
NUMBER = "([value, digits]) => new Intl.NumberFormat(undefined, {minimumFractionDigits: digits, maximumFractionDigits: digits}).format(value)"
MOMENT = """iso => new Intl.DateTimeFormat(undefined, {day: "numeric", month: "short", year: "numeric"}).format(new Date(iso))"""


@pytest.fixture(params=LOCALES)
def reader(request, browser: Browser, demo: Served):
    """A page of somebody in Kolkata, five and a half hours ahead of the desk's clock, who reads that language."""
    with new_context(browser, locale=request.param, timezone_id="Asia/Kolkata") as context:
        yield sit_down(context, demo)


def written(page: Page, value: float, digits: int) -> str:
    return str(page.evaluate(NUMBER, [value, digits]))


def test_figures_are_written_as_their_reader_writes_them(reader: Page, demo: Served):
    reader.goto(f"{demo.address}/playbooks/{LADDER}/ladder")
    figures = reader.request.get(f"{demo.address}/api/playbooks/{LADDER}/draft/figures").json()["forecast"]
    totals = reader.get_by_role("region", name="Totals")
    expect(totals).to_contain_text(written(reader, figures["effort"], 1))
    expect(totals).to_contain_text(written(reader, figures["harm"], 2))


def test_the_axes_of_a_chart_are_written_so_too(reader: Page, demo: Served):
    reader.goto(f"{demo.address}/playbooks/{LADDER}/ladder")
    reader.get_by_role("button", name="Compare orders").click()
    orders = reader.get_by_role("complementary", name="Orders")
    expect(orders.locator("svg text").first).to_be_attached()
    ticks = [text for text in orders.locator("svg text").all_text_contents() if any(map(str.isdecimal, text))]
    point = written(reader, 0.5, 1)[1]
    assert ticks
    assert {sign for text in ticks for sign in text if not sign.isdecimal()} <= {point}


def test_counts_are_written_in_the_readers_digits(reader: Page, demo: Served):
    """Not a digit of another script stands beside what is counted, neither to be seen nor to be heard."""
    reader.goto(f"{demo.address}/playbooks/{LADDER}/ladder")
    row = reader.locator("ol > li").filter(has=rung(reader, "clear-hold"))
    expect(row).to_contain_text(re.compile(r"of [^,]+, .* · first", re.DOTALL))
    own = written(reader, 0, 0)
    foreign = "٠" if own == "0" else "0"
    said = row.locator("[id$='-words']").first.text_content() + row.get_by_text(" of ").last.inner_text()
    assert own.isdecimal()
    assert any(map(str.isdecimal, said))
    assert not [sign for sign in said if sign.isdecimal() and ord(foreign) <= ord(sign) < ord(foreign) + 10]


def test_a_number_that_is_typed_is_kept_as_it_was_meant_and_shown_so_again(reader: Page, demo: Served):
    reader.goto(f"{demo.address}/playbooks/{LADDER}/ladder")
    rung(reader, "reload-program").click()
    field = reader.get_by_role("complementary", name="The chosen rung").get_by_label("minutes of work", exact=True)
    before = field.input_value()
    field.fill(written(reader, 7.5, 1))
    field.press("Tab")
    saved(reader)
    form = reader.request.get(f"{demo.address}/api/playbooks/{LADDER}/draft").json()["form"]
    step = next(one for one in form["steps"] if one.get("id") == "reload-program")
    assert 7.5 in step["effort"].values()
    reader.reload()
    rung(reader, "reload-program").click()
    expect(field).to_have_value(written(reader, 7.5, 1))
    field.fill(before)
    field.press("Tab")
    saved(reader)


def test_a_day_is_the_readers_own(reader: Page, demo: Served):
    cases = reader.request.get(f"{demo.address}/api/cases?limit=30").json()["cases"]
    # Opened late in the day of the desk's clock: the day after in Kolkata.
    late = next(one for one in cases if one["opened"][11:16] >= "18:30")
    reader.goto(f"{demo.address}/cases/{late['case']}")
    expect(reader.get_by_role("heading", level=1)).to_be_visible()
    expect(reader.locator("main")).to_contain_text(str(reader.evaluate(MOMENT, late["opened"])))
