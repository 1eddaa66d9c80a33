"""Milder or quicker: finding, explaining and mending an order in the browser, and what the strip says of it."""

import re

import pytest
from playwright.sync_api import Page, expect

from mildladder.core.ordering.reasons import amount
from mildladder.demo.desk import playbooks
from tests.browser.conftest import MAIN_LINE, Served, rung
from tests.core.ordering.brute import Brute

TABLET = next(playbook for playbook in playbooks() if playbook.id == "tablet-loses-network")
PATH = f"/playbooks/{TABLET.id}/ladder"


def test_the_order_that_is_a_third_too_dear_is_found_explained_and_mended(page: Page, demo: Served):
    brute = Brute(TABLET)
    rate, draft = TABLET.policy.rate, tuple(range(len(TABLET.ladder)))
    best = min(brute.orders(TABLET.policy.mode), key=lambda order: brute.cost(order, rate))
    assert brute.cost(draft, rate) / brute.cost(best, rate) == pytest.approx(1.3, abs=0.02)

    # Three actions: open the ladder, compare orders, take the best.
    page.goto(demo.address + PATH)
    page.get_by_role("button", name="Compare orders").click()
    point = page.get_by_role("button", name=re.compile("Best with the mildest first"))
    effort, _ = brute.figures(best)
    expect(point).to_have_accessible_name(re.compile(f"{effort:.1f} minutes"))
    point.click()
    titles = [TABLET.step(TABLET.ladder[rung].step).title for rung in best]
    expect(page.locator(MAIN_LINE)).to_have_text(titles)
    totals = page.get_by_role("region", name="Totals")
    expect(totals).to_contain_text(f"{effort:.1f} min")
    expect(totals).to_contain_text("less")

    # One change, taken back as one.
    page.get_by_role("button", name="Undo").click()
    first = TABLET.step(TABLET.ladder[0].step).title
    expect(page.locator("[data-rung]").first).to_have_text(first)


def test_pointing_at_an_order_shows_its_outline_and_what_it_trades(page: Page, demo: Served):
    page.goto(demo.address + PATH)
    page.get_by_role("button", name="Compare orders").click()
    strip = page.get_by_role("complementary", name="Orders")
    quickest = strip.get_by_role("button", name=re.compile("Quickest order"))
    quickest.focus()
    expect(strip).to_contain_text("Here one more effort minute a case buys")
    expect(page.locator("[aria-label=Ladder] svg path[stroke-dasharray='6 3']")).to_have_count(2)
    strip.get_by_role("button", name=re.compile("The draft")).focus()
    expect(page.locator("[aria-label=Ladder] svg path[stroke-dasharray='6 3']")).to_have_count(0)


def test_the_inspector_says_what_every_place_would_change(page: Page, demo: Served):
    answer = {}
    while "says" not in answer:
        answer = page.request.get(f"{demo.address}/api/playbooks/{TABLET.id}/draft/rungs/1/why").json()
    page.goto(demo.address + PATH)
    rung(page, "switch-saver-off").focus()
    inspector = page.get_by_role("complementary", name="The chosen rung")
    expect(inspector).to_contain_text(answer["says"][0])
    assert amount(100 * answer["resolved"]) in answer["says"][0]
    inspector.get_by_role("button", name="to 1", exact=True).click()
    expect(page.locator("[data-rung]").first).to_have_text("Switch the power saver off")
    page.get_by_role("button", name="Undo").click()


def test_a_suggestion_is_taken_as_one_change(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/counter-no-labels/ladder")
    page.get_by_role("button", name="Compare orders").click()
    beyond = page.get_by_role("region", name="Beyond the order")
    first = beyond.get_by_role("listitem").filter(has=page.get_by_role("button", name="Take it")).first
    expect(first).to_contain_text("less")
    rows = page.locator("[data-rung]").count()
    first.get_by_role("button", name="Take it").click()
    expect(page.locator("[data-rung]")).not_to_have_count(rows)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-rung]")).to_have_count(rows)
