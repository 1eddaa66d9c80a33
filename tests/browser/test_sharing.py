"""Steps that playbooks share, the ladder as one sort of unit meets it, and what a lead does with the pointer in it."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, rung_titles, saved

GATE = "/playbooks/gate-arm-up/ladder"
PAD = "/playbooks/kiosk-no-card-pad/ladder"
KIOSK = "/playbooks/kiosk-faint-tickets/ladder"


def test_a_step_of_another_playbook_is_found_while_it_is_typed_and_put_in(page: Page, demo: Served):
    page.goto(demo.address + GATE)
    line = page.get_by_label("New step at the foot of the ladder")
    line.fill("wipe the print")
    choice = page.get_by_role("group", name="In other playbooks")
    expect(choice).to_contain_text("Wipe the print head in Kiosk prints faint or blank tickets")
    expect(choice).to_contain_text(re.compile(r"resolved \d+ of \d+\stries"))
    line.press("ArrowDown")
    line.press("Enter")
    expect(page.locator("[data-rung]").last).to_have_text("Wipe the print head")
    expect(line).to_have_value("")
    saved(page)
    page.reload()
    assert rung_titles(page)[-1] == "Wipe the print head"
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-rung]", has_text="Wipe the print head")).to_have_count(0)


def test_steps_from_the_library_and_typed_ones_come_in_the_order_of_their_lines(page: Page, demo: Served):
    page.goto(demo.address + GATE)
    first = page.locator("[data-rung]").first
    first.focus()
    first.press("Enter")
    line = page.get_by_label("New step below this rung")
    line.fill("wipe the print")
    expect(page.get_by_role("group", name="In other playbooks")).to_be_visible()
    line.press("ArrowDown")
    line.press("Enter")
    line.fill("Look at the lamp, 1 min check")
    line.press("Enter")
    expect(page.locator("[data-rung]", has_text="Look at the lamp")).to_be_visible()
    saved(page)
    page.reload()
    expect(page.locator("[data-rung]", has_text="Look at the lamp")).to_be_visible()
    titles = rung_titles(page)
    assert titles.index("Look at the lamp") == titles.index("Wipe the print head") + 1
    # What was read of the typed line, the line itself, and the step of the library.
    for _ in range(3):
        page.get_by_role("button", name="Undo").click()
        saved(page)
    expect(page.locator("[data-rung]", has_text="Look at the lamp")).to_have_count(0)
    expect(page.locator("[data-rung]", has_text="Wipe the print head")).to_have_count(0)


def test_a_shared_step_is_changed_here_and_then_everywhere(page: Page, demo: Served):
    page.goto(f"{demo.address}{GATE}")
    page.get_by_label("New step at the foot of the ladder").fill("wipe the print")
    page.get_by_role("group", name="In other playbooks").get_by_role("option").first.click()
    added = page.locator("[data-rung]").last
    expect(added).to_have_text("Wipe the print head")
    saved(page)
    added.click()
    side = page.get_by_role("complementary", name="The chosen rung")
    expect(side).to_contain_text("Also used in “Kiosk prints faint or blank tickets”")
    expect(side).to_contain_text("stays here only")
    side.get_by_label("minutes of work", exact=True).fill("33 + 7 wait")
    expect(side.get_by_label("waiting", exact=True)).to_have_value("7")
    side.get_by_role("button", name="Have it everywhere").click()
    dialog = page.get_by_role("dialog", name="Have “Wipe the print head” everywhere")
    expect(dialog.get_by_role("row", name="Kiosk prints faint or blank tickets")).to_contain_text("→")
    dialog.get_by_role("button", name="Have it everywhere").click()
    expect(dialog).to_be_hidden()
    saved(page)
    expect(side.get_by_role("button", name="Have it everywhere")).to_have_count(0)
    page.goto(f"{demo.address}{KIOSK}?step=clean-head")
    expect(side).to_contain_text("The library has a newer text of this step, by R. Tamsin")
    side.get_by_role("button", name="Take it into this draft").click()
    expect(side.get_by_label("minutes of work", exact=True)).to_have_value("33")


def test_the_ladder_is_seen_as_one_sort_of_unit_meets_it_and_a_link_leads_there(page: Page, demo: Served):
    page.goto(demo.address + PAD)
    totals = page.get_by_role("region", name="Totals")
    before = totals.inner_text()
    page.get_by_role("button", name="By unit").click()
    page.get_by_label("What do the pad's four lamps do?").select_option("lit")
    expect(totals).to_contain_text("As “lit”")
    expect(page.get_by_text("no such unit comes to it")).to_have_count(1)
    assert totals.inner_text() != before
    page.locator("[data-rung]").nth(2).click()
    chosen = page.locator("[data-rung]").nth(2).text_content()
    expect(page).to_have_url(re.compile(r"unit=lamps%3Alit&rung="))
    page.goto(page.url)
    expect(page.locator("[data-rung][aria-current]")).to_have_text(chosen)
    expect(totals).to_contain_text("As “lit”")
    page.get_by_role("button", name="All units").click()
    expect(page.get_by_text("no such unit comes to it")).to_have_count(0)
    expect(totals).not_to_contain_text("As “lit”")
    assert totals.inner_text().split("\n")[1] == before.split("\n")[1]


def test_lengths_of_time_are_written_as_people_say_them(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/handheld-dies/ladder")
    page.get_by_role("button", name="By unit").click()
    page.get_by_label("How often does it happen?").select_option(label="2 h")
    expect(page.get_by_role("region", name="Totals")).to_contain_text("As “2 h”, 60 % of units", use_inner_text=True)
    page.get_by_role("button", name="All units").click()
    rung = page.locator("[data-rung]").nth(1)
    rung.click()
    side = page.get_by_label("The chosen rung")
    condition = side.get_by_label("condition: only when")
    condition.fill('"How often does it happen?" below 1 hour 30 min')
    expect(side.get_by_text(re.compile("How often does it happen.* is below 90 minutes"))).to_be_visible()
    condition.press("Tab")
    expect(condition).to_have_value('"How often does it happen?" below 1 h 30 min')
    page.get_by_role("button", name=re.compile("^Undo")).click()
    page.goto(f"{demo.address}/playbooks/handheld-dies/symptom")
    expect(page.get_by_label("share of 6 h")).to_have_value("40")


@pytest.mark.parametrize("unit", ["colour:red", "lamps:burnt", "lamps"])
def test_an_old_link_to_a_sort_of_unit_that_there_is_no_more_leads_back_to_all(page: Page, demo: Served, unit: str):
    page.goto(f"{demo.address}{PAD}?unit={unit}")
    if ":" in unit:
        page.get_by_role("button", name="See it for all units").click()
    expect(page.locator("[data-rung]").first).to_be_visible()
    expect(page.get_by_role("button", name="By unit")).to_be_visible()


def test_a_step_that_is_found_while_its_ladder_is_open_is_chosen_there(page: Page, demo: Served):
    page.goto(demo.address + PAD)
    page.locator("[data-rung]").nth(1).click()
    expect(page).to_have_url(re.compile("rung="))
    page.get_by_label("Find a symptom, step, unit or case").fill("push the pad")
    page.get_by_role("option", name=re.compile("^Push the pad's lead home on")).click()
    expect(page.locator("[data-rung][aria-current]")).to_have_text("Push the pad's lead home")
    page.locator("[data-rung]").nth(1).click()
    expect(page).to_have_url(re.compile("rung="))
    expect(page).not_to_have_url(re.compile("step="))


def test_a_rung_is_dragged_onto_anothers_side_rail(page: Page, demo: Served):
    page.goto(demo.address + PAD)
    titles = rung_titles(page)
    handle = page.get_by_role("button", name=f"Move {titles[-1]}").bounding_box()
    page.mouse.move(handle["x"] + 8, handle["y"] + 20)
    page.mouse.down()
    page.mouse.move(handle["x"] + 8, handle["y"] + 10, steps=4)
    place = page.locator("li", has=page.get_by_role("button", name=f"Move {titles[0]}")).get_by_text(
        "into its side rail"
    )
    box = place.bounding_box()
    page.mouse.move(box["x"] + 40, box["y"] + 12, steps=10)
    page.mouse.up()
    page.get_by_role("dialog").get_by_role("button", name="Could not be done", exact=False).click()
    rail = page.get_by_role("list", name=f"Side rails of {titles[0]}")
    expect(rail.locator("[data-rung]")).to_have_text(titles[-1])
    saved(page)
    page.get_by_role("button", name="Undo").click()
    expect(rail).to_have_count(0)


@pytest.mark.parametrize("how", ["Enter", "Tab"])
def test_an_answer_is_called_otherwise_in_every_condition(page: Page, demo: Served, how: str):
    page.goto(f"{demo.address}/playbooks/kiosk-no-card-pad/symptom")
    page.get_by_role("button", name="rename dark").click()
    name = page.get_by_label("what dark is called")
    name.fill("all four dark")
    name.press(how)
    expect(page.get_by_label("share of all four dark")).to_be_visible()
    saved(page)
    page.goto(demo.address + PAD)
    expect(page.get_by_role("region", name="Ladder")).to_contain_text("all four dark")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("region", name="Ladder")).not_to_contain_text("all four dark")
