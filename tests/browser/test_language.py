"""Playbooks that need the whole language, in the browser: side rails, brackets, and cases that climb them."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, press, rung


def answer(page: Page, key: str, then: str) -> None:
    """Answer by key, and wait until the next thing is asked."""
    press(page, key)
    expect(page.get_by_role("heading", level=1)).to_have_text(then)


def begin(page: Page, desk: Served, playbook: str, **facts: str) -> None:
    page.goto(f"{desk.address}/start?playbook={playbook}")
    expect(page.get_by_role("radio", checked=True)).to_be_visible()
    for label, value in facts.items():
        page.get_by_label(label.replace("_", " ")).select_option(value)
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Is the fault there now?")


def enter(page: Page, label: str, value: str) -> None:
    """Type the value that is asked inside the step."""
    expect(page.get_by_label(label)).to_be_focused()
    page.keyboard.type(value)
    press(page, "Enter")
    expect(page.locator("[data-asked]")).to_have_count(0)


def test_side_rails_stand_below_their_rung_and_move_with_it(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/gate-arm-up/ladder")
    expect(page.locator("[data-rung]").first).to_be_visible()
    before = page.locator("[data-rung]").all_text_contents()
    assert before[:3] == [
        "Clear the hold-open setting",
        "Ask the duty officer to unlock the lane page",
        "Restart the lane unit",
    ]
    rails = page.get_by_role("list", name="Side rails of Read the home sensor")
    for says in ("Reads blocked", "Reads nothing", "One is bad", "handed off to Lane crew"):
        expect(rails).to_contain_text(says)
    labels = [text.split("\n")[0] for text in rails.get_by_role("listitem").all_inner_texts()]
    assert labels == ["3a", "3b", "3c", "3d"]
    rung(page, "clear-hold").focus()
    page.keyboard.press("Alt+ArrowDown")
    expect(page.locator("[data-rung]").first).to_have_text("Restart the lane unit")
    assert page.locator("[data-rung]").all_text_contents()[1:3] == before[:2]
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-rung]").first).to_have_text(before[0])


def test_the_inspector_tells_what_differs_by_unit(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/gate-arm-up/ladder")
    page.get_by_role("button", name="Wipe the home sensor").click()
    inspector = page.get_by_role("complementary", name="The chosen rung")
    expect(inspector).to_contain_text("rung 3a")
    expect(inspector.get_by_role("combobox", name="on units for which")).to_have_value(
        '"Model on the side plate" is GR6'
    )
    expect(inspector).to_contain_text("Model on the side plate is GR6")


def test_a_locked_step_is_unlocked_and_offered_again_and_a_finding_leads_on(page: Page, demo: Served):
    begin(page, demo, "gate-arm-up", Model_on_the_side_plate="GR6", Which_landing_is_the_gate_on="Sallow Bay")
    answer(page, "1", "Clear the hold-open setting")
    press(page, "y")
    enter(page, "Lane number", "3")
    expect(page.get_by_text("lanectl hold --lane 3 off")).to_be_visible()
    expect(page.get_by_text("On the GR6 the page is called")).to_be_visible()
    expect(page.get_by_role("button", name="No change")).to_be_visible()
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.get_by_role("button", name="copy for the caller").click()
    expect(page.get_by_role("button", name="copied")).to_be_visible()
    message = page.evaluate("() => navigator.clipboard.readText()")
    assert message.startswith("Clear the hold-open setting")
    assert "lanectl hold --lane 3 off" in message
    press(page, "9")
    page.get_by_role("button", name="Could not do it").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Ask the duty officer to unlock the lane page")
    answer(page, "1", "Clear the hold-open setting")
    press(page, "y")
    expect(page.get_by_role("button", name="No change")).to_be_visible()
    answer(page, "2", "Put back: Clear the hold-open setting")
    answer(page, "1", "Restart the lane unit")
    expect(page.get_by_role("region", name="Now")).to_contain_text("minutes")
    press(page, "y")
    if page.get_by_role("button", name="They agree").is_visible():
        press(page, "y")
    expect(page.get_by_role("button", name="No change")).to_be_visible()
    answer(page, "2", "Read the home sensor")
    expect(page.get_by_label("It reads")).to_be_focused()
    page.keyboard.press("Escape")
    answer(page, "1", "Wipe the home sensor")
    now = page.get_by_role("region", name="Now")
    expect(now).to_contain_text("First: Lane closed to passengers")
    expect(now).to_contain_text("First: Side panel open")
    expect(now).to_contain_text("Leave: Side panel open")
    answer(page, "1", "Leave: Side panel open")
    answer(page, "1", "Leave: Lane closed to passengers")
    answer(page, "1", "Try the original action again")
    answer(page, "1", "Fixed. How is that known?")
    answer(page, "1", "Resolved")
    case = page.get_by_role("region", name="Now", exact=True).get_by_role("link", name="G-").inner_text()
    logged = page.request.get(f"{demo.address}/api/cases/{case}").json()["case"]
    assert logged["resolved_by"] == "wipe-home-sensor"
    assert logged["values"] == {"lane": "3"}
    assert [a["step"] for a in logged["attempts"]] == [
        "clear-hold",
        "unlock-lane-page",
        "clear-hold",
        "restart-lane-unit",
        "read-home-sensor",
        "wipe-home-sensor",
    ]


def test_two_steps_are_done_in_a_row_and_tested_once(page: Page, demo: Served):
    begin(page, demo, "gate-stays-amber", Model_on_the_side_plate="GR4")
    answer(page, "1", "Wipe the reading window")
    answer(page, "2", "Does the sun shine straight into the window?")
    answer(page, "2", "See whether it was left in maintenance state")
    enter(page, "Gate number", "G11")
    answer(page, "2", "Restart the reader")
    answer(page, "1", "Leave: Gate in maintenance state")
    answer(page, "1", "Try the original action again")
    answer(page, "2", "Load the reader's settings again")
    expect(page.get_by_role("button", name="Done, go on to the next")).to_be_visible()
    answer(page, "1", "Set the reader's light to strong")
    answer(page, "1", "Try the original action again")
    expect(page.get_by_role("region", name="Now")).to_contain_text(
        "Tested together: Load the reader's settings again, Set the reader's light to strong"
    )
    answer(page, "1", "Leave: Gate in maintenance state")
    expect(page.get_by_role("region", name="Now")).to_contain_text("maintenance --gate G11 off")
    answer(page, "1", "Fixed. How is that known?")
    answer(page, "1", "Resolved")
    case = page.get_by_role("region", name="Now", exact=True).get_by_role("link", name="G-").inner_text()
    logged = page.request.get(f"{demo.address}/api/cases/{case}").json()["case"]
    last = logged["attempts"][-2:]
    assert [a["outcome"] for a in last] == ["fixed", "fixed"]
    assert last[0]["trial"] == last[1]["trial"]
    assert logged["resolved_by"] is None
