"""Every discovery that is planted in the demo's log is read off the screen of its symptom, as a lead reads it."""

import json
import re

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.browser.conftest import Served, new_context, sit_down
from tests.browser.rough import rough_line


@pytest.fixture
def page(context: BrowserContext, log: Served) -> Page:
    """A page of that desk at which the lead sits."""
    return sit_down(context, log)


def go(page: Page, log: Served, symptom: str, step: str = "") -> None:
    page.goto(f"{log.address}/playbooks/{symptom}/evidence?step={step}")
    expect(page.get_by_text("being worked out")).to_have_count(0)
    expect(page.get_by_role("region", name="What is behind it")).to_be_visible()


def row(page: Page, title: str):
    return page.get_by_role("region", name="Evidence by step").get_by_role("row", name=title)


def rates(page: Page, title: str) -> tuple[int, int]:
    """Raw, and if tried first, in per cent, as they are said."""
    said = row(page, title).inner_text().replace("\u00a0", " ")
    found = re.search(r"raw \d+ of \d+, <? ?(\d+) %.*if tried first <? ?(\d+) %", said)
    assert found, said
    return int(found[1]), int(found[2])


def panel(page: Page):
    return page.get_by_role("complementary", name="The chosen step")


def test_a_step_that_lives_on_easy_cases_and_one_that_is_better_than_it_looks(page: Page, log: Served):
    go(page, log, "board-departed-sailing", "nudge-feed")
    raw, first = rates(page, "Start the timetable feed again")
    assert raw >= first + 15
    expect(page.get_by_text("lives on easy cases")).to_be_visible()
    go(page, log, "gate-arm-up", "reload-program")
    raw, first = rates(page, "Load the lane unit's program again")
    assert first >= raw + 15


def test_a_fix_that_never_works_on_one_model(page: Page, log: Served):
    go(page, log, "gate-arm-up", "wipe-home-sensor")
    where = panel(page).get_by_role("region", name="Where does it work?")
    dead = where.get_by_role("row", name="GR4").inner_text()
    well = where.get_by_role("row", name="GR6").inner_text()
    counts = [re.search(r"(\d+) of (\d+)\s+tries resolved, (\d+) to be expected", said) for said in (dead, well)]
    assert all(counts), (dead, well)
    assert int(counts[0][1]) * 4 < int(counts[0][3])
    assert int(counts[1][1]) > int(counts[1][3])
    expect(where.get_by_text("No difference beyond chance")).to_have_count(0)


def test_a_fix_that_stopped_working_and_the_version_with_which_it_did(page: Page, log: Served):
    go(page, log, "gate-stays-amber", "restart-reader")
    expect(row(page, "Restart the reader")).to_contain_text(re.compile(r"works worse since \w{3,4} \d{4}"))
    expect(panel(page).get_by_role("heading", name=re.compile("Works worse since"))).to_be_visible()
    expect(panel(page)).to_contain_text(re.compile(r"Then too, .* came to be 4\.3 on \d+\s%"))
    where = panel(page).get_by_role("region", name="Where does it work?")
    said = where.get_by_role("row", name="4.3").inner_text()
    found = re.search(r"(\d+) of (\d+)\s+tries resolved, (\d+) to be expected", said)
    assert found, said
    assert int(found[1]) * 4 < int(found[3])


def test_a_popular_fix_that_comes_back(page: Page, log: Served):
    go(page, log, "kiosk-faint-tickets", "set-darkness")
    expect(row(page, "Set the print darkness to 6")).to_contain_text(re.compile(r"(3[2-9]|4\d)\s%\scome back"))
    lasting = panel(page).get_by_role("region", name="Does it last?")
    expect(lasting.get_by_role("img", name=re.compile(r"have come back, of other cures \d\s%"))).to_be_visible()
    expect(lasting).to_contain_text("beyond chance")


@pytest.mark.parametrize(
    ("symptom", "title"),
    [("kiosk-no-card-pad", "Restart the kiosk's pad service"), ("gate-stays-amber", "Put the gate back into service")],
)
def test_a_step_that_cannot_be_carried_out_a_third_of_the_time(page: Page, log: Served, symptom, title):
    go(page, log, symptom)
    expect(row(page, title)).to_contain_text(re.compile(r"(2[4-9]|3\d|4[0-4])\s%\scould not be done"))


def test_a_fault_that_often_clears_by_itself(page: Page, log: Served):
    shares = {}
    for symptom in ("tablet-loses-network", "gate-arm-up"):
        go(page, log, symptom)
        said = (
            page.get_by_role("region", name="What is behind it")
            .get_by_role("row", name="Clears by itself")
            .inner_text()
        )
        shares[symptom] = int(re.search(r"<?\s?(\d+)\s%", said)[1])
    assert shares["tablet-loses-network"] > shares["gate-arm-up"]


def test_a_filter_narrows_every_figure_and_is_kept_in_the_address(page: Page, log: Served):
    go(page, log, "gate-arm-up", "wipe-home-sensor")
    which = page.get_by_role("region", name="Which cases")
    every = which.get_by_text(re.compile(r"^all \d+ cases"))
    total = int(re.search(r"\d+", every.inner_text())[0])
    page.get_by_role("combobox", name="Model on the side plate").select_option("GR4")
    told = which.get_by_text(re.compile(r"^filtered to \d+ of \d+ cases"))
    expect(told).to_be_visible()
    left = int(re.search(r"\d+", told.inner_text())[0])
    assert 0 < left < total
    assert "unit=model%3AGR4" in page.url
    expect(page.get_by_role("region", name="Evidence by step").locator("xpath=..")).to_have_attribute(
        "aria-busy", "false"
    )
    assert rates(page, "Wipe the home sensor")[0] <= 8
    page.reload()
    expect(page.get_by_role("combobox", name="Model on the side plate")).to_have_value("GR4")
    page.get_by_role("button", name="Show all").click()
    expect(every).to_be_visible()


def test_a_filter_that_cannot_be_answered_takes_nothing_away(page: Page, log: Served):
    go(page, log, "gate-arm-up", "wipe-home-sensor")
    page.route("**/evidence?*site=*", lambda route: route.abort())
    site = page.get_by_role("combobox", name="site")
    site.select_option("Low Harrow")
    again = page.get_by_role("button", name="Try again")
    expect(again).to_be_visible()
    expect(page.get_by_text("figures of the cases before")).to_be_visible()
    expect(row(page, "Wipe the home sensor")).to_be_visible()
    page.unroute("**/evidence?*site=*")
    again.click()
    expect(page.get_by_role("region", name="Which cases").get_by_text(re.compile(r"^filtered to \d+"))).to_be_visible()
    expect(again).to_have_count(0)


def test_a_contradicted_guess_is_taken_over_into_the_draft_and_undone(page: Page, log: Served):
    go(page, log, "kiosk-faint-tickets", "set-darkness")
    judged = panel(page).get_by_role("region", name="Judged and learned")
    expect(judged.get_by_role("row", name="ends Dirt or glue on the print head")).to_be_visible()
    judged.get_by_role("button", name=re.compile("Take .* over")).press("Enter")
    expect(judged.get_by_text("The draft has what was learned.")).to_be_visible()
    judged.get_by_role("link", name="See it on the ladder").click()
    expect(page.get_by_role("button", name=re.compile("Undo"))).to_be_enabled()
    page.keyboard.press("Control+z")
    page.go_back()
    expect(judged.get_by_role("button", name=re.compile("Take .* over"))).to_be_visible()


def test_what_is_taken_over_and_does_not_get_through_is_told_where_it_was_pressed(page: Page, log: Served):
    go(page, log, "pass-already-aboard")
    press = page.get_by_role("button", name="Share the causes so in the draft")
    with rough_line(page) as line:
        line.way = "failing"
        press.click()
        expect(page.get_by_role("alert")).to_contain_text("1\u00a0change kept here, not yet sent")
        expect(page.get_by_text("The draft shares its causes as the cases do.")).to_be_visible()
        line.way = "good"
        page.get_by_role("button", name="Send now").click()
        expect(page.get_by_role("alert")).to_have_count(0)
    page.goto(f"{log.address}/playbooks/pass-already-aboard/symptom")
    page.get_by_role("button", name="Undo").click()
    go(page, log, "pass-already-aboard")
    expect(press).to_be_visible()


def test_whoever_has_not_said_who_they_are_is_told_so_and_takes_nothing_over(context: BrowserContext, log: Served):
    page = context.new_page()
    go(page, log, "pass-already-aboard")
    press = page.get_by_role("button", name="Share the causes so in the draft")
    press.click()
    expect(page.get_by_role("alert")).to_contain_text("Say who you are first")
    expect(press).to_be_visible()


def test_the_table_is_saved_as_a_file(page: Page, log: Served):
    go(page, log, "kiosk-faint-tickets")
    with page.expect_download() as saved:
        page.get_by_role("button", name="Save the table as CSV").click()
    text = saved.value.path().read_text()
    assert saved.value.suggested_filename == "kiosk-faint-tickets-evidence.csv"
    lines = text.splitlines()
    assert lines[0].startswith("rung,step,kind,came up,tried,resolved")
    assert any("Set the print darkness to 6" in line for line in lines)


def test_every_drawing_is_saved_with_the_colours_of_the_screen(page: Page, log: Served):
    go(page, log, "kiosk-faint-tickets", "set-darkness")
    places = {
        "evidence": page.get_by_role("button", name=re.compile("^Save the drawing as")),
        "effort": page.get_by_role("region", name="Share resolved against effort spent").get_by_role("button"),
        "lasting": panel(page).get_by_role("region", name="Does it last?").get_by_role("button", name="Save it as"),
    }
    for name, buttons in places.items():
        for kind, button in zip(("svg", "png"), (buttons.first, buttons.nth(1)), strict=True):
            with page.expect_download() as saved:
                button.click()
            assert saved.value.suggested_filename.endswith(f"-{name}.{kind}")
            data = saved.value.path().read_bytes()
            if kind == "png":
                assert data.startswith(b"\x89PNG")
                assert len(data) > 3_000
            else:
                assert b"rgb(" in data
                assert b"class=" not in data


def test_how_common_each_sort_of_unit_is_stands_beside_what_was_judged(page: Page, log: Served):
    go(page, log, "gate-arm-up")
    units = page.get_by_role("region", name="Which units they are")
    said = units.get_by_role("row", name="Model on the side plate is GR4").inner_text().replace("\u00a0", " ")
    found = re.search(r"(\d+) % \((\d+) % to (\d+) %\)\s+judged 60 %", said)
    assert found, said
    mean, low, high = map(int, found.groups())
    assert low < mean < high
    # The log was made as it is judged, so there is nothing to take over.
    assert low <= 60 <= high
    expect(units.get_by_role("button")).to_have_count(0)


def test_without_cases_the_page_says_what_to_do(page: Page, log: Served):
    made = page.request.post(
        f"{log.address}/api/playbooks", data={"title": "A symptom without cases"}, headers={"Origin": log.address}
    )
    assert made.ok, made.text()
    page.goto(f"{log.address}/playbooks/a-symptom-without-cases/evidence")
    expect(page.get_by_text("No case yet")).to_be_visible()


def test_the_ladder_says_what_it_comes_to_by_what_the_cases_have_taught(page: Page, log: Served):
    page.goto(f"{log.address}/playbooks/gate-arm-up/ladder")
    totals = page.get_by_role("region", name="Totals")
    expect(totals.get_by_role("button", name="Effort a case")).to_contain_text(
        re.compile(r"cases say \d+\.\d \(\d+\.\d to \d+\.\d\)")
    )
    expect(page.get_by_text(re.compile(r"first \d+\s%")).first).to_be_visible()
    page.get_by_role("button", name="Compare orders").click()
    orders = page.get_by_role("complementary", name="Orders")
    draft = orders.get_by_role("button", name=re.compile("The draft"))
    judged = draft.get_attribute("aria-label")
    totals.get_by_role("button", name="by the cases").press("Enter")
    expect(draft).not_to_have_attribute("aria-label", judged)
    totals.get_by_role("button", name="as judged").press("Enter")
    expect(draft).to_have_attribute("aria-label", judged)


def test_figures_orders_and_reasons_are_by_the_cases_unless_somebody_chooses_otherwise(browser: Browser, log: Served):
    with new_context(browser) as context:
        page = sit_down(context, log)
        page.goto(f"{log.address}/playbooks/kiosk-faint-tickets/ladder")
        effort = page.get_by_role("region", name="Totals").get_by_role("button", name="Effort a case")
        expect(effort).to_contain_text("cases say")
        judged = effort.inner_text().split("min")[0]
        page.get_by_role("button", name="by the cases").press("Enter")
        expect(effort).not_to_contain_text("cases say")
        mean, low, high = (float(one) for one in re.findall(r"\d+\.\d", effort.inner_text())[:3])
        assert low < mean < high
        assert effort.inner_text().split("min")[0] != judged
        page.reload()
        expect(page.get_by_role("button", name="by the cases")).to_have_attribute("aria-pressed", "true")
        expect(effort).to_contain_text(f"{mean:.1f}")
        # A move shows what it does by the cases too.
        page.locator("[data-rung]").nth(1).click()
        page.keyboard.press("Alt+ArrowUp")
        expect(page.get_by_text("Differences are against edition")).to_be_visible()
        expect(effort).to_contain_text(re.compile(r"[+−]|same|less|more"))
        page.get_by_role("button", name=re.compile("^Undo")).click()


def test_what_the_cases_say_of_a_step_stands_where_it_is_edited(page: Page, log: Served):
    page.goto(f"{log.address}/playbooks/kiosk-faint-tickets/ladder")
    page.locator("[data-rung]").get_by_text("Set the print darkness to 6").click()
    side = page.get_by_label("The chosen rung")
    expect(side).to_contain_text(
        re.compile(r"took \d+\.\d\smin, its test included, in the median of \d+\stries"), use_inner_text=True
    )
    ends = side.get_by_role("listitem").filter(has=page.get_by_label("ends Dirt or glue on the print head", exact=True))
    expect(ends).to_contain_text(re.compile(r"cases say \d+\s% \(\d+\s% to \d+\s%\)"), use_inner_text=True)
    take = ends.get_by_role("button", name=re.compile(r"^take \d+"))
    learned = re.search(r"\d+", take.inner_text())[0]
    take.press("Enter")
    expect(ends.get_by_label("ends Dirt or glue on the print head, per cent")).to_have_value(learned)
    expect(take).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(ends.get_by_label("ends Dirt or glue on the print head", exact=True)).to_have_value("rarely")


def test_cases_of_another_system_are_kept_out_of_what_is_estimated_and_speak_again(page: Page, log: Served):
    """An export that names the last step alone: what was tried before it was never written down."""
    lines = [
        {
            "case": f"LAST-{number}",
            "opened": f"2026-0{1 + number % 6}-03T08:00:00Z",
            "closed": f"2026-0{1 + number % 6}-03T08:40:00Z",
            "symptom": "lane-scale-wrong",
            "end": "resolved",
            "resolved_by": "load-table",
            "attempts": [{"step": "load-table", "outcome": "fixed"}],
        }
        for number in range(60)
    ]
    page.request.post(
        f"{log.address}/api/imports?source=last.jsonl&leave_out=true",
        data="\n".join(json.dumps(line) for line in lines).encode(),
        headers={"Content-Type": "application/jsonl", "Origin": log.address},
    )
    keep = page.get_by_role("button", name=re.compile(r"Keep the .* brought in out of what is estimated"))

    def has_come() -> bool:
        go(page, log, "lane-scale-wrong")
        return page.get_by_text("never written down").count() == 1

    assert any(has_come() for _ in range(40))
    learned = re.compile(r"/draft/learned")
    with page.expect_response(lambda answer: learned.search(answer.url) and answer.status == 200):
        page.get_by_role("link", name="Ladder", exact=True).click()
    page.get_by_role("link", name="Evidence", exact=True).click()
    keep.click()
    expect(
        page.get_by_text(re.compile(r"brought in from elsewhere are kept out of all that is estimated"))
    ).to_be_visible()
    expect(page.get_by_text("estimated without those brought in").first).to_be_visible()
    with page.expect_request(learned, timeout=15_000):
        page.get_by_role("link", name="Ladder", exact=True).click()
    go(page, log, "lane-scale-wrong")
    expect(page.get_by_text("never written down")).to_have_count(0)
    page.get_by_role("button", name="Let them speak again").click()
    expect(keep).to_have_count(1)
