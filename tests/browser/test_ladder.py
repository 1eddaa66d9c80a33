"""The builder under the hand: dragging, refusals, two people at one draft, reasons that are kept."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import MAIN_LINE, Served, new_context, rung_titles, saved, sit_down
from tests.browser.rough import rough_line

KIOSK = "/playbooks/kiosk-faint-tickets/ladder"
FOLDED = "/playbooks/kiosk-no-card-pad/ladder?unit=lamps:lit"


def drag(page: Page, title: str, to: str) -> None:
    """Drag one rung by its handle onto the place of another."""
    source = page.get_by_role("button", name=f"Move {title}").bounding_box()
    target = page.get_by_role("button", name=f"Move {to}").bounding_box()
    page.mouse.move(source["x"] + 8, source["y"] + 20)
    page.mouse.down()
    page.mouse.move(source["x"] + 8, source["y"] + 30, steps=3)
    page.mouse.move(target["x"] + 8, target["y"] + 22, steps=12)
    page.mouse.up()


def test_a_rung_is_dragged_and_every_figure_follows(page: Page, demo: Served):
    page.goto(demo.address + KIOSK)
    before = rung_titles(page)
    figures = page.get_by_role("region", name="Totals").inner_text()
    drag(page, before[1], before[2])
    expect(page.locator("[data-rung]").nth(2)).to_have_text(before[1])
    expect(page.get_by_role("region", name="Totals")).not_to_have_text(figures)
    page.reload()
    assert rung_titles(page)[1:3] == [before[2], before[1]]
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-rung]").nth(1)).to_have_text(before[1])


def test_a_held_rung_goes_back_says_why_and_moves_with_what_holds_it(page: Page, demo: Served):
    page.goto(demo.address + KIOSK)
    before = rung_titles(page)
    at = before.index("Send the kiosk's unsent sales")
    drag(page, before[at], before[at + 1])
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("must stand above")
    expect(page.locator("[data-rung]").nth(at)).to_have_text(before[at])
    assert rung_titles(page) == before
    alert.get_by_role("button", name="Leave it").click()
    expect(alert).to_be_hidden()
    page.locator("[data-rung]").nth(at + 1).focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(alert).to_contain_text("must stand above")
    alert.get_by_role("button", name="Move both").click()
    expect(alert).to_be_hidden()
    expect(page.locator("[data-rung]").nth(at - 1)).to_have_text(before[at])
    assert rung_titles(page)[at - 1 : at + 1] == before[at : at + 2]
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-rung]").nth(at)).to_have_text(before[at])


def test_two_people_at_one_draft_lose_nothing(browser, demo: Served):
    with new_context(browser) as mine, new_context(browser) as theirs:
        me, other = sit_down(mine, demo), sit_down(theirs, demo, "I. Vell")
        me.goto(demo.address + KIOSK)
        other.goto(demo.address + KIOSK)
        before = rung_titles(me)
        assert rung_titles(other) == before
        undo = me.get_by_role("button", name="Undo")
        earlier = undo.get_attribute("title")
        other.locator("[data-rung]").nth(1).focus()
        other.keyboard.press("Alt+ArrowDown")
        expect(other.locator("[data-rung]").nth(2)).to_have_text(before[1])
        saved(other)
        # On a draft that is no longer what one sees, both deeds are done, and who did the other is told.
        me.locator("[data-rung]").nth(4).focus()
        me.keyboard.press("Alt+ArrowUp")
        saved(me)
        assert [rung_titles(me).index(before[number]) for number in (2, 4, 1)] in ([1, 2, 3], [1, 3, 2])
        expect(me.locator("main")).to_contain_text(f"I. Vell: “{before[1]}” moved from 2 to 3")
        # Each takes back their own, and leaves the other's.
        expect(undo).not_to_have_attribute("title", earlier)
        undo.click()
        expect(me.locator("[data-rung]").nth(4)).to_have_text(before[4])
        expect(me.locator("[data-rung]").nth(2)).to_have_text(before[1])
        expect(undo).to_have_attribute("title", earlier)
        expect(other.locator("main")).to_contain_text("R. Tamsin is here too")
        other.get_by_role("button", name="Undo").click()
        for page in (me, other):
            expect(page.locator("[data-rung]").nth(1)).to_have_text(before[1])


def test_the_reason_of_a_rung_saves_itself(page: Page, demo: Served):
    page.goto(demo.address + "/playbooks/board-departed-sailing/ladder")
    page.locator("[data-rung]").nth(2).click()
    reason = page.get_by_label("Why it stands here")
    original = reason.input_value()
    reason.fill("Half of the calls end here")
    page.locator("[data-rung]").nth(3).click()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.reload()
    page.locator("[data-rung]").nth(2).click()
    expect(reason).to_have_value("Half of the calls end here")
    page.get_by_role("button", name="Undo").click()
    expect(reason).to_have_value(original)


def test_a_server_that_is_gone_is_said_and_what_was_done_is_kept_until_it_is_back(page: Page, demo: Served):
    page.goto(demo.address + KIOSK)
    before = rung_titles(page)
    with rough_line(page) as line:
        line.way = "cut"
        page.locator("[data-rung]").nth(1).focus()
        page.keyboard.press("Alt+ArrowDown")
        expect(page.locator("[data-rung]").nth(2)).to_have_text(before[1])
        expect(page.get_by_role("status").filter(has_text="kept here, not yet sent (1)")).to_be_visible()
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("The server does not answer")
        # A good line would send it by itself, and might take the button away from under the press.
        line.way = "held"
        alert.get_by_role("button", name="Send now").click()
        line.restore()
        saved(page)
    page.reload()
    expect(page.locator("[data-rung]").nth(2)).to_have_text(before[1])
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-rung]").nth(1)).to_have_text(before[1])


def test_the_rung_that_has_the_keyboard_is_outlined_as_a_row(page: Page, demo: Served):
    page.goto(demo.address + KIOSK)
    page.locator("[data-rung]").first.focus()
    page.keyboard.press("ArrowDown")
    button = page.locator("[data-rung]").nth(1)
    expect(button).to_be_focused()
    around = button.locator("xpath=ancestor::div[1]")
    expect(around).to_have_css("outline-style", "solid")
    expect(around).to_have_css("outline-offset", "-2px")


# What the browser takes a row for before it is drawn, and how high it is then.
HEIGHTS = """rows => rows.map(row => {
  const drawn = row.getBoundingClientRect().height;
  row.style.contentVisibility = 'hidden';
  const undrawn = row.getBoundingClientRect().height;
  row.style.contentVisibility = '';
  return [undrawn, drawn];
})"""


def test_rows_stand_as_high_before_they_are_drawn(page: Page, demo: Served):
    page.goto(demo.address + FOLDED)
    expect(page.locator("[data-folded]")).to_have_count(1)
    heights = page.locator("section[aria-label=Ladder] li:not(li li):has([data-rung])").evaluate_all(HEIGHTS)
    assert len({drawn for _, drawn in heights}) == 3, "plain, folded, with a side rail"
    assert [undrawn for undrawn, _ in heights] == [drawn for _, drawn in heights]


def test_a_rung_that_a_rule_holds_keeps_the_keyboard(page: Page, demo: Served):
    page.goto(f"{demo.address}/playbooks/counter-no-labels/ladder")
    held = page.locator(MAIN_LINE).filter(has_text="Write down the labels in the queue")
    held.click()
    page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_role("alert")).to_be_visible()
    expect(held).to_be_focused()
