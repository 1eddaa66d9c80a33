"""A draft under the hand, over any line: what is typed and moved is there at once, kept, and put where it belongs."""

import json
import re
from contextlib import suppress

import pytest
from playwright.sync_api import Browser, Error, Page, Route, expect

from tests.browser.conftest import LEAD, Served, new_context, rung_titles, saved, sit_down
from tests.browser.rough import rough_line
from tests.parts import in_part

AGENT = "I. Vell"
FAINT = "/playbooks/kiosk-faint-tickets/ladder"
BOARD = "/playbooks/board-departed-sailing/ladder"
PASS = "/playbooks/pass-already-aboard/ladder"
UNSENT = re.compile(r"kept here, not yet sent|saving")


def choose(page: Page, number: int):
    """Choose a rung; the field of its reason."""
    page.locator("[data-rung]").nth(number).click()
    return page.get_by_label("Why it stands here")


def undo_all(page: Page) -> None:
    """Take back all that this person did since the draft was published."""
    button = page.get_by_role("button", name="Undo")
    while button.is_enabled():
        button.click()
        saved(page)


def stored(page: Page, demo: Served, path: str) -> dict:
    return page.request.get(f"{demo.address}/api{path.removesuffix('/ladder')}/draft").json()["form"]


@pytest.mark.parametrize("way", in_part(["failing", "cut", "held", "locked", "unheard"], 2))
def test_what_is_typed_and_moved_is_shown_at_once_and_outlasts_line_page_and_place(page: Page, demo: Served, way: str):
    page.goto(demo.address + FAINT)
    titles = rung_titles(page)
    reasons = [choose(page, number).input_value() for number in (1, 2)]
    with rough_line(page) as line:
        line.way = way
        choose(page, 1).fill("Looked at while the caller waits")
        choose(page, 2).fill("Costs a journey")
        page.locator("[data-rung]").nth(2).focus()
        page.keyboard.press("Alt+ArrowDown")
        expect(page.locator("[data-rung]").nth(3)).to_have_text(titles[2])
        expect(page.get_by_role("status").filter(has_text=UNSENT)).to_be_visible()
        # To another symptom and back: nothing of it shows there, all of it here.
        page.get_by_role("link", name="Desk").click()
        page.locator("a[href*='pass-already-aboard']").first.click()
        expect(page.locator("main")).not_to_contain_text("Costs a journey")
        page.goto(demo.address + FAINT)
        expect(page.locator("[data-rung]").nth(3)).to_have_text(titles[2])
        expect(choose(page, 3)).to_have_value("Costs a journey")
        expect(choose(page, 1)).to_have_value("Looked at while the caller waits")
        line.restore()
    page.reload()
    saved(page)
    expect(page.locator("[data-rung]").nth(3)).to_have_text(titles[2])
    expect(choose(page, 3)).to_have_value("Costs a journey")
    kept = json.dumps(stored(page, demo, FAINT)["ladder"])
    assert kept.count("Costs a journey") == kept.count("Looked at while the caller waits") == 1
    undo_all(page)
    assert rung_titles(page) == titles
    assert [choose(page, number).input_value() for number in (1, 2)] == reasons


def test_no_answer_writes_into_a_field_that_has_the_cursor(browser: Browser, demo: Served):
    with new_context(browser) as mine, new_context(browser) as theirs:
        me, other = sit_down(mine, demo), sit_down(theirs, demo, AGENT)
        for page in (me, other):
            page.goto(demo.address + FAINT)
        titles = rung_titles(me)
        before = choose(me, 1).input_value()
        field = choose(me, 1)
        field.fill("Mine, half wri")
        saved(me)
        choose(other, 2).fill("Theirs, elsewhere")
        saved(other)
        expect(me.locator("main")).to_contain_text(f"{AGENT}: ")
        expect(field).to_be_focused()
        field.press_sequentially("tten")
        expect(field).to_have_value("Mine, half written")
        saved(me)
        assert stored(me, demo, FAINT)["ladder"][1]["note"] == "Mine, half written"
        assert stored(me, demo, FAINT)["ladder"][2]["note"] == "Theirs, elsewhere"
        undo_all(other)
        undo_all(me)
        assert rung_titles(me) == titles
        assert choose(me, 1).input_value() == before


def test_what_two_people_write_into_one_field_is_kept_of_both_until_it_is_settled(browser: Browser, demo: Served):
    with new_context(browser) as mine, new_context(browser) as theirs:
        me, other = sit_down(mine, demo), sit_down(theirs, demo, AGENT)
        for page in (me, other):
            page.goto(demo.address + PASS)
        field = choose(me, 1)
        first = field.input_value()
        with rough_line(other) as line:
            line.way = "held"
            choose(other, 1).fill("What the agent says")
            field.fill("What the lead says")
            saved(me)
            line.restore()
        # Nobody's own words are offered to them as another's.
        for page, whose in ((me, "I. Vell wrote"), (other, "You wrote")):
            strip = page.get_by_role("region", name="To be settled")
            expect(strip).to_contain_text("1 thing to be settled")
            expect(strip).to_contain_text("What the lead says")
            expect(strip).to_contain_text(whose)
            expect(strip).to_contain_text("What the agent says")
        me.reload()
        me.get_by_role("region", name="To be settled").get_by_role("button", name="Take I. Vell’s").click()
        expect(me.get_by_role("region", name="To be settled")).to_have_count(0)
        saved(me)
        expect(other.get_by_role("region", name="To be settled")).to_have_count(0)
        expect(choose(me, 1)).to_have_value("What the agent says")
        undo_all(me)
        undo_all(other)
        for page in (me, other):
            leave = page.get_by_role("button", name="Leave it as it is")
            while leave.count():
                # In one go: what the other window settles takes the button away while a pointer is under way to it.
                leave.evaluate_all("found => found[0]?.click()")
                saved(page)
        field = choose(me, 1)
        if field.input_value() != first:
            field.fill(first)
            saved(me)


def test_what_waits_of_one_person_is_never_sent_as_anothers(page: Page, demo: Served):
    page.goto(demo.address + PASS)
    first = choose(page, 2).input_value()
    with rough_line(page) as line:
        line.way = "cut"
        choose(page, 2).fill("The lead's own words")
        expect(page.get_by_role("status").filter(has_text="kept here, not yet sent (1)")).to_be_visible()
        line.restore()
        line.way = "held"
        page.evaluate(
            "name => fetch('/api/me').then(a => a.json())"
            ".then(me => me.people.find(one => one.name === name).id)"
            ".then(id => { window.agent = id; })",
            AGENT,
        )
        page.context.request.put(
            f"{demo.address}/api/me",
            data={"person": page.evaluate("() => window.agent")},
            headers={"Origin": demo.address},
        )
        line.way = "good"
        page.reload()
        choose(page, 3).fill("The agent's words")
        saved(page)
        page.get_by_role("button", name="Undo").click()
        saved(page)
    seen = page.request.get(f"{demo.address}/api/playbooks/pass-already-aboard/draft/edits?base=1").json()["since"]
    assert {one["who"] for one in seen if "lead's own" in str(one["done"])} <= {LEAD}
    assert "The lead's own words" not in str(stored(page, demo, PASS))
    # The lead sits down again, and what waited goes.
    lead = next(one["id"] for one in page.request.get(f"{demo.address}/api/me").json()["people"] if one["name"] == LEAD)
    page.context.request.put(f"{demo.address}/api/me", data={"person": lead}, headers={"Origin": demo.address})
    page.reload()
    saved(page)
    expect(choose(page, 2)).to_have_value("The lead's own words")
    page.get_by_role("button", name="Undo").click()
    saved(page)
    expect(choose(page, 2)).to_have_value(first)


def test_what_an_earlier_page_left_goes_from_wherever_one_is_next(page: Page, demo: Served):
    page.goto(demo.address + PASS)
    first = choose(page, 3).input_value()
    with rough_line(page) as line:
        line.way = "cut"
        choose(page, 3).fill("Left behind")
        expect(page.get_by_role("status").filter(has_text="kept here, not yet sent (1)")).to_be_visible()
        line.way = "good"
        with page.expect_response(lambda one: "/draft/edits" in one.url and one.request.method == "POST"):
            page.goto(demo.address)
    page.goto(demo.address + PASS)
    expect(choose(page, 3)).to_have_value("Left behind")
    undo_all(page)
    expect(choose(page, 3)).to_have_value(first)


def test_two_tabs_of_one_person_tell_each_other(context, page: Page, demo: Served):
    other = context.new_page()
    for tab in (page, other):
        tab.goto(demo.address + BOARD)
    titles = rung_titles(page)
    page.locator("[data-rung]").nth(0).focus()
    page.keyboard.press("Alt+ArrowDown")
    expect(other.locator("[data-rung]").nth(1)).to_have_text(titles[0])
    other.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-rung]").nth(0)).to_have_text(titles[0])


def test_a_text_that_the_server_will_not_have_stays_to_be_copied_and_what_follows_goes_on(page: Page, demo: Served):
    page.goto(demo.address + BOARD)
    before = choose(page, 1).input_value()
    page.route("**/draft/edits", lambda route: refuse_once(route, page))
    choose(page, 1).fill("Not to be had")
    choose(page, 2)
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("Not taken: Changed: Why it stands here")
    expect(alert).to_contain_text("Not to be had")
    page.unroute("**/draft/edits")
    expect(choose(page, 1)).to_have_value(before)
    titles = rung_titles(page)
    page.locator("[data-rung]").nth(0).focus()
    page.keyboard.press("Alt+ArrowDown")
    expect(page.locator("[data-rung]").nth(1)).to_have_text(titles[0])
    saved(page)
    page.reload()
    expect(page.get_by_role("alert")).to_contain_text("Not to be had")
    page.get_by_role("alert").get_by_role("button", name="Leave it out").click()
    expect(page.get_by_role("alert")).to_have_count(0)
    undo_all(page)


def refuse_once(route, page: Page) -> None:
    """Refuse one edit as the server refuses what no draft can hold: sent on in a shape that it does not read."""
    if route.request.method != "POST":
        return route.continue_()
    body = route.request.post_data_json
    body["operations"] = [{"op": "fly"}]
    return route.continue_(post_data=body)


def test_a_half_typed_condition_marks_its_rung_and_stops_publishing(page: Page, demo: Served):
    page.goto(demo.address + BOARD)
    figures = page.get_by_role("region", name="Totals").inner_text()
    form = stored(page, demo, BOARD)
    key, when = form["ladder"][1]["key"], form["ladder"][1].get("when")
    body = {
        "client": "otherpage1",
        "number": 1,
        "base": 1,
        "group": "otherpage1-1",
        "operations": [{"op": "set", "key": key, "path": ["when"], "was": when, "value": "boards-wrong is"}],
    }
    sent = page.request.post(
        f"{demo.address}/api{BOARD.removesuffix('/ladder')}/draft/edits", data=body, headers={"Origin": demo.address}
    )
    assert sent.status == 200
    page.reload()
    expect(page.get_by_role("img", name="Review: blocker")).to_have_count(1)
    effort = page.get_by_role("region", name="Totals").get_by_role("button").first
    expect(effort).to_contain_text(figures.split("\n")[1])
    expect(page.get_by_role("region", name="Totals")).to_contain_text(
        "Using the last sound value, or leaving it out: Start the"
    )
    review = page.get_by_role("region", name="Review")
    expect(review.get_by_role("status")).to_contain_text("1 flaw")
    review.get_by_role("button", name=re.compile("^Review")).click()
    review.get_by_role("button", name=re.compile("this condition cannot be read")).click()
    expect(page.locator(f"[data-rung='{key}']")).to_be_focused()
    expect(page.get_by_role("complementary", name="The chosen rung")).to_contain_text("This condition cannot be read")
    page.get_by_role("button", name=re.compile("Publish edition")).click()
    expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("this condition cannot be read")
    page.keyboard.press("Escape")
    undo_all(page)
    expect(page.get_by_role("img", name="Review: blocker")).to_have_count(0)
    expect(review.get_by_role("status")).not_to_contain_text("flaw")


def test_what_is_pressed_stays_under_the_pointer_while_an_answer_comes(page: Page, demo: Served):
    page.goto(demo.address + PASS.replace("ladder", "symptom"))
    causes = page.get_by_label("Suspected causes", exact=True).get_by_label("cause", exact=True)
    add = page.get_by_role("button", name="add a cause", exact=True)
    expect(add).to_be_visible()
    before = causes.count()
    add.click()
    expect(causes).to_have_count(before + 1)
    saved(page)
    there = add.bounding_box()
    page.mouse.move(there["x"] + there["width"] / 2, there["y"] + there["height"] / 2)
    with page.expect_response("**/draft/edits"):
        page.keyboard.insert_text("The reader is upside down")
        page.mouse.down()
    page.evaluate("() => new Promise(drawn => requestAnimationFrame(() => requestAnimationFrame(drawn)))")
    page.mouse.up()
    expect(causes).to_have_count(before + 2)
    saved(page)
    assert add.bounding_box()["y"] != there["y"]
    undo_all(page)
    expect(causes).to_have_count(before)


def test_what_is_pressed_stays_under_the_pointer_while_it_is_worked_out_why_a_rung_stands_there(
    page: Page, demo: Served
):
    """That stands above the fields of a rung, and is longer than what stood there before."""
    page.goto(demo.address + PASS)
    held: list[Route] = []

    def hold(route: Route) -> None:
        held.append(route)

    why = re.compile(r"/rungs/1/why")
    page.route(why, hold)
    with page.expect_request(why):
        choose(page, 4)
    page.locator("summary", has_text="Risk").first.click()
    add = page.get_by_role("button", name="add a risk", exact=True)
    risks = page.get_by_label("what may be harmed", exact=True)
    waiting = page.get_by_text("Working it out")
    before = risks.count()
    add.hover()
    expect(waiting).to_be_visible()
    page.mouse.down()
    with page.expect_response(lambda answer: why.search(answer.url) and answer.status == 200):
        page.unroute(why)
        for route in held:
            with suppress(Error):  # those that the page has given up
                route.continue_()
    page.evaluate("() => new Promise(drawn => requestAnimationFrame(() => requestAnimationFrame(drawn)))")
    assert waiting.is_visible()
    page.mouse.up()
    expect(waiting).to_have_count(0)
    expect(risks).to_have_count(before + 1)
    saved(page)
    undo_all(page)
