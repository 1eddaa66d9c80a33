"""A lead builds a whole playbook from nothing in the browser; it equals the file that was written by hand before."""

import os
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from mildladder.core.draft.form import plain_playbook
from mildladder.exchange.located import read_located
from mildladder.exchange.pictures import clean_picture
from tests.browser.built.documents import unlike
from tests.browser.built.hands import Keyboard, Pointer
from tests.browser.conftest import Served, served
from tests.browser.test_every_page import serious

BY_HAND = Path(__file__).with_name("barrier.yaml")
LINES = [
    "Ask what changed, check, 1 min caller, finds Settings changed / Nothing changed",
    "Clear the hold setting, 2 min, wait 1, ends Settings are off nearly always",
    "Restart the lane unit, caller 1 + 6 wait, service mild surely, ends Program is upset often",
    "Read the home sensor, check, 1 min, finds Reads blocked / Reads clear",
    "Wipe the home sensor, 4 min visit, journey 20, ends Sensor is blocked usually",
    "Find the bad lead, check, finds One is loose / All are tight",
    "Push the leads home, 5 min visit, ends A lead is loose usually",
    "Turn the arm stop, 2 min visit, ends Drive is worn rarely",
    "Save the counts, safeguard, 1 min",
    "Load the program again, 3 + 8 wait, data badly often, service mild now and then, ends Program is upset nearly always",
]


@pytest.fixture
def desk(tmp_path) -> Iterator[Served]:
    """A desk of its own, at which nobody has sat yet."""
    with served("serve", database=tmp_path / "desk.db") as made:
        yield made


@pytest.fixture
def picture(tmp_path) -> Path:
    """A small picture of a lamp."""
    path = tmp_path / "lamp.png"
    Image.new("RGB", (24, 16), (200, 120, 40)).save(path)
    return path


# By keyboard alone with each change; the others are the long form: `BUILT=all pytest tests/browser/built`.
WAYS = [(Keyboard, 0)]
if os.environ.get("BUILT") == "all":
    WAYS += [(Pointer, 0), (Keyboard, 1500), (Pointer, 1500)]


def by_hand(picture: Path) -> dict:
    """The file, with the picture's own name."""
    digest = clean_picture(picture.read_bytes(), "lamp").digest
    text = BY_HAND.read_text().replace("PICTURE", digest[:12])
    return plain_playbook(read_located(text.encode()).data)


def to_document(page: Page, playbook: str) -> dict:
    """The draft's file as the address gives it."""
    answer = page.request.get(
        page.url.split("/playbooks")[0] + f"/api/playbooks/{playbook}/file?of=draft",
        headers={"Accept": "application/json"},
    )
    assert answer.ok, answer.text()
    return plain_playbook(answer.json())


def without_names_of_groups(playbook: dict) -> dict:
    """What a trial is called says nothing: that two rungs call it the same does."""
    names: dict[str, str] = {}
    for rung in playbook["ladder"]:
        if "trial" in rung:
            rung["trial"] = names.setdefault(rung["trial"], f"trial-{len(names)}")
    return playbook


def build(hands: Keyboard, picture: Path) -> None:
    """Every deed of the lead, from the Desk to the finished draft."""
    page = hands.page
    hands.do("New symptom")
    expect(page.get_by_role("heading", name="New symptom")).to_be_visible()
    hands.write("Title", "Lane barrier stays down")
    hands.write("What callers say", "The barrier stays down and cars wait")
    hands.write("^Steps in quick words", "\n".join(LINES))
    expect(page.get_by_role("status").filter(has_text="10 steps")).to_be_visible()
    hands.do("Begin the ladder")
    expect(page.locator("[data-rung]")).to_have_count(10)
    all_saved(hands)
    the_symptom(hands)
    hands.do("Ladder")
    the_rungs(hands, picture)


def the_symptom(hands: Keyboard) -> None:
    hands.to("Symptom", back=True)
    hands.press("Enter")
    expect(hands.page.get_by_role("heading", name="Suspected causes")).to_be_visible()
    hands.do("add a sign")
    hands.write("^the message", "BARRIER {lane} NO LIFT")
    hands.write("how the original action is tried again", "Ask for one car to drive up")
    hands.choose("where it sits", "settings")
    hands.write("how common", "3")
    hands.choose("where it sits", "software")
    hands.to("how common")
    hands.to("where it sits")  # hardware, as it is
    hands.choose("where it sits", "wiring")
    hands.do("add a question")
    hands.write("question", "Model on the side plate")
    hands.write("where it is found", "Inside the door")
    hands.choose("the answer is", "one of a few")
    hands.write("one more answer", "GR4")
    hands.press("Enter")
    hands.page.keyboard.insert_text("GR6")
    hands.press("Enter")
    hands.to("share of GR4", back=True)
    hands.page.keyboard.press("Control+a")
    hands.page.keyboard.insert_text("60")
    hands.write("share of GR6", "40")
    hands.do("add a state")
    hands.write("state", "Side panel open")
    hands.write("minutes of work, of entering", "3")
    hands.choose("by, of entering", "a visit")
    hands.write("minutes of work, of leaving", "2")
    hands.choose("by, of leaving", "a visit")
    hands.do("add a team")
    hands.write("team", "Lane crew")
    hands.tick("takes what the ladder leaves")
    hands.write("minutes of work, of handing off", "20")
    all_saved(hands)
    is_told(hands)


def the_rungs(hands: Keyboard, picture: Path) -> None:
    page = hands.page
    hands.rung("Ask what changed")
    given(
        hands,
        {"Settings are off": "90", "every other cause": "20"},
        {"Settings are off": "10", "every other cause": "80"},
    )
    hands.rung("Clear the hold setting")
    hands.press("n")
    page.keyboard.insert_text("The commonest cause")
    hands.do("^Fine print")
    hands.do("add a value")
    hands.write("asked, or called", "Lane number")
    hands.rung("Clear the hold setting")
    hands.do("add a thing to do")
    page.keyboard.insert_text("Open the page of lane {Lane number}")
    hands.do("^1: command, hold")
    hands.file("^picture of item 1", str(picture))
    expect(page.get_by_role("img", name="picture of item 1")).to_be_visible()
    hands.to("What to do, 1", back=True)
    hands.press("Enter")
    page.keyboard.insert_text("Run it")
    hands.do("^2: command, hold")
    hands.write("command to copy", "lanectl hold {Lane number} off")
    hands.rung("Restart the lane unit")
    hands.press("w")
    page.keyboard.type("mod")
    hands.press("ArrowDown")
    hands.press("Enter")
    page.keyboard.type("is GR4")
    expect(page.get_by_text("only when Model on the side plate is GR4: 60 % of units")).to_be_visible()
    hands.rung("Wipe the home sensor")
    hands.press("r")
    expect(page.get_by_role("dialog", name="Into a side rail")).to_be_visible()
    hands.do("Reads blocked")
    expect(page.get_by_role("list", name="Side rails of Read the home sensor")).to_be_visible()
    hands.rung("Wipe the home sensor")
    hands.choose("done in the state", "Side panel open")
    hands.choose("can be tested", "after leaving the state")
    hands.do("^By unit")
    hands.do("add a sort of unit")
    page.keyboard.type('"Model on the side plate" is GR6')
    hands.do("effort there")
    hands.write("minutes of work, there", "9")
    hands.write("journey, there", "20")
    hands.choose("by, there", "a visit")
    hands.rung("Read the home sensor")
    given(
        hands,
        {"Sensor is blocked": "95", "every other cause": "5"},
        {"Sensor is blocked": "5", "every other cause": "95"},
    )
    hands.rung("Find the bad lead")
    hands.do("it searches through several like things")
    hands.write("searched through", "leads")
    hands.write("how many there are", "8")
    hands.choose("how it is searched", "by halves")
    hands.write("minutes of work, each time", "3")
    hands.choose("by, each time", "a visit")
    hands.rung("Push the leads home")
    hands.press("m")
    hands.rung("Turn the arm stop")
    hands.press("m")
    hands.to("Test them together", back=True)
    hands.press("Enter")
    hands.rung("Load the program again")
    hands.choose("eased by", "Save the counts")
    hands.write("eased to", "5")
    hands.write("normal use before it is judged", "4 h")
    all_saved(hands)
    is_told(hands)
    assert "“Wipe the home sensor” put into a side rail" in hands.heard()


# Controls that a screen reader would call nothing.
_NAMELESS = """() => [...document.querySelectorAll("a, button, input, textarea, select, summary, [role=slider]")]
  .filter((one) => one.getClientRects().length > 0 && one.type !== "hidden")
  .filter((one) => !(one.getAttribute("aria-label") || one.labels?.[0]?.innerText || one.innerText
    || one.title || document.getElementById(one.getAttribute("aria-labelledby"))?.innerText || "").trim())
  .map((one) => one.outerHTML.slice(0, 160))"""


def is_told(hands: Keyboard) -> None:
    """Every control has a name, and axe finds nothing serious."""
    assert hands.page.evaluate(_NAMELESS) == []
    assert serious(hands.page) == []


def all_saved(hands: Keyboard) -> None:
    """Over a slow line what waits goes one after the other."""
    status = hands.page.get_by_role("status").filter(has_text=re.compile("^saved "))
    expect(status).to_be_visible(timeout=240_000)


def given(hands: Keyboard, *findings: dict[str, str]) -> None:
    """How often each finding is met with which causes."""
    for finding in findings:
        hands.to("what is found")
        for cause, share in finding.items():
            hands.write(f"how often with {cause}", share)


@pytest.mark.parametrize(("sort", "delay_ms"), WAYS)
def test_a_playbook_of_ten_rungs_is_built_and_equals_the_file(desk: Served, context, picture, sort, delay_ms):
    page = context.new_page()
    page.goto(desk.address)
    hands = sort(page)
    hands.write("Your name", "N. Oake")
    page.keyboard.press("Enter")
    expect(page.get_by_role("banner").get_by_role("button", name="N. Oake, lead")).to_be_visible()
    if delay_ms:
        context.new_cdp_session(page).send(
            "Network.emulateNetworkConditions",
            {"offline": False, "latency": delay_ms, "downloadThroughput": -1, "uploadThroughput": -1},
        )
    build(hands, picture)
    made = without_names_of_groups(to_document(page, "lane-barrier-stays-down"))
    assert unlike(made, without_names_of_groups(by_hand(picture))) == []
    hands.to("^Publish edition 1", back=True)
    hands.press("Enter")
    hands.write("What changed, and why", "Begun")
    hands.do("^Publish")
    expect(page.get_by_role("button", name="Edition 1 is out")).to_be_visible()
    assert hands.heard()[-1] == "Edition 1 is published"
    once = [said for said in hands.heard() if said.endswith("put into a side rail")]
    assert len(once) == len(set(once)) == 1
    hands.is_clean()


EIGHT = [
    "Put the settings back, 1 min caller, service mild rarely, ends Settings are off often, do Ask for the setting card",
    "Clear the hold, 2 min, service mild rarely, ends Settings are off usually, do Open the lane page / Press clear",
    "Restart the unit, caller 1 + 6 wait, service mild, ends Program is upset often, do Press the key for ten seconds",
    "Push the leads home, 4 min caller, equipment mild rarely, ends A lead is loose often, do Push each lead until it clicks",
    "Wipe the sensor, 4 min visit, equipment mild rarely, ends Sensor is blocked usually, do Wipe it with a dry cloth",
    "Save the counts, safeguard, 1 min, do Press save on the lane page",
    "Load the program again, 3 + 8 wait, service mild, ends Program is upset nearly always, do Choose load / Wait for ready",
    "Swap the drive, 25 min visit, parts 180, equipment mild rarely, ends Drive is worn nearly always, do Unscrew it / Swap it",
]


def test_a_useful_draft_of_eight_steps_takes_few_deeds_with_quick_words(desk: Served, context):
    page = context.new_page()
    page.goto(desk.address)
    hands = Keyboard(page)
    hands.write("Your name", "N. Oake")
    hands.press("Enter")
    hands.do("New symptom")
    hands.write("Title", "Lane barrier stays down")
    hands.write("What callers say", "The barrier stays down and cars wait")
    hands.write("Who takes what the ladder leaves", "Lane crew")
    hands.write("^Steps in quick words", "\n".join(EIGHT))
    expect(page.get_by_role("status").filter(has_text="8 steps")).to_be_visible()
    hands.do("Begin the ladder")
    expect(page.locator("[data-rung]")).to_have_count(8)
    all_saved(hands)
    review = page.get_by_role("region", name="Review").get_by_role("status")
    expect(review).to_have_text(re.compile(r"hint|nothing to say|warning|blocker"))
    assert "warning" not in review.inner_text()
    assert "blocker" not in review.inner_text()
    assert hands.deeds <= 25
    steps = to_document(page, "lane-barrier-stays-down")["steps"]
    assert all(step["effort"] and step["do"] for step in steps)
