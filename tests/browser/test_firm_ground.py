"""Focus, titles, keys and spoken words: every move knows where it is, and gives back what it took."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, new_context, press, rung, sit_down
from tests.browser.rough import rough_line
from tests.browser.test_every_page import PLACES, settled
from tests.browser.test_guide import start

LADDER = "/playbooks/counter-no-labels/ladder"
TITLES = {
    "desk": "Desk · Mild Ladder",
    "ladder": "Ladder · Counter cannot print vehicle labels · Mild Ladder",
    "evidence": "Evidence · Kiosk prints faint or blank tickets · Mild Ladder",
    "symptom's cases": "Cases · Kiosk prints faint or blank tickets · Mild Ladder",
    "cases": "Cases · Mild Ladder",
    "left out": "Left out · Mild Ladder",
    "start": "Start a case · Mild Ladder",
    "nowhere": "There is no such page · Mild Ladder",
}


def focused(page: Page) -> str:
    return page.evaluate("() => document.activeElement.innerText || document.activeElement.getAttribute('aria-label')")


def spoken(page: Page) -> list[str]:
    """What the live region has said since `listen`."""
    return page.evaluate("() => window.heard")


def listen(page: Page) -> None:
    page.evaluate(
        "() => { window.heard = []; new MutationObserver(() => window.heard.push(document.getElementById('announcements')"
        ".textContent.trim())).observe(document.getElementById('announcements'), {childList: true, characterData: true, subtree: true}) }"
    )


@pytest.mark.parametrize(("name", "title"), TITLES.items())
def test_every_place_has_a_title_and_takes_the_focus(page: Page, demo: Served, name, title):
    page.goto(demo.address + PLACES[name])
    expect(page).to_have_title(title)
    assert page.evaluate("() => document.activeElement !== document.body")


def test_going_to_another_place_moves_focus_and_title(page: Page, demo: Served):
    page.goto(demo.address)
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Cases").click()
    expect(page).to_have_title("Cases · Mild Ladder")
    expect(page.get_by_role("heading", level=1)).to_be_focused()
    page.get_by_role("region", name="Cases").get_by_role("link").first.click()
    expect(page.get_by_role("link", name="Cases").last).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_be_focused()
    page.go_back()
    expect(page).to_have_title("Cases · Mild Ladder")


def test_going_from_tab_to_tab_keeps_the_focus_and_the_head(page: Page, demo: Served):
    page.goto(demo.address + LADDER)
    tabs = page.get_by_role("navigation", name="Of this symptom")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    page.evaluate("() => { document.querySelector('h1').dataset.same = 'yes' }")
    for name in ("Evidence", "Cases", "Editions", "Ladder"):
        tabs.get_by_role("link", name=name).click()
        expect(page).to_have_title(re.compile(f"^{name} · Counter"))
        expect(tabs.get_by_role("link", name=name)).to_be_focused()
        assert page.locator("h1").get_attribute("data-same") == "yes"


def test_every_dialog_gives_the_focus_back(page: Page, demo: Served):
    page.goto(demo.address + LADDER)
    publish = page.get_by_role("button", name="Publish edition")
    publish.click()
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    expect(publish).to_be_focused()
    rung = page.locator("[data-rung]").first
    rung.focus()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(rung).to_be_focused()
    start(page, demo)
    for key, name in (("h", "Hand off or close"), ("p", "Let the case wait")):
        page.keyboard.press(key)
        expect(page.get_by_role("dialog", name=name)).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
        expect(page.get_by_role("heading", level=1)).to_be_focused()


def test_escape_in_the_find_box_goes_back_to_where_one_was(page: Page, demo: Served):
    page.goto(demo.address + LADDER)
    rung = page.locator("[data-rung]").first
    rung.focus()
    page.keyboard.press("/")
    page.keyboard.type("gate")
    offers = page.get_by_role("banner").get_by_role("option")
    expect(offers.first).to_be_visible()
    page.keyboard.press("Escape")
    expect(offers).to_have_count(0)
    expect(rung).to_be_focused()
    page.keyboard.press("s")
    expect(page.get_by_role("heading", level=1)).to_have_text("Start a case")


def test_the_find_box_finds_steps_units_and_cases_each_under_its_kind(page: Page, demo: Served):
    case = page.request.get(f"{demo.address}/api/cases?limit=200").json()["cases"]
    unit = next(one["unit"] for one in case if one["unit"])
    page.goto(demo.address)
    settled(page)
    found = page.get_by_role("listbox", name="Found")
    for words, kind, title in (
        ("empty the label", "Steps", "Empty the label queue"),
        (unit, "Units", unit),
        (case[0]["case"], "Cases", case[0]["case"]),
    ):
        page.keyboard.press("/")
        page.keyboard.type(words)
        expect(found.get_by_role("group", name=kind).get_by_role("option", name=title).first).to_be_visible()
        page.keyboard.press("Escape")
        page.get_by_role("combobox").fill("")
        page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.type("empty the label")
    found.get_by_role("group", name="Steps").get_by_role("option").first.click()
    expect(page.get_by_role("complementary", name="The chosen rung")).to_contain_text("Empty the label queue")


def test_publishing_goes_past_no_disabled_button_and_only_once(page: Page, demo: Served):
    page.goto(demo.address + LADDER)
    page.get_by_role("button", name="Publish edition").click()
    note = page.get_by_label("What changed, and why")
    with rough_line(page) as line:
        line.way = "held"
        note.focus()
        page.keyboard.press("Control+Enter")
        assert line.sent("POST") == 0
        note.fill("Sooner")
        with page.expect_request("**/editions"):
            page.keyboard.press("Control+Enter")
            page.keyboard.press("Control+Enter")
        expect(page.get_by_role("dialog").get_by_role("button", name="Publish")).to_be_disabled()
        assert line.sent("/editions") == 1
        line.way = "failing"
        for route in line.held:
            route.fulfill(status=500, body="")
        line.held.clear()
        expect(page.get_by_role("dialog").get_by_role("alert")).to_be_visible()
        expect(note).to_have_value("Sooner")


def test_a_blocked_draft_is_not_even_sent(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/lane-scale-wrong/ladder")
    page.get_by_role("button", name="Publish edition").click()
    expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("cannot be published yet")
    with rough_line(page) as line:
        page.get_by_label("What changed, and why").fill("All the same")
        page.keyboard.press("Control+Enter")
        expect(page.get_by_role("dialog")).to_be_visible()
        assert line.sent("POST") == 0


def test_a_page_of_the_log_that_fails_is_asked_for_seldom_and_can_be_asked_again(page: Page, demo: Served):
    page.goto(demo.address + "/cases")
    settled(page)
    with rough_line(page) as line:
        line.way, line.is_all = "failing", True
        page.get_by_role("region", name="Cases").evaluate("list => { list.scrollTop = 20000 }")
        expect(page.get_by_role("alert").first).to_be_visible()
        page.mouse.move(400, 400)
        for _ in range(20):
            page.mouse.wheel(0, 30)
        assert 1 <= line.sent(" cases?") <= 6
        page.get_by_role("button", name="Try again").first.focus()
        line.restore()
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_have_count(0)


def test_what_stands_beside_the_desk_is_asked_for_by_one_query_where_it_fails(page: Page, demo: Served):
    page.goto(demo.address + "/start")
    settled(page)
    waiting, spent = (
        page.get_by_role("alert").get_by_text("Not all that waits"),
        page.get_by_text("Where the time goes"),
    )
    with rough_line(page) as line:
        line.way, line.is_all = "failing", True
        page.get_by_role("link", name="Desk", exact=True).click()
        expect(waiting).to_be_visible()
        for part in ("remarks", "left-out", "month"):
            # Asked by one query, which asks a failing server twice more.
            assert 1 <= line.sent(f"GET {part}") <= 3, line.seen
        line.restore()
        page.get_by_role("main").get_by_role("button", name="Try again").click()
        expect(spent).to_be_visible()
        expect(waiting).to_have_count(0)


def test_the_filter_of_the_log_loses_no_key(page: Page, demo: Served):
    page.goto(demo.address + "/cases")
    settled(page)
    field = page.get_by_label("Words in what was said")
    field.focus()
    words = "the arm went up and stays up"
    for letter in words:
        page.keyboard.press("Space" if letter == " " else letter)
    expect(field).to_have_value(words)
    # Back and forward lead to what the address holds, and it holds the last letter a moment after that was typed.
    expect(page).to_have_url(re.compile(r"words=the.*stays(\+|%20)up"))
    page.go_back()
    page.go_forward()
    expect(field).to_have_value(words)


def test_the_log_knows_how_long_it_is_and_keeps_its_place(page: Page, demo: Served):
    page.goto(demo.address + "/cases")
    settled(page)
    rows = page.get_by_role("region", name="Cases")
    total = page.request.get(f"{demo.address}/api/cases-total").json()["total"]
    expect(rows.get_by_role("listitem").first).to_have_attribute("aria-setsize", str(total))
    rows.evaluate("list => { list.scrollTop = list.scrollHeight / 2 }")
    # Until the rows of that place are there, and as high as they are, the list may still move.
    settled(page)
    link = rows.get_by_role("link").nth(9)
    expect(link).to_be_visible()
    before, case = rows.evaluate("list => list.scrollTop"), link.inner_text()
    link.click()
    expect(page.get_by_role("heading", level=1)).to_contain_text(case)
    page.go_back()
    expect(rows.get_by_role("link", name=case)).to_be_focused()
    assert abs(rows.evaluate("list => list.scrollTop") - before) < 2


def test_a_wheel_over_the_head_moves_nothing(page: Page, demo: Served):
    for path in ("/cases", LADDER, "/"):
        page.goto(demo.address + path)
        settled(page)
        page.mouse.move(300, 20)
        page.mouse.wheel(0, 600)
        assert page.get_by_role("banner").bounding_box()["y"] == 0


def test_a_ladder_is_one_stop_for_tab(page: Page, demo: Served):
    page.goto(demo.address + LADDER)
    expect(page.locator("[data-rung]").first).to_be_visible()
    stops = "section[aria-label=Ladder] ol :is([tabindex='0'], button:not([tabindex]))"
    assert page.locator(stops).count() == 1
    page.locator("[data-rung][tabindex='0']").focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-rung]").nth(1)).to_be_focused()
    page.keyboard.press("Tab")
    assert page.evaluate("() => !document.activeElement.closest('section[aria-label=Ladder] ol')")


def test_explanations_open_on_a_tap(browser, demo: Served):
    with new_context(browser, has_touch=True) as context:
        page = sit_down(context, demo)
        page.goto(demo.address + LADDER)
        page.get_by_role("region", name="Totals").get_by_role("button").first.tap()
        expect(page.get_by_role("tooltip").first).to_contain_text("Expected effort minutes a case")


def test_the_readers_own_font_size_is_honoured(browser, demo: Served):
    with new_context(browser) as context:
        page = sit_down(context, demo)
        page.goto(demo.address + LADDER)
        rung = page.locator("[data-rung]").first
        expect(rung).to_be_visible()
        before = rung.evaluate("one => parseFloat(getComputedStyle(one).fontSize)")
        page.context.new_cdp_session(page).send("Page.setFontSizes", {"fontSizes": {"standard": 22, "fixed": 20}})
        page.reload()
        expect(rung).to_be_visible()
        assert rung.evaluate("one => parseFloat(getComputedStyle(one).fontSize)") == pytest.approx(before * 22 / 16)
        row, line = (
            page.locator(one).first.bounding_box()["height"] for one in ("li:has(> div [data-rung]) > div", "svg")
        )
        assert row > 60
        assert line > row


def test_each_deed_is_spoken_once_also_over_an_open_dialog(page: Page, demo: Served):
    page.goto(demo.address)
    region = page.locator("#announcements")
    assert region.get_attribute("aria-live") == "polite"
    page.goto(f"{demo.address}/playbooks/tablet-loses-network/ladder")
    listen(page)
    page.locator("[data-rung]").nth(2).focus()
    with page.expect_response(lambda response: "/draft/edits" in response.url and response.request.method == "POST"):
        page.keyboard.press("Alt+ArrowDown")
    page.wait_for_function("() => window.heard.length > 0")
    assert len(spoken(page)) == 1
    assert "now rung" in spoken(page)[0]
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    assert region.evaluate("one => !one.closest('[aria-hidden=true], [inert]')")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    with page.expect_response(lambda response: "/draft/edits" in response.url and response.request.method == "POST"):
        page.keyboard.press("Control+z")


IDS = re.compile(r"\b[a-z0-9]+(?:-[a-z0-9]+)+ (?:found|is|in|known|below|above|at)\b|earlier resolved by")


@pytest.mark.parametrize(
    "symptom", ["gate-arm-up", "tablet-loses-network", "gate-stays-amber", "handheld-dies", "lane-scale-wrong"]
)
def test_no_condition_shows_an_id(page: Page, demo: Served, symptom):
    page.goto(f"{demo.address}/playbooks/{symptom}/ladder")
    rungs = page.locator("[data-rung]")
    expect(rungs.first).to_be_visible()
    facts = [
        one["id"]
        for one in page.request.get(f"{demo.address}/api/playbooks/{symptom}/draft").json()["form"].get("facts", [])
    ]
    for number in range(rungs.count()):
        rungs.nth(number).click()
        shown = page.locator("main").inner_text()
        assert not IDS.search(shown), IDS.search(shown)
        for fact in facts:
            assert not re.search(rf"(?:where|when|only) {fact} ", shown)


def test_what_holds_a_rung_is_told_rule_by_rule(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/gate-arm-up/ladder")
    rung(page, "save-counts").click()
    moved = page.get_by_role("complementary", name="The chosen rung").get_by_role("list").first
    expect(moved).to_contain_text("held: ")
    assert "rules together" not in page.locator("main").inner_text()


def test_pressing_beside_everything_is_leaving_and_nothing_else_loses_the_focus(page: Page, demo: Served):
    start(page, demo)
    for key in ("1", "1", "2"):
        press(page, key)
        expect(page.locator("[aria-busy=true]")).to_have_count(0)
        assert page.evaluate("() => document.activeElement !== document.body")
    page.keyboard.press("9")
    page.get_by_role("button", name="Could not do it").click()
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    assert focused(page)


def test_a_logged_case_tells_what_is_known_by_what_it_was_asked(page: Page, demo: Served):
    cases = page.request.get(f"{demo.address}/api/cases?symptom=gate-arm-up&limit=50").json()["cases"]
    views = (page.request.get(f"{demo.address}/api/cases/{one['case']}").json() for one in cases)
    view = next(one for one in views if "model" in one["case"].get("facts", {}))
    page.goto(f"{demo.address}/cases/{view['case']['case']}")
    known = page.get_by_role("complementary", name="Known of the case")
    expect(known.get_by_role("term").filter(has_text="Model on the side plate")).to_be_visible()
    assert "model" not in [term.inner_text() for term in known.get_by_role("term").all()]


def test_a_sheet_that_is_come_back_to_or_loaded_again_has_the_keyboard(page: Page, demo: Served):
    start(page, demo)
    climb = page.url
    page.goto(f"{climb}/sheet")
    expect(page.get_by_role("heading", level=1)).to_be_focused()
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_be_focused()
    page.goto(demo.address)
    page.go_back()
    expect(page.get_by_role("heading", level=1)).to_be_focused()
    with rough_line(page) as line:
        line.way, line.is_all = "failing", True
        page.reload()
        expect(page.get_by_role("button", name="Try again")).to_be_visible()
        assert page.evaluate("() => document.activeElement !== document.body")


def test_a_notice_told_by_a_held_key_over_a_rough_line_is_told_once(page: Page, demo: Served):
    page.goto(demo.address)
    page.get_by_role("button", name="Tell everybody what is known now").click()
    page.get_by_label("What is known").fill("The list of ships is late")
    sent = []
    page.on("request", lambda request: sent.append(request.url) if request.method == "POST" else None)
    with rough_line(page) as line:
        line.way, line.is_all = "failing", True
        page.keyboard.down("Enter")
        for _ in range(8):
            page.keyboard.down("Enter")
        page.keyboard.up("Enter")
        expect(page.get_by_role("alert").first).to_be_visible()
    assert len([url for url in sent if url.endswith("/api/notices")]) == 1
