"""A guided case over a rough line: nothing typed or answered is lost, doubled or put in the wrong place."""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, press
from tests.browser.rough import held, rough_line
from tests.browser.test_guide import start

FIRST, SECOND = "Ask how the ticket looks", "Press the printer lid until it clicks"
BAD = ("cut", "failing", "locked")


def heading(page: Page):
    return page.get_by_role("heading", level=1)


def on_server(page: Page, desk: Served) -> dict:
    climb = page.url.rsplit("/", 1)[1]
    return page.request.get(f"{desk.address}/api/climbs/{climb}").json()


def note_field(page: Page):
    return page.get_by_label("What the next person should know")


def strip(page: Page):
    return page.get_by_role("alert").filter(has_text="not reached the server")


@pytest.mark.parametrize("way", BAD)
def test_an_answer_that_does_not_get_through_waits_and_is_sent_again_by_itself(page: Page, demo: Served, way):
    start(page, demo)
    with rough_line(page) as line:
        line.way = way
        press(page, "1")
        expect(strip(page)).to_contain_text("the answer “It fails now”")
        line.restore()
        expect(heading(page)).to_have_text(FIRST)
        expect(strip(page)).to_have_count(0)
    assert on_server(page, demo)["number"] == 2


def test_an_answer_waits_over_a_reload(page: Page, demo: Served):
    start(page, demo)
    with rough_line(page) as line:
        line.way = "cut"
        press(page, "1")
        expect(strip(page)).to_be_visible()
        page.reload()
        expect(strip(page)).to_contain_text("the answer “It fails now”")
        # A good line would send it by itself, and might take the button away from under the press.
        line.way = "held"
        page.get_by_role("button", name="Send it now").click()
        line.restore()
        expect(heading(page)).to_have_text(FIRST)
    assert on_server(page, demo)["number"] == 2


def test_an_answer_whose_acknowledgement_was_lost_counts_once(page: Page, demo: Served):
    start(page, demo)
    with rough_line(page) as line:
        line.way = "unheard"
        press(page, "1")
        expect(strip(page)).to_be_visible()
        line.restore()
        expect(heading(page)).to_have_text(FIRST)
    assert on_server(page, demo)["number"] == 2


def test_what_a_version_before_left_waiting_is_sent(page: Page, demo: Served):
    start(page, demo)
    climb = page.url.rsplit("/", 1)[1]
    sent = (
        '{"key": "11111111-1111-4111-8111-111111111111", "after": 1, "move": {"kind": "baseline", "result": "fails"}}'
    )
    page.evaluate("([name, value]) => localStorage.setItem(name, value)", [f"mild-ladder-waiting-{climb}", sent])
    page.reload()
    expect(heading(page)).to_have_text(FIRST)
    # The case can be read as it stands now a moment before its answer is acknowledged.
    page.wait_for_function(
        "() => !Object.keys(localStorage).some((name) => /^mild-ladder-(waiting|unsent)/.test(name))"
    )
    assert on_server(page, demo)["number"] == 2


@pytest.mark.parametrize("way", BAD)
def test_notes_and_the_end_queue_up_behind_an_answer_and_all_arrive_in_order(page: Page, demo: Served, way):
    start(page, demo)
    with rough_line(page) as line:
        line.way = way
        press(page, "1")
        expect(strip(page)).to_be_visible()
        page.keyboard.press("m")
        for text in ("The lamp blinked twice", "It smells of glue"):
            page.keyboard.type(text)
            page.keyboard.press("Enter")
        expect(strip(page)).to_contain_text("the note “It smells of glue”")
        page.keyboard.press("Escape")
        page.keyboard.press("h")
        page.get_by_role("dialog").get_by_role("button", name="The caller has gone").click()
        expect(strip(page)).to_contain_text("the end of the case: the caller has gone")
        line.restore()
        expect(heading(page)).to_have_text("Abandoned")
        expect(strip(page)).to_have_count(0)
    view = on_server(page, demo)
    assert (view["number"], view["notes"]) == (5, ["The lamp blinked twice", "It smells of glue"])


def test_the_rest_of_the_desk_tells_what_waits_and_sends_it(page: Page, demo: Served):
    start(page, demo)
    case = page.title().split(" · ")[0]
    with rough_line(page) as line:
        line.way = "cut"
        press(page, "1")
        expect(strip(page)).to_be_visible()
        page.get_by_role("link", name="Mild Ladder").click()
        elsewhere = page.get_by_role("alert").filter(has_text="of guided cases")
        expect(elsewhere).to_contain_text(case)
        line.restore()
        expect(elsewhere).to_have_count(0)


def test_a_held_key_answers_one_question(page: Page, demo: Served):
    start(page, demo)
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    held(page, "1", times=30)
    expect(heading(page)).to_have_text(FIRST)
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    assert on_server(page, demo)["number"] == 2


# What the browser says of when something was pressed, as the test says it.
PRESSED_AT = "Object.defineProperty(Event.prototype, 'timeStamp', {get: () => window.pressedAt ?? 1})"


@pytest.mark.parametrize("by", ["key", "pointer"])
def test_a_second_press_within_a_quarter_of_a_second_is_meant_for_the_question_before(page: Page, demo: Served, by):
    page.add_init_script(PRESSED_AT)
    start(page, demo)

    def pressed(at: int) -> None:
        expect(page.locator("[aria-busy=true]")).to_have_count(0)
        page.evaluate("at => { window.pressedAt = at }", at)
        if by == "key":
            page.keyboard.press("1")
        else:
            page.get_by_role("region", name="Answers").get_by_role("button").first.click()

    pressed(10_000)
    expect(heading(page)).to_have_text(FIRST)
    pressed(10_200)
    pressed(10_440)
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    assert on_server(page, demo)["number"] == 2
    pressed(10_700)
    expect(heading(page)).to_have_text(SECOND)
    assert on_server(page, demo)["number"] == 3


def test_while_an_answer_is_on_its_way_another_answers_nothing(page: Page, demo: Served):
    start(page, demo)
    with rough_line(page) as line:
        line.way = "held"
        press(page, "1")
        expect(page.locator("[aria-busy=true]")).to_have_count(1)
        for key in ("2", "3", "u", "1"):
            page.keyboard.press(key)
        line.restore()
        expect(heading(page)).to_have_text(FIRST)
    assert on_server(page, demo)["number"] == 2


def test_an_answer_that_arrives_takes_the_cursor_out_of_no_note(page: Page, demo: Served):
    start(page, demo)
    with rough_line(page) as line:
        line.way = "held"
        press(page, "1")
        page.keyboard.press("m")
        page.keyboard.type("the ticket is ")
        line.restore()
        expect(heading(page)).to_have_text(FIRST)
        page.keyboard.type("1 u h")
        expect(note_field(page)).to_be_focused()
        expect(note_field(page)).to_have_value("the ticket is 1 u h")
    assert on_server(page, demo)["number"] == 2


def test_a_note_that_is_being_typed_outlasts_a_reload(page: Page, demo: Served):
    start(page, demo)
    page.keyboard.press("m")
    page.keyboard.type("half a sent")
    page.reload()
    expect(note_field(page)).to_have_value("half a sent")


def test_what_the_caller_says_outlasts_a_reload_and_goes_with_the_start(page: Page, demo: Served):
    page.goto(f"{demo.address}/start?playbook=kiosk-faint-tickets")
    page.get_by_label("What does the caller say?").fill("stripes on it")
    page.reload()
    expect(page.get_by_label("What does the caller say?")).to_have_value("stripes on it")
    expect(page.get_by_role("radio", checked=True)).to_be_visible()
    page.keyboard.press("Control+Enter")
    expect(heading(page)).to_have_text("Is the fault there now?")
    page.goto(f"{demo.address}/start")
    expect(page.get_by_label("What does the caller say?")).to_have_value("")


def test_a_value_that_is_asked_for_gets_the_cursor(page: Page, demo: Served):
    page.goto(f"{demo.address}/start?playbook=gate-arm-up")
    page.get_by_label("Model on the side plate").select_option("GR4")
    page.get_by_role("button", name="Begin").click()
    expect(heading(page)).to_have_text("Is the fault there now?")
    press(page, "1")
    expect(heading(page)).to_have_text("Clear the hold-open setting")
    press(page, "y")
    expect(page.get_by_label("Lane number")).to_be_focused()
    page.keyboard.type("3")
    expect(page.get_by_label("Lane number")).to_have_value("3")


def test_the_next_command_is_copied_by_a_key_that_means_nothing_else(page: Page, demo: Served):
    start(page, demo)
    page.keyboard.press("?")
    shown = page.get_by_role("dialog", name="Keys")
    everywhere: list[str] = []
    for place in ("Everywhere", "Ladder", "Guided case"):
        section = shown.locator("section").filter(has=page.get_by_role("heading", name=place, exact=True))
        keys = [term.inner_text() for term in section.get_by_role("term").all()]
        single = [key for term in keys if "+" not in term for key in term.split() if key.isalnum()]
        assert single or place == "Everywhere"
        assert sorted(set(everywhere + single)) == sorted(everywhere + single)
        everywhere = everywhere or single


def test_what_is_known_is_corrected_in_its_place(page: Page, demo: Served):
    start(page, demo)
    page.get_by_role("button", name="Correct: Which landing does it stand on?").click()
    page.get_by_label("Which landing does it stand on?").select_option("Sallow Bay")
    page.get_by_role("button", name="Put right").click()
    known = page.get_by_role("complementary", name="Known of the case")
    expect(known.get_by_role("definition").filter(has_text="Sallow Bay")).to_be_visible()
    facts = {one["ask"]: one["value"] for one in on_server(page, demo)["known"]}
    assert facts["Which landing does it stand on?"] == "Sallow Bay"
