"""A useful draft made press by press, with not one quick word: counted, because that is how most leads begin."""

import re
from collections.abc import Iterator
from typing import NamedTuple

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, served

ID = "lane-barrier-stays-down"
CAUSES = ["Settings are off", "Program is upset", "A lead is loose", "Sensor is blocked", "Drive is worn"]


class Told(NamedTuple):
    """A step as somebody has it in mind: minutes, whose they are, what it ends and how often, what it may harm."""

    title: str
    minutes: str
    by: str
    ends: str
    chance: str
    harms: str
    do: str


DESK, CALLER, VISIT = "the desk", "the caller", "a visit"
STEPS = [
    Told("Put the settings back", "1", CALLER, CAUSES[0], "often", "service", "Ask for the setting card"),
    Told("Clear the hold", "2", DESK, CAUSES[0], "usually", "service", "Open the lane page"),
    Told("Restart the unit", "1 + 6 wait", DESK, CAUSES[1], "often", "service", "Press the key for ten seconds"),
    Told("Push the leads home", "4", CALLER, CAUSES[2], "often", "equipment", "Push each lead until it clicks"),
    Told("Save the counts", "1", DESK, "", "", "", "Press save on the lane page"),
    Told("Load the program again", "3 + 8 wait", DESK, CAUSES[1], "nearly always", "service", "Choose load"),
    Told("Wipe the sensor", "4", VISIT, CAUSES[3], "usually", "equipment", "Wipe it with a dry cloth"),
    Told("Swap the drive", "25", VISIT, CAUSES[4], "nearly always", "equipment", "Unscrew it and swap it"),
]


@pytest.fixture
def desk(tmp_path) -> Iterator[Served]:
    """A desk of its own, at which nobody has sat yet."""
    with served("serve", database=tmp_path / "desk.db") as made:
        yield made


class Counted:
    """A hand on the pointer and the other on the keys; what is typed as text costs nothing."""

    def __init__(self, page: Page) -> None:
        self.page, self.deeds = page, 0

    def press(self, role: str, name: str, within: str | None = None) -> None:
        """Press one thing."""
        place = self.page.get_by_label(within, exact=True).last if within else self.page
        place.get_by_role(role, name=name, exact=True).first.click()
        self.deeds += 1

    def write(self, label: str, text: str) -> None:
        """Press a field and type."""
        self.page.get_by_label(label, exact=True).last.click()
        self.page.keyboard.insert_text(text)
        self.deeds += 1

    def key(self, key: str) -> None:
        """One key that is no text."""
        self.page.keyboard.press(key)
        self.deeds += 1

    def unfold(self, section: str) -> None:
        """Open a folded section, unless it was opened on the rung before."""
        summary = self.page.locator("summary", has_text=section).first
        if summary.evaluate("one => one.parentElement.open"):
            return
        summary.click()
        self.deeds += 1

    def choose(self, label: str, option: str) -> None:
        """Open a choice, and take one."""
        self.page.get_by_label(label, exact=True).last.select_option(label=option)
        self.deeds += 2


def begin(hands: Counted) -> None:
    hands.press("link", "New symptom")
    hands.write("Title", "Lane barrier stays down")
    hands.write("What callers say", "The barrier stays down and cars wait")
    hands.write("Who takes what the ladder leaves", "Lane crew")
    hands.press("button", "Begin the ladder")


def name_causes(hands: Counted) -> None:
    hands.press("link", "Symptom")
    causes = hands.page.get_by_label("Suspected causes", exact=True)
    hands.write("cause", "")
    hands.key("Control+a")
    hands.page.keyboard.insert_text(CAUSES[0])
    for cause in CAUSES[1:]:
        hands.press("button", "add a cause")
        hands.page.keyboard.insert_text(cause)
    expect(causes.get_by_label("cause", exact=True)).to_have_count(len(CAUSES))
    hands.press("link", "Ladder")


def title_steps(hands: Counted) -> None:
    hands.page.get_by_label("New step at the foot of the ladder").click()
    hands.deeds += 1
    for step in STEPS:
        hands.page.keyboard.insert_text(step.title)
        hands.key("Enter")
    expect(hands.page.locator("[data-rung]")).to_have_count(len(STEPS))


def fill_in(hands: Counted, step: Told) -> None:
    hands.press("button", step.title)
    if not step.ends:
        hands.choose("kind", "safeguard")
    hands.write("minutes of work", step.minutes)
    if step.by != DESK:
        hands.choose("by", step.by)
    if step.harms:
        hands.unfold("Risk")
        hands.press("button", "add a risk")
        if step.harms != "service":
            hands.choose("what may be harmed", step.harms)
    if step.ends:
        hands.choose(f"ends {step.ends}", step.chance)
    hands.press("button", "add a thing to do")
    hands.page.keyboard.insert_text(step.do)


def test_a_useful_draft_of_eight_steps_takes_ninety_deeds_without_quick_words(desk: Served, context):
    page = context.new_page()
    page.goto(desk.address)
    page.get_by_label("Your name").fill("N. Oake")
    page.keyboard.press("Enter")
    hands = Counted(page)
    begin(hands)
    name_causes(hands)
    title_steps(hands)
    for step in STEPS:
        fill_in(hands, step)
    expect(page.get_by_role("status").filter(has_text=re.compile("^saved "))).to_be_visible(timeout=60_000)
    review = page.get_by_role("region", name="Review").get_by_role("status")
    expect(review).to_have_text(re.compile(r"hint|nothing to say|warning|blocker"))
    assert not re.search("warning|blocker", review.inner_text()), review.inner_text()
    answer = page.request.get(
        f"{desk.address}/api/playbooks/{ID}/file?of=draft", headers={"Accept": "application/json"}
    )
    made = answer.json()["steps"]
    assert [step["title"] for step in made] == [step.title for step in STEPS]
    assert [step["effort"]["hands_on"] for step in made] == [float(step.minutes.split()[0]) for step in STEPS]
    assert [step["effort"].get("wait") for step in made] == [None, None, 6, None, None, 8, None, None]
    assert all(step["do"] and (step["kind"] == "safeguard") != bool(step.get("fixes")) for step in made)
    assert hands.deeds <= 90
