"""A guided case by keyboard alone: inside steps, out of states, searches, later rungs, notices, remarks, other hands."""

import re

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Served, answer_with, new_context, press, sit_down
from tests.browser.rough import rough_line
from tests.browser.test_by_keyboard import tab_to
from tests.browser.test_closing import api, bar, begin, go_on, heading
from tests.browser.test_nothing_lost import on_server

PANEL = ("Leave: Side panel open", "Leave: Lane closed to passengers")


def gate(page: Page, demo: Served, **who: str) -> None:
    """A case of the raised arm, begun by keyboard."""
    page.goto(f"{demo.address}/start?playbook=gate-arm-up")
    expect(page.get_by_role("radio", checked=True)).to_be_visible()
    for name, value in who.items():
        tab_to(page, name.replace("_", " "))
        page.keyboard.type(value)
    tab_to(page, "Model on the side plate")
    page.keyboard.press("G")
    page.keyboard.press("Control+Enter")
    expect(heading(page)).to_have_text("Is the fault there now?")
    answer_with(page, "1")
    expect(heading(page)).to_have_text("Clear the hold-open setting")


def now(page: Page):
    return page.get_by_role("region", name="Now", exact=True)


def known(page: Page):
    return page.get_by_role("complementary", name="Known of the case")


def test_a_value_is_read_inside_the_step_and_its_command_copied(page: Page, demo: Served):
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    gate(page, demo)
    answer_with(page, "y")
    expect(page.get_by_label("Lane number")).to_be_focused()
    expect(now(page)).to_contain_text("Open the lane page for lane ‹Lane number›")
    expect(page.get_by_role("button", name="copy")).to_have_count(0)
    assert "{" not in now(page).inner_text()
    page.keyboard.type("3")
    answer_with(page, "Enter")
    expect(now(page)).to_contain_text("Open the lane page for lane 3")
    press(page, "c")
    expect(page.get_by_role("button", name="copied")).to_be_visible()
    assert page.evaluate("() => navigator.clipboard.readText()") == "lanectl hold --lane 3 off"


def test_what_nobody_could_tell_is_told_once_somebody_can(page: Page, demo: Served):
    gate(page, demo)
    answer_with(page, "y")
    expect(page.get_by_label("Lane number")).to_be_focused()
    press(page, "Escape")
    answer_with(page, "0")
    expect(known(page)).to_contain_text("could not be told")
    expect(now(page)).to_contain_text("not to be copied yet: Lane number is missing")
    tab_to(page, "Tell it now: Lane number")
    page.keyboard.press("Enter")
    page.keyboard.type("3")
    answer_with(page, "Enter")
    # The guard question is asked again for what is known now, and the step stands below it.
    then = page.get_by_role("region", name="What is done then")
    expect(then).to_contain_text("lanectl hold --lane 3 off")
    expect(known(page)).not_to_contain_text("could not be told")


def test_the_way_that_worked_is_logged_and_stands_first_once_enough_cases_say_so(page: Page, demo: Served):
    page.goto(f"{demo.address}/start?playbook=kiosk-faint-tickets")
    page.get_by_role("button", name="Begin").click()
    go_on(page, "Set the print darkness to 6")
    ways = now(page).get_by_role("button", name="this way worked")
    expect(ways).to_have_count(2)
    told = now(page).inner_text()
    assert told.index("Run this in the kiosk's console") < told.index("Open the kiosk's service page")
    assert len(re.findall(r"worked in \d+\scases", told)) == 2
    # What the step waits for comes first: nobody can tell which site it is.
    answer_with(page, "0")
    ways.last.click()
    expect(ways.last).to_have_attribute("aria-pressed", "true")
    answer_with(page, "1")
    page.keyboard.press("1")
    case = page.get_by_role("link", name=re.compile("^G-")).inner_text()
    logged = page.request.get(f"{demo.address}/api/cases/{case}").json()["case"]
    told = next(one for one in logged["attempts"] if one["step"] == "set-darkness")
    assert told["ways"] == ["Open the kiosk's service page for **{site}**, choose *Printer* and set the darkness to 6"]


def test_a_search_goes_by_halves_and_its_state_is_left_before_it_is_tried(page: Page, demo: Served):
    gate(page, demo)
    go_on(page, "Read the home sensor")
    page.get_by_label("It reads").fill("0.1")
    answer_with(page, "Enter")
    go_on(page, "Find the bad lead")
    expect(known(page)).to_contain_text("Leave: Side panel open")
    expect(now(page)).to_contain_text("all together, sensor leads: 1 to 4")
    expect(now(page)).to_contain_text("at most 4 rounds left, 12 min")
    answer_with(page, "1")
    expect(now(page)).to_contain_text("sensor leads: 1 to 2")
    answer_with(page, "2")
    answer_with(page, "u")
    expect(now(page)).to_contain_text("sensor leads: 1 to 2")
    answer_with(page, "2")
    expect(now(page)).to_contain_text("6 cleared")
    answer_with(page, "1")
    expect(now(page)).to_contain_text("Number 3: put all back as they were")
    answer_with(page, "1")
    expect(heading(page)).to_have_text("Change the bad lead")
    expect(page.get_by_role("region", name="The path so far")).to_contain_text("One is bad: 3")
    # The panel stays open for it, and nothing is entered twice.
    assert on_server(page, demo)["way_out"] is None
    while bar(page).get_by_role("button", name="Done: out of it").count() == 0:
        answer_with(page, "y" if "They agree" in bar(page).inner_text() else "1")
    answer_with(page, "1")
    for then in PANEL:
        expect(heading(page)).to_have_text(then)
        answer_with(page, "1")
    expect(heading(page)).to_have_text("Try the original action again")
    answer_with(page, "1")
    text = page.request.get(api(page)).json()["hand_off"]
    assert "Find the bad lead: One is bad, number 3 of 8 sensor leads" in text


def test_a_state_that_cannot_be_left_stays_a_loose_end_with_its_reason(page: Page, demo: Served):
    gate(page, demo)
    page.keyboard.press("j")
    tab_to(page, "Push all sensor leads home", 20)
    with page.expect_response(lambda response: response.url.endswith("/moves")):
        page.keyboard.press("Enter")
    expect(heading(page)).to_have_text("Push all sensor leads home")
    while bar(page).get_by_role("button", name="Done: out of it").count() == 0:
        answer_with(page, "y")
    answer_with(page, "1")
    expect(heading(page)).to_have_text(PANEL[0])
    press(page, "9")
    expect(bar(page)).to_contain_text("Stays open: it cannot be done now")
    answer_with(page, "2")
    answer_with(page, "1")
    expect(heading(page)).to_have_text("Try the original action again")
    answer_with(page, "2")
    expect(heading(page)).to_have_text("Clear the hold-open setting")
    expect(known(page)).to_contain_text("Leave: Side panel open stays open: it cannot be done now")


def test_a_safeguard_that_failed_asks_a_yes_of_its_own(page: Page, demo: Served):
    gate(page, demo)
    page.keyboard.press("j")
    tab_to(page, "Load the lane unit's program again", 20)
    with page.expect_response(lambda response: response.url.endswith("/moves")):
        page.keyboard.press("Enter")
    expect(heading(page)).to_have_text("Save today's passage counts")
    press(page, "Escape")
    press(page, "9")
    tab_to(page, "Could not do it")
    answer_with(page, "Enter")
    expect(heading(page)).to_have_text("Version on the start screen")
    press(page, "Escape")
    answer_with(page, "0")
    expect(heading(page)).to_have_text("Load the lane unit's program again")
    answer_with(page, "y")
    expect(now(page)).to_contain_text("“Save today's passage counts” could not be done: something stored may be lost")
    answer_with(page, "y")
    # It must not be interrupted: until it is begun, the case may wait.
    expect(bar(page)).to_contain_text("Begin now")
    expect(page.get_by_role("button", name="Let it wait")).to_be_visible()
    answer_with(page, "1")
    expect(page.get_by_label("Lane number")).to_be_focused()


def test_what_was_done_off_the_ladder_is_logged_and_the_lead_sees_it(page: Page, demo: Served):
    gate(page, demo)
    page.keyboard.press("e")
    expect(page.get_by_label("What was done")).to_be_focused()
    page.keyboard.type("Knock on the arm")
    with page.expect_response(lambda response: response.url.endswith("/moves")):
        page.keyboard.press("Enter")
    expect(known(page)).to_contain_text("Knock on the arm: no")
    expect(heading(page)).to_have_text("Clear the hold-open setting")
    page.goto(demo.address)
    expect(page.get_by_role("region", name="Done off the ladder")).to_contain_text("Knock on the arm")


def test_a_remark_reaches_the_lead_beside_its_step(page: Page, demo: Served):
    gate(page, demo)
    at = page.url
    page.keyboard.press("w")
    tab_to(page, "What is wrong with it", 12)
    page.keyboard.type("The page is called Lanes now")
    tab_to(page, "Tell the lead", 5)
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    assert page.url == at
    page.goto(demo.address)
    said = page.get_by_role("region", name="Texts that are wrong")
    expect(said).to_contain_text("The page is called Lanes now")
    said.get_by_role("link", name="Clear the hold-open setting").click()
    beside = page.get_by_role("region", name="What agents say of its texts")
    expect(beside).to_contain_text("The page is called Lanes now")
    beside.get_by_role("button", name="seen to").click()
    expect(beside).to_have_count(0)


def test_three_callers_are_logged_to_a_notice_and_called_back(page: Page, demo: Served):
    page.goto(demo.address)
    page.get_by_role("button", name="Tell everybody what is known now").press("Enter")
    page.get_by_label("What is known").press_sequentially("The list server is down, back at 15:00")
    page.get_by_label("Of which symptom").select_option("Handheld will not load the sailing list")
    page.get_by_role("button", name="Tell everybody", exact=True).press("Enter")
    desk = page.get_by_role("region", name="Known now")
    expect(desk).to_contain_text("The list server is down")
    before = page.request.get(f"{demo.address}/api/cases-total").json()
    for caller in ("Deck office", "Pier two", "Mate"):
        page.goto(f"{demo.address}/start?playbook=handheld-no-sailing-list")
        expect(page.get_by_role("region", name="Known now")).to_contain_text("The list server is down")
        tab_to(page, "Who is calling")
        page.keyboard.type(caller)
        with page.expect_response(lambda response: response.url.endswith("/calls")):
            page.keyboard.press("Alt+k")
        expect(page.get_by_label("Who is calling")).to_have_value("")
    assert page.request.get(f"{demo.address}/api/cases-total").json() == before
    page.goto(demo.address)
    desk.get_by_role("button", name="It is over").press("Enter")
    expect(desk).to_contain_text("Call back: 3 callers")
    for left in (2, 1, 0):
        desk.get_by_role("button", name="called back").first.press("Enter")
        expect(desk.get_by_role("button", name="called back")).to_have_count(left)
    expect(desk).not_to_contain_text("The list server is down")


def test_the_caller_of_a_case_that_is_begun_is_logged_to_a_notice_once_its_loose_ends_are_closed(
    page: Page, demo: Served
):
    notice = {"playbook": "gate-arm-up", "says": "The lane server is down"}
    post_notice = page.request.post(f"{demo.address}/api/notices", data=notice, headers={"Origin": demo.address}).json()
    number = post_notice["notices"][0]["number"]
    gate(page, demo, Who_is_calling="Deck office")
    before = page.request.get(f"{demo.address}/api/cases-total").json()
    strip = page.get_by_role("region", name="Known now")
    expect(strip).to_contain_text("It is this: log the caller to it")
    go_on(page, "Read the home sensor")
    page.get_by_label("It reads").fill("0.1")
    answer_with(page, "Enter")
    go_on(page, "Find the bad lead")
    expect(strip).to_contain_text(re.compile(r"If it is this: close 2\sloose ends first"))
    expect(strip).not_to_contain_text("log the caller to it Alt")
    page.keyboard.press("Alt+k")
    expect(heading(page)).to_have_text("Find the bad lead")
    gate(page, demo, Who_is_calling="Pier two")
    expect(strip).to_contain_text("It is this: log the caller to it")
    with page.expect_response(lambda response: response.url.endswith("/moves")):
        page.keyboard.press("Alt+k")
    expect(heading(page)).to_have_text("Logged to what is known now")
    expect(now(page)).not_to_contain_text("The case is in the log")
    assert page.request.get(f"{demo.address}/api/cases-total").json() == before
    (known,) = [
        one for one in page.request.get(f"{demo.address}/api/notices").json()["notices"] if one["number"] == number
    ]
    assert [call["caller"] for call in known["calls"]] == ["Pier two"]
    page.request.post(f"{demo.address}/api/notices/{number}/end", headers={"Origin": demo.address})


def test_a_case_is_taken_over_in_another_browser_and_its_watch_taken_up(page: Page, demo: Served, browser: Browser):
    begin(page, demo, "handheld-dies")
    for _ in range(12):
        if bar(page).get_by_label("Only normal use can tell. Watch for").is_visible():
            break
        if page.get_by_role("button", name="cannot tell", exact=True).count():
            page.keyboard.press("Escape")
            answer_with(page, "0")
        elif page.locator("[data-asked]").count():
            page.keyboard.type("6")
            answer_with(page, "Enter")
        else:
            said = bar(page).inner_text()
            answer_with(page, "y" if "y" in said.split() else "2" if "No change" in said else "1")
    answer_with(page, "1")
    expect(heading(page)).to_have_text("Being watched in normal use")
    with new_context(browser) as context:
        other = sit_down(context, demo, "I. Vell")
        other.goto(page.url)
        expect(other.get_by_role("alert")).to_contain_text("R. Tamsin has this case")
        expect(other.get_by_role("region", name="Answers")).to_have_count(0)
        with other.expect_response(lambda response: response.url.endswith("/moves")):
            other.get_by_role("button", name="Take it over").press("Enter")
        expect(known(other)).to_contain_text("Who had it")
        answer_with(other, "1")
        expect(heading(other)).not_to_have_text("Being watched in normal use")
    page.reload()
    expect(page.get_by_role("alert")).to_contain_text("I. Vell has this case")


def test_a_case_restored_for_now_waits_for_its_day_and_is_mended_in_another_browser(
    page: Page, demo: Served, browser: Browser
):
    begin(page, demo, "handheld-dies")
    case = on_server(page, demo)["case"]
    answer_with(page, "1")
    press(page, "j")
    with page.expect_response(lambda response: response.url.endswith("/moves")):
        page.get_by_role("dialog").get_by_role("button", name="Give out the spare reader").press("Enter")
    expect(heading(page)).to_have_text("Give out the spare reader")
    answer_with(page, "1")
    expect(heading(page)).to_have_text("Mend the reader on the bench")
    restored = on_server(page, demo)
    press(page, "p")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("radio", name="Restored for now, waiting for the lasting repair")).to_be_checked()
    dialog.get_by_label("Until, if that is known").fill("2199-01-02T08:00")
    expect(dialog).to_contain_text("A case waits for a year at most")
    expect(dialog.get_by_role("button", name="Let it wait")).to_be_disabled()
    day = page.evaluate("() => new Date(Date.now() + 30 * 86400000).toISOString().slice(0, 10)")
    dialog.get_by_label("Until, if that is known").fill(f"{day}T08:00")
    with page.expect_response(lambda response: response.url.endswith("/moves")):
        dialog.get_by_role("button", name="Let it wait").press("Enter")
    with new_context(browser) as context:
        other = sit_down(context, demo, "I. Vell")
        other.goto(demo.address)
        waiting = other.get_by_role("listitem").filter(has_text=case)
        expect(waiting).to_contain_text("Restored for now, waiting for the lasting repair until")
        waiting.get_by_role("link").press("Enter")
        with other.expect_response(lambda response: response.url.endswith("/moves")):
            other.get_by_role("button", name="Take it over").press("Enter")
        answer_with(other, "1")
        expect(heading(other)).to_have_text("Mend the reader on the bench")
        answer_with(other, "1")
        while heading(other).inner_text() != "Fixed. How is that known?":
            answer_with(other, "1")
        answer_with(other, "1")
        expect(heading(other)).to_have_text("Resolved")
    logged = page.request.get(f"{demo.address}/api/cases/{case}").json()["case"]
    assert (logged["end"], logged["resolved_by"]) == ("resolved", "mend-on-bench")
    assert logged["opened"] <= logged["restored"] <= logged["closed"]
    assert restored["is_restored"]


def test_a_case_that_came_back_is_opened_again_with_all_that_is_known(page: Page, demo: Served):
    gate(page, demo, Who_is_calling="Deck office", Number_in_the_other_system="88-2071")
    expect(page.get_by_role("banner")).to_contain_text("88-2071")
    case = on_server(page, demo)["case"]
    # A second caller about it is led to the open one.
    page.goto(f"{demo.address}/start?playbook=gate-arm-up")
    tab_to(page, "Number in the other system")
    page.keyboard.type("88-2071")
    page.get_by_role("status", name="Open already").get_by_role("link", name=case).press("Enter")
    answer_with(page, "y")
    expect(page.get_by_label("Lane number")).to_be_focused()
    page.keyboard.type("3")
    answer_with(page, "Enter")
    answer_with(page, "1")
    expect(heading(page)).to_have_text("Put the sensor on the weekly round")
    answer_with(page, "1")
    expect(heading(page)).to_have_text("Fixed. How is that known?")
    press(page, "1")
    expect(heading(page)).to_have_text("Resolved")
    page.goto(f"{demo.address}/cases/{case}")
    page.get_by_role("button", name="It came back: go on with it").press("Enter")
    expect(heading(page)).to_have_text("Is the fault there now?")
    expect(known(page)).to_contain_text(f"Came back after {case}")
    answer_with(page, "1")
    path = page.get_by_role("region", name="The path so far")
    expect(path).to_contain_text(f"tried on {case}")
    expect(heading(page)).not_to_have_text("Clear the hold-open setting")


def test_a_phone_goes_through_a_tunnel_and_takes_its_sheet_along(browser: Browser, demo: Served):
    with new_context(browser, has_touch=True) as context, rough_line(context) as line:
        page = sit_down(context, demo)
        page.set_viewport_size({"width": 390, "height": 844})
        gate(page, demo)
        small = page.evaluate(
            "() => [...document.querySelectorAll('[aria-label=Answers] button')]"
            ".map(one => one.getBoundingClientRect().height).filter(height => height < 44)"
        )
        assert small == []
        page.get_by_role("link", name="A sheet to take along").tap()
        expect(page.get_by_role("heading", name="Take along")).to_be_visible()
        expect(page.get_by_role("main")).to_contain_text("Panel key (Key box in the ticket office")
        expect(page.get_by_role("heading", name=re.compile("Swap the arm drive"))).to_be_visible()
        page.get_by_role("link", name="Back to the case").tap()
        number = on_server(page, demo)["number"]
        line.way = "cut"
        page.get_by_role("button", name="Yes").tap()
        expect(page.get_by_role("alert")).to_contain_text("not reached the server")
        for note in ("In the tunnel", "Still in it"):
            page.get_by_label("What the next person should know").fill(note)
            page.get_by_label("What the next person should know").press("Enter")
        expect(known(page)).to_contain_text("Still in it")
        page.reload()
        line.restore()
        expect(page.get_by_label("Lane number")).to_be_visible()
        expect(known(page)).not_to_contain_text("being sent")
        there = on_server(page, demo)
        assert (there["number"], there["notes"]) == (number + 3, ["In the tunnel", "Still in it"])
