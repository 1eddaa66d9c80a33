"""Take the pictures in docs/screenshots from the demo desk, each main view once: `make screenshots`."""

import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, expect, sync_playwright

from mildladder.demo.desk import CASES
from tests.browser.conftest import ARGUMENTS, Served, press, rung, served, sit_down

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"


def ladder(page: Page, desk: Served) -> None:
    """The builder with a draft that differs from its edition."""
    page.goto(f"{desk.address}/playbooks/counter-no-labels/ladder")
    rung(page, "empty-label-queue").click()


def by_the_cases(page: Page, desk: Served) -> None:
    """The same by what its cases have taught."""
    ladder(page, desk)
    page.get_by_role("button", name="by the cases").click(timeout=60_000)
    totals = page.get_by_role("region", name="Totals")
    totals.get_by_text("cases say").first.wait_for(state="detached")


def whole_desk(page: Page, desk: Served) -> None:
    """The Desk once every symptom was looked through."""
    page.goto(desk.address)
    page.get_by_role("link", name="Open in draft").first.wait_for(timeout=120_000)
    page.get_by_text("looked through so far").wait_for(state="detached", timeout=240_000)


def publish(page: Page, desk: Served) -> None:
    """The dialog that publishes."""
    ladder(page, desk)
    page.get_by_role("button", name="Publish edition 2").click()
    page.get_by_label("What changed, and why").fill("Emptying the queue ends most of these calls: it comes sooner")


def start(page: Page, desk: Served) -> None:
    """A caller is on the line."""
    page.goto(f"{desk.address}/start")
    page.get_by_label("What does the caller say?").fill("It took the money and the ticket is blank")
    page.get_by_text("Kiosk prints faint or blank tickets").click()
    page.get_by_label("Unit, as its plate says").fill("K2-1043")
    page.get_by_label("Which kiosk is it?").select_option("K2")
    page.get_by_label("Which landing does it stand on?").select_option("Low Harrow")


def guided(page: Page, desk: Served) -> None:
    """A case half-way down its ladder, at a rough step."""
    start(page, desk)
    page.keyboard.press("Control+Enter")
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
        ("1", "Load the printer's program again"),
    ):
        expect(page.get_by_role("region", name="Answers")).to_be_visible()
        press(page, key)
        expect(heading).to_have_text(then)
        if key == "y":
            expect(page.get_by_role("button", name="Fixed")).to_be_visible()
    press(page, "n")
    expect(page.locator("li[aria-current]", has_text="Did the count of unsent sales")).to_be_visible()
    press(page, "y")
    expect(page.get_by_role("button", name="They agree")).to_be_visible()


def rails(page: Page, desk: Served) -> None:
    """Side rails, a footing, and a rung that differs by unit."""
    page.goto(f"{desk.address}/playbooks/gate-arm-up/ladder")
    page.get_by_role("button", name="Wipe the home sensor").click()


def trial(page: Page, desk: Served) -> None:
    """Two steps tested together, and brackets for what stands on one footing."""
    page.goto(f"{desk.address}/playbooks/gate-stays-amber/ladder")
    rung(page, "raise-reader-light").click()


def by_unit(page: Page, desk: Served) -> None:
    """A ladder whose steps differ between models and versions."""
    page.goto(f"{desk.address}/playbooks/tablet-loses-network/ladder?unit=tablet:T3")
    rung(page, "forget-pier-network").click()


def review(page: Page, desk: Served) -> None:
    """A draft that a blocker keeps from being published."""
    page.goto(f"{desk.address}/playbooks/lane-scale-wrong/ladder")
    page.get_by_role("region", name="Review").get_by_role("button").first.click()


def orders(page: Page, desk: Served) -> None:
    """The mild-quick curve, one of its orders pointed at."""
    page.goto(f"{desk.address}/playbooks/tablet-loses-network/ladder")
    page.get_by_role("button", name="Compare orders").click()
    page.get_by_role("button", name="Best with the mildest first").focus()


def quick_words(page: Page, desk: Served) -> None:
    """A new rung as it is typed, and what is understood of it."""
    page.goto(f"{desk.address}/playbooks/gate-arm-up/ladder")
    rung(page, "restart-lane-unit").focus()
    page.keyboard.press("Enter")
    page.keyboard.type(
        "Reseat the sensor lead, 5 min visit, journey 20; equipment mild; ends One sensor lead is bad often"
    )
    page.get_by_text("often ends One sensor lead is bad").wait_for()


def new_symptom(page: Page, desk: Served) -> None:
    """A symptom that is begun from a list."""
    page.goto(f"{desk.address}/new")
    page.get_by_label("Title", exact=True).fill("Lane barrier stays down")
    page.get_by_label("What callers say").fill("The barrier stays down and cars wait")
    page.locator("textarea").fill("\n".join(STEPS))
    page.get_by_text("4 steps").wait_for()


STEPS = [
    "1. Ask what changed, check, 1 min caller, finds Settings changed / Nothing changed",
    "2. Clear the hold, 2 min, wait 1, ends Settings are off nearly always",
    "3. Restart the lane unit, caller 1 + 6 wait, service mild surely, ends Program is upset often",
    "4. Swap the drive, 25 min visit, journey 20, parts 180, sturdy, ends Drive is worn nearly always",
]


def hand_off(page: Page, desk: Served) -> None:
    """The text for the next team."""
    guided(page, desk)
    page.keyboard.press("h")


def at(path: str) -> Callable[[Page, Served], None]:
    """A page as it opens."""
    return lambda page, desk: page.goto(desk.address + path) and None


VIEWS: dict[str, Callable[[Page, Served], None]] = {
    "desk": whole_desk,
    "ladder": by_the_cases,
    "review": review,
    "ladder-rails": rails,
    "ladder-trial": trial,
    "ladder-by-unit": by_unit,
    "ladder-quick-words": quick_words,
    "symptom": at("/playbooks/gate-arm-up/symptom"),
    "new-symptom": new_symptom,
    "orders": orders,
    "publish": publish,
    "start": start,
    "guided-case": guided,
    "hand-off": hand_off,
    "evidence": at("/playbooks/kiosk-faint-tickets/evidence"),
    "editions": at("/playbooks/kiosk-no-card-pad/editions"),
    "cases": at("/cases"),
    "case": at("/cases/OF-10033"),
}
# The guided case is for a phone too.
PHONE = {"guided-case": "guided-case-phone"}


def take(browser: Browser, desk: Served, name: str, file: str, width: int = 1280, height: int = 800) -> None:
    """One picture."""
    context = browser.new_context(viewport={"width": width, "height": height}, color_scheme="light", locale="en-GB")
    page = sit_down(context, desk)
    VIEWS[name](page, desk)
    page.mouse.move(width - 1, height - 1)
    page.wait_for_load_state("networkidle")
    page.screenshot(path=FOLDER / f"{file}.png", animations="disabled")
    context.close()


def main() -> None:
    """Take them all."""
    with (
        tempfile.TemporaryDirectory() as folder,
        served("demo", "--cases", str(CASES), database=Path(folder) / "demo.db") as desk,
        sync_playwright() as playwright,
    ):
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        for name in [*(view for view in VIEWS if view != "desk"), "desk"]:
            take(browser, desk, name, name)
        for name, file in PHONE.items():
            take(browser, desk, name, file, 390, 844)
        browser.close()


if __name__ == "__main__":
    main()
