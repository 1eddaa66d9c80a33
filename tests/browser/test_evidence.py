"""Every discovery that is planted in the demo's log is read off the screen of its symptom, as a lead reads it."""

import json
import re
import subprocess
import sys
from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from mildladder.demo.desk import CASES
from tests.browser.conftest import Served, new_context, rung_titles, saved, served, sit_down
from tests.browser.rough import rough_line


@pytest.fixture(scope="module")
def log(tmp_path_factory) -> Iterator[Served]:
    """The demo desk with its whole log: in a tenth of it, hardly anything stands out."""
    database = tmp_path_factory.mktemp("whole") / "desk.db"
    with served("demo", "--cases", str(CASES), database=database) as desk:
        yield desk


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
    found = re.search(r"raw \d+ of \d+, <? ?(\d+) %.*if tried first (\d+) %", said)
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
    expect(where.get_by_text("No difference that luck would not make")).to_have_count(0)


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
    expect(lasting).to_contain_text("beyond luck")


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
    orders = page.get_by_role("region", name="Orders")
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


def nudges(page: Page):
    return page.get_by_role("region", name="What to do next").get_by_role("listitem")


def look_through(page: Page, log: Served) -> None:
    """The Desk once every symptom was looked through, which is done in the background."""
    page.goto(log.address)
    expect(nudges(page).first).to_be_visible(timeout=120_000)
    expect(page.get_by_text("being looked through")).to_have_count(0, timeout=240_000)


def test_what_the_desk_says_to_do_next_is_put_into_the_draft_and_moves_its_figures(page: Page, log: Served):
    look_through(page, log)
    rail = nudges(page).filter(has_text="Handheld will not load the sailing list").first
    expect(rail).to_contain_text(re.compile(r"\d\.\d h a month"))
    expect(rail).to_contain_text("less")
    said = rail.get_by_role("paragraph").nth(1).inner_text()
    rail.get_by_role("link", name="Open in draft").click()
    strip = page.get_by_role("alert").filter(has_text=said)
    effort = page.get_by_role("region", name="Totals").get_by_role("button", name="Effort a case")
    before = effort.inner_text()
    strip.get_by_role("button", name="Put it into the draft").press("Enter")
    expect(strip).to_have_count(0)
    expect(page.get_by_text("Differences are against edition")).to_be_visible()
    expect(effort).not_to_have_text(before)
    undo = page.get_by_role("button", name=re.compile("^Undo"))
    undo.click()
    expect(page.get_by_text("as agents follow it")).to_be_visible()


def test_every_planted_discovery_that_is_worth_something_is_said_on_the_desk(page: Page, log: Served):
    look_through(page, log)
    more = page.get_by_role("button", name=re.compile("more that save less"))
    more.click()
    said = page.get_by_role("region", name="What to do next").inner_text()
    # The hazard that no safeguard eases, the text that names a page of one kiosk alone, the order that is dear.
    assert "Let Send the boarding counts stand above End the list program and start it again and ease its harm" in said
    assert "Mend the text of Adjust the touch from the service page" in said
    assert re.search(r"Lane scale weighs wrong\s+Take the best order", said)


def test_a_safeguard_that_the_desk_has_is_put_above_what_it_eases_and_the_step_says_so(page: Page, log: Served):
    look_through(page, log)
    guard, guarded = "Send the boarding counts", "End the list program and start it again"
    nudges(page).filter(has_text=f"Let {guard} stand above").get_by_role("link", name="Open in draft").click()
    before = rung_titles(page)
    page.get_by_role("alert").get_by_role("button", name="Put it into the draft").press("Enter")
    expect(page.get_by_text("Differences are against edition")).to_be_visible()
    saved(page)
    after = rung_titles(page)
    assert sorted(after) == sorted({*before, guard}, key=str)
    assert after.index(guard) == after.index(guarded) - 1
    page.locator("[data-rung]").filter(has_text=guarded).first.click()
    expect(page.get_by_role("complementary", name="The chosen rung")).to_contain_text(guard)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_text("as agents follow it")).to_be_visible()
    assert rung_titles(page) == before


def test_what_is_not_wanted_now_is_hidden_with_its_reason_and_an_agent_is_told_nothing(
    page: Page, log: Served, browser: Browser
):
    look_through(page, log)
    page.get_by_role("button", name=re.compile("more that save less")).click()
    last = nudges(page).last
    said = last.get_by_role("paragraph").nth(1).inner_text()
    last.get_by_role("button", name="not now").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("button", name="Never show it again")).to_be_disabled()
    dialog.get_by_label("Why").fill("The crew likes it")
    dialog.get_by_role("button", name="Not now").press("Enter")
    expect(dialog).to_have_count(0)
    expect(nudges(page).filter(has_text=said)).to_have_count(0)
    with new_context(browser) as context:
        agent = sit_down(context, log, "I. Vell")
        agent.goto(log.address)
        expect(agent.get_by_role("heading", name="Symptoms")).to_be_visible()
        expect(agent.get_by_role("region", name="What to do next")).to_have_count(0)


def test_what_has_stopped_working_stands_first_until_somebody_has_seen_it(page: Page, log: Served):
    look_through(page, log)
    stopped = nudges(page).filter(has_text="Restart the reader has ended less since")
    expect(nudges(page).first).to_contain_text("has ended less since")
    held = nudges(page).filter(has_text="has ended less since").count()
    expect(stopped).to_contain_text(re.compile(r"\d+\s% since\s*\d+\s% before"))
    stopped.get_by_role("button", name="seen").press("Enter")
    expect(stopped).to_have_count(0)
    page.reload()
    expect(nudges(page).filter(has_text="h a month").first).to_be_visible()
    expect(nudges(page).filter(has_text="has ended less since")).to_have_count(held - 1)


def test_what_to_do_next_stays_where_the_line_fails_and_says_so_where_it_was_never_there(page: Page, log: Served):
    look_through(page, log)
    said = nudges(page).first.inner_text()
    with rough_line(page) as line:
        page.get_by_role("link", name="Cases").first.click()
        line.way, line.is_all = "failing", True
        page.get_by_role("link", name="Desk").first.click()
        expect(nudges(page).first).to_be_visible()
        assert nudges(page).first.inner_text() == said
    page.route("**/api/nudges", lambda route: route.fulfill(status=500))
    page.reload()
    expect(page.get_by_text("What to do next cannot be told now")).to_be_visible()


@pytest.mark.long
def test_the_whole_circle_from_what_to_do_next_to_what_came_of_it(page: Page, log: Served):
    """Read on the Desk, look at its evidence, take it, publish it, let three months of cases come, see what came."""
    symptom = "Handheld will not load the sailing list"
    look_through(page, log)
    rail = nudges(page).filter(has_text=symptom).first
    rail.get_by_role("link", name=re.compile("case")).click()
    expect(page.get_by_role("heading", level=1, name=symptom)).to_be_visible()
    expect(page.get_by_text(re.compile("If tried first", re.IGNORECASE)).first).to_be_visible()
    page.go_back()
    rail.get_by_role("link", name="Open in draft").click()
    totals = page.get_by_role("region", name="Totals")
    effort = totals.get_by_role("button", name="Effort a case")
    before = effort.inner_text()
    page.get_by_role("alert").get_by_role("button", name="Put it into the draft").press("Enter")
    expect(effort).not_to_have_text(before)
    saved(page)
    page.get_by_role("button", name="Publish edition 2").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("What changed, and why").fill("As the cases say")
    dialog.get_by_role("button", name="Publish edition 2").click()
    expect(dialog).to_have_count(0)

    page.get_by_role("link", name="Desk").first.click()
    came = page.get_by_role("region", name="What came of it").get_by_role("listitem").filter(has_text=symptom)
    expect(came).to_contain_text(re.compile(r"Edition 2, .*promised \d+\.\d min less a case"), timeout=120_000)
    expect(came).to_contain_text(re.compile(r"0\s+cases by it so far"))

    command = [sys.executable, "-m", "mildladder.cli", "simulate", "--months", "3", "--json"]
    command += ["--playbook", "handheld-no-sailing-list", "--db", str(log.database)]
    done = subprocess.run(command, capture_output=True, text=True, check=True, timeout=240)
    cases = json.loads(done.stdout)["cases"]
    assert cases > 60
    page.reload()
    expect(came).to_contain_text(re.compile(rf"{cases}\s+cases by it since"), timeout=120_000)
    expect(came).to_contain_text(re.compile(r"Promised \d+\.\d min less a case"))
    expect(came).to_contain_text("On the clock, its cases took")
    expect(page.get_by_role("region", name="What came of it")).to_contain_text(
        re.compile(r"1\s+change promised, \d\.\d h came \([>\s\d]+%\)")
    )
    page.get_by_role("link", name="Edition 2").click()
    expect(page.get_by_role("region", name="As their own cases went")).to_contain_text(
        re.compile(r"and \d+ of edition 2"), timeout=60_000
    )


@pytest.mark.long
def test_two_editions_run_side_by_side_until_it_is_decided(page: Page, log: Served):
    page.goto(f"{log.address}/playbooks/kiosk-no-card-pad/editions")
    part = page.get_by_role("region", name="Side by side")
    expect(part.get_by_role("status")).to_contain_text(re.compile(r"takes about .*\sweeks at the present rate"))
    before = part.get_by_role("status").inner_text()
    part.get_by_label("Difference to be found").fill("60")
    expect(part.get_by_role("status")).not_to_have_text(before)
    expect(part.get_by_role("status")).to_contain_text("To find 60.0 minutes a case")
    part.get_by_role("button", name="Run editions 1 and 2 side by side").press("Enter")
    expect(part).to_contain_text("Nothing can be said before 40 cases")
    command = [sys.executable, "-m", "mildladder.cli", "simulate", "--cases", "110", "--months", "6", "--json"]
    command += ["--playbook", "kiosk-no-card-pad", "--db", str(log.database)]
    subprocess.run(command, capture_output=True, text=True, check=True, timeout=240)
    page.reload()
    expect(part).to_contain_text(re.compile(r"Editions 1 and 2 ran side by side from .* to "))
    expect(part).to_contain_text(re.compile(r"There is no difference of 60\.0 minutes a case|It is decided: edition 2"))
    expect(part).to_contain_text(re.compile(r"Edition 2 costs \d+\.\d min (less|more) a case against edition 1"))
    expect(part.get_by_role("button", name="Stop it")).to_have_count(0)
    expect(part.get_by_role("button", name="Run editions 1 and 2 side by side")).to_be_visible()


def test_cases_of_another_system_are_kept_out_of_what_is_estimated_and_speak_again(page: Page, log: Served):
    """An export that names the last step alone: what was tried before it was never written down."""
    lines = [
        {
            "case": f"LAST-{number}", "opened": f"2026-0{1 + number % 6}-03T08:00:00Z",
            "closed": f"2026-0{1 + number % 6}-03T08:40:00Z", "symptom": "lane-scale-wrong", "end": "resolved",
            "resolved_by": "load-table", "attempts": [{"step": "load-table", "outcome": "fixed"}],
        }
        for number in range(60)
    ]  # fmt: skip
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
