"""Eight playbooks guided from start to log and hand-off by keyboard alone, each for a thing that playbooks can say."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from mildladder.core.model import Case
from mildladder.desk.log.pages import case_view
from mildladder.desk.people import add_person
from mildladder.desk.publishing.files import import_playbook
from mildladder.exchange.playbook_file import read_playbook
from mildladder.store.database import Database
from tests.browser.conftest import Served, new_context, served, sit_down
from tests.conftest import LEAD, LEAD_ID
from tests.samples import NOON

HERE = Path(__file__).parent


@pytest.fixture(scope="module")
def desk(tmp_path_factory) -> Iterator[Served]:
    """A desk that has these playbooks and nothing else."""
    path = tmp_path_factory.mktemp("eight") / "desk.db"
    database = Database(path)
    with database.writing() as session:
        assert add_person(session, LEAD, "lead", None, NOON).id == LEAD_ID
        for file in sorted(HERE.glob("*.yaml")):
            import_playbook(session, read_playbook(file.read_bytes()), LEAD_ID, NOON, None, "First")
    database.close()
    with served("serve", database=path) as here:
        yield here


class Agent:
    """Somebody who helps callers with nothing but the keyboard; presses: how often a key was needed, texts apart."""

    def __init__(self, page: Page, desk: Served) -> None:
        self.page, self.desk, self.presses = page, desk, 0

    @property
    def heading(self):
        return self.page.get_by_role("heading", level=1)

    def press(self, *keys: str) -> None:
        """Press these keys, each once the answer before it was taken."""
        for key in keys:
            expect(self.page.locator("[aria-busy=true]")).to_have_count(0)
            self.page.keyboard.press(key)
            self.presses += 1

    def at(self, title: str) -> None:
        """See that this is what is to be done now."""
        expect(self.heading).to_have_text(title)

    def answer(self, key: str, then: str) -> None:
        self.press(key)
        self.at(then)

    def fill(self, text: str) -> None:
        """Type into the field that has the cursor, and take it."""
        expect(self.page.locator("[data-asked]")).to_be_focused()
        self.page.keyboard.type(text)
        self.press("Enter")

    def start(self, playbook: str, said: str) -> None:
        """Begin a case of that symptom; the fault is there."""
        self.page.goto(f"{self.desk.address}/start?playbook={playbook}")
        expect(self.page.get_by_role("radio", checked=True)).to_be_attached()
        expect(self.page.get_by_label("What does the caller say?")).to_be_focused()
        self.page.keyboard.type(said)
        self.press("Control+Enter")
        self.at("Is the fault there now?")

    def hand_off(self) -> str:
        return self.page.get_by_role("region", name="Now", exact=True).get_by_role("textbox").input_value()

    def logged(self) -> Case:
        """The case as the log has it."""
        name = self.page.get_by_role("region", name="Now", exact=True).get_by_role("link", name="G-").inner_text()
        other = Database(self.desk.database)
        with other.reading() as session:
            found = case_view(session, name).case
        other.close()
        return found


@pytest.fixture
def agent(browser, desk) -> Iterator[Agent]:
    with new_context(browser) as context:
        yield Agent(sit_down(context, desk), desk)


def test_a_trap_is_set_and_read_once_it_has_caught_something(agent: Agent):
    agent.start("scale-drifts", "the same van, two weights")
    agent.answer("1", "How often does it happen?")
    agent.fill("2 h")
    agent.at("Record every weighing")
    agent.answer("1", "Being watched in normal use")
    agent.answer("1", "Set the plate heater to night hours")
    agent.answer("1", "Fixed. How is that known?")
    agent.answer("2", "Resolved")
    case = agent.logged()
    assert [(one.step, one.finding) for one in case.attempts] == [("record", "jumps"), ("heater-off", None)]
    assert case.resolved_by == "heater-off"
    assert agent.presses <= 8


def test_cards_are_changed_in_a_state_that_is_left_for_every_try(agent: Agent):
    agent.start("kiosk-swallows", "keeps the money")
    agent.answer("1", "Change its cards one by one")
    for _ in range(2):
        expect(agent.page.get_by_role("region", name="Now", exact=True)).to_contain_text("First: Kiosk door open")
        agent.answer("1", "Leave: Kiosk door open")
        agent.answer("1", "Try the original action again")
        if _ == 0:
            agent.answer("2", "Change its cards one by one")
    agent.answer("1", "Send card 2 to the workshop")
    agent.answer("1", "Fixed. How is that known?")
    agent.answer("1", "Resolved")
    case = agent.logged()
    assert ([one.step for one in case.attempts], case.values["dead-card"]) == (["swap-cards"], "2")
    assert "number 2 of 3 cards" in agent.hand_off()
    assert agent.presses <= 11


def test_a_sign_that_can_be_seen_moves_what_is_likely(agent: Agent):
    agent.start("board-flickers", "it blinks")
    likely = agent.page.get_by_role("complementary", name="Known of the case").get_by_role("listitem")
    expect(likely.first).to_contain_text("Brightness follows the dusk sensor")
    agent.page.get_by_role("group", name="it blinks when a ship's radio speaks").get_by_role("button").first.focus()
    agent.press("Enter")
    expect(likely.first).to_contain_text("A radio beside the cable")
    agent.answer("1", "Set a fixed brightness")
    agent.answer("2", "Put back: Set a fixed brightness")
    expect(agent.page.get_by_role("region", name="Now", exact=True)).to_contain_text("Set it to follow the sensor")
    agent.answer("1", "Lay the cable away from the mast")
    agent.answer("1", "Fixed. How is that known?")
    agent.answer("1", "Resolved")
    assert agent.logged().signs == {"it blinks when a ship's radio speaks": "yes"}


def test_what_a_step_undid_is_done_again(agent: Agent):
    agent.start("label-shift", "a line too low")
    agent.answer("1", "Teach it where a label begins")
    agent.answer("2", "Write down the printer's names")
    agent.answer("1", "Load the settings it came with")
    now = agent.page.get_by_role("region", name="Now", exact=True)
    expect(now).to_contain_text("much of what is stored is lost for good")
    agent.press("y")
    agent.answer("2", "Teach it where a label begins")
    agent.answer("1", "Fixed. How is that known?")
    agent.answer("1", "Resolved")
    case = agent.logged()
    steps = ["top-edge", "keep-names", "first-settings", "top-edge"]
    assert ([one.step for one in case.attempts], case.resolved_by) == (steps, "top-edge")


def test_a_state_without_network_says_what_is_not_there_and_is_left_before_the_test(agent: Agent):
    agent.start("gate-deaf", "passes do nothing")
    agent.answer("1", "Model on the side plate")
    agent.answer("2", "Give it its own address")
    now = agent.page.get_by_role("region", name="Now", exact=True)
    expect(now).to_contain_text("Is the bar dark?")
    agent.press("y")
    expect(now).to_contain_text("Not there until it is left: lane page, desk console")
    expect(now).to_contain_text("The bar turns steady")
    agent.answer("1", "Leave: Lane network off")
    agent.answer("1", "Try the original action again")
    agent.answer("2", "Hand the case off")
    assert "Give it its own address: no change" in agent.hand_off()
    agent.answer("1", "Handed off")
    assert agent.logged().end == "handed-off"


def test_a_value_is_tuned_until_it_suits(agent: Agent):
    agent.start("reader-misses", "three times")
    agent.answer("1", "Set the reading strength")
    for value, key in (("3", "5"), ("5", "5"), ("6", "1")):
        expect(agent.page.get_by_label("Which strength is tried?")).to_be_focused()
        agent.fill(value)
        expect(agent.page.get_by_text(f"choose {value}", exact=False)).to_be_visible()
        agent.press(key)
    agent.at("Fixed. How is that known?")
    agent.answer("1", "Resolved")
    (attempt,) = agent.logged().attempts
    assert [one["strength"] for one in attempt.tried_with] == ["3", "5", "6"]
    assert "with 3, then 5, then 6" in agent.hand_off()


def test_an_hours_scan_runs_while_two_other_callers_are_helped(agent: Agent):
    agent.start("tablet-slow", "the list takes minutes")
    agent.answer("1", "Look through its whole store")
    agent.press("1")
    expect(agent.page.get_by_text("It runs by itself for about 58 min")).to_be_visible()
    scanning = agent.page.url
    agent.press("p")
    expect(agent.page.get_by_role("radio", name="The step runs by itself meanwhile")).to_be_checked()
    agent.answer("Enter", "Running by itself")
    for playbook, then in (
        ("label-shift", "Teach it where a label begins"),
        ("board-flickers", "Set a fixed brightness"),
    ):
        agent.start(playbook, "another caller")
        agent.answer("1", then)
        agent.press("h")
        agent.page.get_by_role("dialog").get_by_role("button", name="The caller has gone").press("Enter")
        agent.at("Abandoned")
    agent.page.goto(agent.desk.address)
    expect(agent.page.get_by_role("region", name="Being guided now")).to_contain_text("Running by itself: 0 of 58 min")
    # An hour on, whatever page is looked at.
    agent.page.clock.install()
    agent.page.clock.fast_forward("01:00:00")
    told = agent.page.get_by_text("“Look through its whole store” should be done by now")
    expect(told).to_be_visible()
    agent.page.get_by_role("link", name="Go on with it").press("Enter")
    expect(agent.page).to_have_url(scanning)
    agent.answer("1", "Let it mend the bad places")
    agent.answer("1", "Fixed. How is that known?")
    agent.answer("1", "Resolved")
    case = agent.logged()
    assert ([one.step for one in case.attempts], case.waited) == (["scan", "mend"], None)


def test_another_playbook_is_entered_part_way(agent: Agent):
    agent.start("ticket-torn", "torn")
    agent.answer("1", "Look at the torn edge")
    agent.answer("2", "The case goes on in another playbook")
    agent.answer("1", "Sent on")
    assert agent.logged().sent_on == "paper-path"
    agent.page.get_by_role("button", name="Go on in", exact=False).press("Enter")
    agent.at("Is the fault there now?")
    agent.answer("1", "Note the ticket counter")
    path = agent.page.get_by_role("region", name="The path so far")
    expect(path).to_contain_text("the ladder was entered further down")
    agent.answer("1", "Straighten the guide plate")
    agent.answer("1", "Fixed. How is that known?")
    agent.answer("1", "Resolved")
    case = agent.logged()
    assert [one.step for one in case.attempts] == ["note-counter", "guide-plate"]
    assert [(one.step, one.why) for one in case.passed] == [("seat-roll", "the ladder was entered further down")]
