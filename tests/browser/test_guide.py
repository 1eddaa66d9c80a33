"""The guided case in the browser: answers that wait, other windows, taking up again, notes, text that stays text."""

import subprocess
import sys

from playwright.sync_api import Page, expect

from mildladder.exchange.playbook_file import write_playbook
from tests.browser.conftest import Served, new_context, press
from tests.browser.rough import rough_line
from tests.samples import GATE, gate


def start(page: Page, desk: Served, playbook: str = "kiosk-faint-tickets") -> None:
    page.goto(f"{desk.address}/start?playbook={playbook}")
    expect(page.get_by_role("radio", checked=True)).to_be_visible()
    for landing in page.get_by_label("Which landing does it stand on?").all():
        landing.select_option("Low Harrow")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Is the fault there now?")


def test_a_case_that_went_on_in_another_window_is_shown_as_it_stands(page: Page, demo: Served):
    start(page, demo)
    other = page.context.new_page()
    other.goto(page.url)
    expect(other.get_by_role("heading", level=1)).to_have_text("Is the fault there now?")
    with rough_line(other) as line:
        line.way, line.is_all = "untold", True
        press(page, "1")
        expect(page.get_by_role("heading", level=1)).to_have_text("Ask how the ticket looks")
        other.get_by_role("button", name="It works now").click()
        expect(other.get_by_role("alert")).to_contain_text("gone on in another window")
    expect(other.get_by_role("heading", level=1)).to_have_text("Ask how the ticket looks")


def test_a_case_is_taken_up_again_from_the_desk_with_notes_and_earlier_tries(page: Page, demo: Served):
    start(page, demo)
    case = page.title().split(" · ")[0]
    tried = page.get_by_label("Done before the call")
    page.keyboard.press("t")
    expect(tried).to_be_focused()
    tried.press_sequentially("turned the ticket roll over, they always hit it first")
    expect(page.get_by_text("“they always hit it first”, no step of this ladder")).to_be_visible()
    expect(page.get_by_role("button", name="Add these 2")).to_be_visible()
    tried.press("Enter")
    before = page.locator("form").filter(has=tried).get_by_role("listitem")
    expect(before).to_have_text(["Turn the ticket roll over", "they always hit it first"])
    expect(page.get_by_role("region", name="The path so far")).to_contain_text("Turn the ticket roll over")
    tried.press("Escape")
    page.keyboard.press("m")
    note = page.get_by_label("What the next person should know")
    note.fill("The lamp blinked twice")
    note.press("Enter")
    expect(page.get_by_role("complementary")).to_contain_text("The lamp blinked twice")
    note.press("Escape")
    press(page, "1")
    page.get_by_role("link", name="Mild Ladder").click()
    page.get_by_role("region", name="Being guided now").get_by_role("link", name=case).click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Ask how the ticket looks")
    press(page, "1")
    expect(page.get_by_role("heading", level=1)).to_have_text("Press the printer lid until it clicks")
    press(page, "9")
    page.get_by_role("button", name="Could not do it").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Set the print darkness to 6")
    expect(page.get_by_role("region", name="The path so far")).to_contain_text("tried before the desk was called")


def test_a_case_is_closed_early_when_the_caller_has_gone(page: Page, demo: Served):
    start(page, demo)
    page.keyboard.press("h")
    page.get_by_role("dialog").get_by_role("button", name="The caller has gone").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Abandoned")


def test_text_from_a_file_is_never_run(page: Page, demo: Served, tmp_path):
    bad = "<img src=x onerror=alert(1)><script>alert(2)</script> [link](javascript:alert(3))"
    steps = [{**step, "title": f"{step['title']} {bad}", "expect": bad} for step in GATE["steps"]]
    file = tmp_path / "bad.yaml"
    steps[0]["do"] = [{"text": bad}, {"text": "Then look"}]
    file.write_bytes(write_playbook(gate(id="bad-text", title=f"Bad {bad}", steps=steps)))
    command = [sys.executable, "-m", "mildladder.cli", "import", "playbook", str(file), "--publish", "x"]
    subprocess.run([*command, "--steps", "file", "--db", str(demo.database)], check=True, timeout=60)
    page.on("dialog", lambda dialog: (_ for _ in ()).throw(AssertionError(dialog.message)))
    page.goto(f"{demo.address}/playbooks/bad-text/ladder")
    expect(page.get_by_role("heading", level=1)).to_contain_text("<script>")
    start(page, demo, "bad-text")
    press(page, "1")
    expect(page.get_by_role("region", name="Now")).to_contain_text("onerror=alert(1)")
    assert page.locator("main img, main script, a[href^='javascript']").count() == 0


def test_after_choosing_a_name_one_types_on_at_once(browser, demo: Served):
    with new_context(browser) as context:
        page = context.new_page()
        page.goto(f"{demo.address}/start")
        expect(page.get_by_label("What does the caller say?")).to_be_focused()
        page.get_by_role("region", name="Who sits here").get_by_role("button", name="I. Vell").focus()
        press(page, "Enter")
        expect(page.get_by_role("region", name="Who sits here")).to_have_count(0)
        page.keyboard.type("ARM 3 NOT HOME")
        expect(page.get_by_label("What does the caller say?")).to_have_value("ARM 3 NOT HOME")


def test_a_safeguard_that_failed_is_named_and_asks_for_a_yes_of_its_own(page: Page, demo: Served):
    start(page, demo)
    heading = page.get_by_role("heading", level=1)
    for key, then in (
        ("1", "Ask how the ticket looks"),
        ("1", "Press the printer lid until it clicks"),
        ("2", "Turn the ticket roll over"),
        ("2", "Set the print darkness to 6"),
        ("2", "Print a test strip"),
        ("3", "Wipe the print head"),
        ("y", "Wipe the print head"),
        ("2", "Send the kiosk's unsent sales"),
    ):
        press(page, key)
        expect(heading).to_have_text(then)
        if key == "y":
            expect(page.get_by_role("button", name="Fixed")).to_be_visible()
    press(page, "9")
    page.get_by_role("button", name="Could not do it").click()
    lack = "“Send the kiosk's unsent sales” could not be done: something stored may be lost"
    expect(heading).to_have_text("Which kiosk is it?")
    press(page, "2")
    expect(heading).to_have_text("Load the printer's program again")
    press(page, "n")
    expect(page.locator("li[aria-current]", has_text="Did the count of unsent sales")).to_be_visible()
    press(page, "y")
    expect(page.get_by_role("button", name="They agree")).to_be_visible()
    expect(page.get_by_text(lack)).to_be_visible()
    press(page, "y")
    expect(page.get_by_role("button", name="Fixed")).to_be_visible()
    expect(page.get_by_text(lack)).to_be_visible()
