"""What must hold on every page: accessibility in light and dark, with data, empty and failing; the first load."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, answer_with, new_context, sit_down
from tests.parts import in_part

AXE = (Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js").read_text(encoding="utf-8")
PLACES = {
    "desk": "/",
    "ladder": "/playbooks/counter-no-labels/ladder",
    "evidence": "/playbooks/kiosk-faint-tickets/evidence",
    "symptom's cases": "/playbooks/kiosk-faint-tickets/cases",
    "editions": "/playbooks/kiosk-no-card-pad/editions",
    "cases": "/cases",
    "case": "/cases/OF-10002",
    "left out": "/left-out",
    "start": "/start?playbook=counter-no-labels",
    "new symptom": "/new",
    "symptom": "/playbooks/gate-arm-up/symptom",
    "by unit": "/playbooks/kiosk-no-card-pad/ladder?unit=lamps:lit",
    "month": "/month",
    "nowhere": "/nowhere",
}


def serious(page: Page) -> list[str]:
    """What axe, with every rule on, finds serious or critical."""
    page.evaluate(AXE)
    found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")
    return [
        f"{violation['id']}: {violation['nodes'][0]['html'][:160]} {violation['nodes'][0]['failureSummary'][:200]}"
        for violation in found["violations"]
        if violation["impact"] in ("serious", "critical")
    ]


def settled(page: Page) -> None:
    page.wait_for_load_state("networkidle")
    expect(page.locator("[aria-busy=true]")).to_have_count(0)


@pytest.mark.parametrize("theme", in_part(["light", "dark"], 1))
def test_axe_finds_nothing_serious_in_orders_and_publishing(browser, demo: Served, theme):
    with new_context(browser, color_scheme=theme) as context:
        page = sit_down(context, demo)
        page.goto(demo.address + PLACES["ladder"])
        page.get_by_role("button", name="Compare orders").click()
        page.get_by_role("region", name="Review").get_by_role("button").first.click()
        expect(page.get_by_role("button", name="The draft")).to_be_visible()
        assert serious(page) == [], "orders"
        page.get_by_role("button", name="Publish edition").click()
        expect(page.get_by_role("dialog")).to_be_visible()
        assert serious(page) == [], "publish"


@pytest.mark.parametrize("theme", in_part(["light", "dark"], 1))
def test_axe_finds_nothing_serious_in_a_guided_case(browser, demo: Served, theme):
    with new_context(browser, color_scheme=theme) as context:
        page = sit_down(context, demo)
        page.goto(f"{demo.address}/start?playbook=board-departed-sailing")
        expect(page.get_by_role("radio", checked=True)).to_be_visible()
        page.keyboard.press("Control+Enter")
        seen = set()
        heading = page.get_by_role("heading", level=1)
        expect(heading).to_have_text("Is the fault there now?")
        for _ in range(14):
            kind = page.get_by_role("region", name="Answers").inner_text()
            if kind not in seen:
                assert serious(page) == [], heading.inner_text()
                seen.add(kind)
            answer_with(page, "y" if "y" in kind.split() else "2" if "No change" in kind else "1")
            settled(page)
            if heading.inner_text() == "Handed off":
                break
        page.keyboard.press("h")
        assert serious(page) == []
        assert len(seen) > 4


@pytest.mark.parametrize("theme", in_part(["dark", "light"], 1))
def test_axe_finds_nothing_serious_on_an_empty_desk(browser, empty: Served, theme):
    with new_context(browser, color_scheme=theme) as context:
        page = context.new_page()
        for name in ("desk", "cases", "start", "left out"):
            page.goto(empty.address + PLACES[name])
            settled(page)
            assert serious(page) == [], name
        page.goto(empty.address)
        expect(page.get_by_text("mild-ladder import playbook FILE")).to_be_visible()


@pytest.mark.parametrize("theme", in_part(["dark", "light"], 1))
def test_axe_finds_nothing_serious_when_the_server_fails(browser, demo: Served, theme):
    with new_context(browser, color_scheme=theme) as context:
        page = context.new_page()
        page.route("**/api/**", lambda route: route.fulfill(status=500, body=""))
        for name in ("desk", "ladder", "evidence", "cases", "case", "left out", "start"):
            page.goto(demo.address + PLACES[name])
            expect(page.get_by_role("alert").first).to_be_visible()
            assert serious(page) == [], name
        page.unroute("**/api/**")
        page.get_by_role("button", name="Try again").first.click()
        expect(page.get_by_role("alert")).to_have_count(0)


def test_the_first_person_of_an_empty_desk_sits_down(browser, empty: Served):
    with new_context(browser) as context:
        page = context.new_page()
        page.goto(empty.address)
        people = page.request.get(f"{empty.address}/api/me").json()["people"]
        assert people == []
        page.get_by_label("Your name").fill("N. Oake")
        page.keyboard.press("Enter")
        expect(page.get_by_role("banner").get_by_role("button", name="N. Oake, lead")).to_be_visible()


# Bytes of script: the Desk is what most begin with.
MOST_LOADED = {"desk": 200_000, "ladder": 255_000}


@pytest.mark.parametrize(("name", "most"), MOST_LOADED.items())
def test_the_first_load_is_small(context, demo: Served, name, most):
    page = context.new_page()
    page.goto(demo.address + PLACES[name])
    settled(page)
    size = page.evaluate(
        "() => performance.getEntriesByType('resource').filter(r => r.name.endsWith('.js'))"
        ".reduce((sum, r) => sum + r.encodedBodySize, 0)"
    )
    assert 20_000 < size <= most


def test_assets_may_be_kept_for_good_and_the_page_never(context, demo: Served):
    page = context.new_page()
    page.goto(demo.address)
    asset = page.locator("script[type=module]").get_attribute("src")
    headers = page.request.get(demo.address + asset, headers={"Accept-Encoding": "br"}).headers
    assert "immutable" in headers["cache-control"]
    assert headers["content-encoding"] == "br"
    assert page.request.get(demo.address).headers["cache-control"] == "no-cache"


def test_the_find_box_leads_to_symptoms_and_cases(page: Page, demo: Served):
    page.goto(demo.address)
    settled(page)
    page.keyboard.press("/")
    page.keyboard.type("c-44")
    expect(page.get_by_role("option").first).to_contain_text("Counter cannot print vehicle labels")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Counter cannot print vehicle labels")
    page.keyboard.press("/")
    page.keyboard.type("stripes")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    expect(page).to_have_url(f"{demo.address}/cases?words=stripes")
    expect(page.get_by_role("region", name="Cases").get_by_role("link").first).to_be_visible()


def test_the_keys_are_listed(page: Page, demo: Served):
    page.goto(demo.address)
    settled(page)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
