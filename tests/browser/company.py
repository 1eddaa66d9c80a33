"""Three windows of two people at one desk, who write by chance into drafts and guided cases over a line that is rough.

Each text that is written is one of a kind, so that it can be looked for in the desk afterwards: it must be there once, in
the place where it was written, as the writing of whoever sat there.
"""

import json
import random
import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

from playwright.sync_api import Browser, Error, Page, expect
from sqlalchemy import select
from sqlalchemy.orm import Session

from mildladder.store.database import Database
from mildladder.store.tables import ClimbEventRow, PersonRow, RevisionRow
from tests.browser.conftest import LEAD, Served, answer_with, new_context, saved, sit_down
from tests.browser.rough import Line, rough_line

__all__ = ["AGENT", "BLOCKED", "Company", "company"]

AGENT = "I. Vell"
PLAYBOOKS = ("kiosk-faint-tickets", "counter-no-labels", "pass-already-aboard")
BLOCKED = """
for (const name of ["localStorage", "sessionStorage", "indexedDB"])
  Object.defineProperty(window, name, { get() { throw new DOMException("The operation is insecure.", "SecurityError") } });
"""
WHO = re.compile("(lead|agent|technician)$")
WAYS = ("good", "good", "cut", "failing", "locked", "unheard", "held")
TEXT = re.compile("text-[0-9]+-[0-9]+-end")
NEVER_SENT = "() => Object.keys(localStorage).every((name) => !name.startsWith('mild-ladder-unsent'))"


@dataclass(frozen=True)
class Text:
    """What somebody wrote. place: the key of the rung, or the case, that it was written for."""

    who: str
    place: str


@dataclass
class Window:
    """One page. climb: its guided case; keeps: whether its browser keeps anything."""

    page: Page
    line: Line
    keeps: bool
    climb: str = ""


@dataclass
class Company:
    """The windows, what was written in them, and what was found wrong with the move after which it was seen."""

    desk: Served
    windows: list[Window]
    seed: int
    written: dict[str, Text] = field(default_factory=dict)
    wrong: list[str] = field(default_factory=list)
    last: str = ""

    def __post_init__(self) -> None:
        self.chance = random.Random(self.seed)
        for window in self.windows:
            window.page.on("pageerror", lambda error: self.wrong.append(f"{self.last}: {error}"))

    def go(self, moves: int) -> None:
        """So many moves; then everything is sent, and looked for."""
        for window in self.windows:
            self._begin(window)
        for number in range(moves):
            self._move(number)
        self.last = "the end"
        self._send_everything()
        self._look_up()

    def _begin(self, window: Window) -> None:
        page = window.page
        page.goto(f"{self.desk.address}/start?playbook=kiosk-faint-tickets")
        page.get_by_role("button", name="Begin").click()
        page.wait_for_url("**/climbs/*")
        window.climb = page.url.rsplit("/", 1)[1]
        answer_with(page, "1")

    def _move(self, number: int) -> None:
        window = self.chance.choice(self.windows)
        kinds = {"ladder": 8, "reason": 30, "composed": 8, "rung": 12, "case": 6, "note": 14, "answer": 8, "undo": 3}
        if window.keeps:
            kinds |= {"line": 6, "reload": 3, "person": 4, "back": 2}
        (kind,) = self.chance.choices(list(kinds), list(kinds.values()))
        self.last = f"seed {self.seed}, move {number}, {kind} in window {self.windows.index(window)}"
        try:
            getattr(self, f"_{kind}")(window)
        except (Error, AssertionError) as error:
            # What a move needs may not be there just now; what must hold is looked for at the end.
            self.last += f" ({str(error).splitlines()[0][:60]})"

    def _ladder(self, window: Window) -> None:
        self._settle(window)
        window.page.goto(f"{self.desk.address}/playbooks/{self.chance.choice(PLAYBOOKS)}/ladder")

    def _case(self, window: Window) -> None:
        self._settle(window)
        window.page.goto(f"{self.desk.address}/climbs/{window.climb}")

    def _settle(self, window: Window) -> None:
        """A browser that keeps nothing loses with its page what is not sent yet: nobody leaves it before."""
        if not window.keeps and "/ladder" in window.page.url:
            saved(window.page)

    def _reason(self, window: Window) -> None:
        self._write(window, lambda page, text: page.get_by_label("Why it stands here").fill(text, timeout=3000))

    def _composed(self, window: Window) -> None:
        """A text that an input method composes, ended by Enter."""

        def compose(page: Page, text: str) -> None:
            note = page.get_by_label("Why it stands here")
            note.fill("", timeout=3000)
            keys = page.context.new_cdp_session(page)
            keys.send("Input.imeSetComposition", {"text": "ロール", "selectionStart": 3, "selectionEnd": 3})
            keys.send("Input.insertText", {"text": text})
            keys.detach()

        self._write(window, compose)

    def _write(self, window: Window, how: Callable[[Page, str], None]) -> None:
        page = window.page
        if "/ladder" not in page.url:
            self._ladder(window)
        rung = self._choose(page)
        text = f"text-{self.seed}-{len(self.written)}-end"
        who = _who(page)
        how(page, text)
        # Only what stands in the field was written; whoever sat there throughout has written it.
        if page.get_by_label("Why it stands here").input_value(timeout=3000) == text and _who(page) == who:
            self.written[text] = Text(who, rung)
        # The field is left, so that the next text is another deed.
        page.locator("[data-rung][aria-current]").first.focus()

    def _choose(self, page: Page) -> str:
        rungs = page.locator("[data-rung]")
        expect(rungs.first).to_be_visible(timeout=20_000)
        one = rungs.nth(self.chance.randrange(rungs.count()))
        one.click(timeout=3000)
        return str(one.get_attribute("data-rung"))

    def _rung(self, window: Window) -> None:
        if "/ladder" in window.page.url:
            self._choose(window.page)
            for _ in range(self.chance.choice((1, 1, 3))):
                window.page.keyboard.press(self.chance.choice(("Alt+ArrowDown", "Alt+ArrowUp")))

    def _undo(self, window: Window) -> None:
        # An undone text has been written all the same; it is told by what was done, not by what stands.
        button = window.page.get_by_role("button", name="Redo" if self.chance.random() < 0.4 else "Undo")
        if "/ladder" in window.page.url and button.is_enabled():
            button.click(timeout=2000)

    def _note(self, window: Window) -> None:
        if "/climbs/" not in window.page.url:
            self._case(window)
        page = window.page
        expect(page.get_by_role("heading", level=1)).to_be_visible(timeout=20_000)
        text = f"text-{self.seed}-{len(self.written)}-end"
        who = _who(page)
        note = page.get_by_label("What the next person should know")
        note.fill(text, timeout=3000)
        if _who(page) == who:
            self.written[text] = Text(who, window.climb)
        note.press("Enter")

    def _answer(self, window: Window) -> None:
        if "/climbs/" in window.page.url:
            window.page.keyboard.press("Escape")
            window.page.keyboard.press(self.chance.choice(("1", "2", "u")))

    def _person(self, window: Window) -> None:
        self._sit(window, self.chance.choice((LEAD, AGENT)), 3000)

    def _sit(self, window: Window, name: str, patience: float = 60_000) -> None:
        page = window.page
        page.get_by_role("button", name=WHO).click(timeout=patience)
        page.get_by_role("menuitemradio", name=re.compile(f"^{re.escape(name)}")).click(timeout=patience)
        expect(page.get_by_role("button", name=re.compile(f"^{re.escape(name)}"))).to_be_visible(timeout=patience)

    def _line(self, window: Window) -> None:
        window.line.restore()
        window.line.way = self.chance.choice(WAYS)
        self.last += f" {window.line.way}"

    def _reload(self, window: Window) -> None:
        window.page.reload()

    def _back(self, window: Window) -> None:
        window.page.go_back(timeout=5000)
        if not window.page.url.startswith(self.desk.address):
            window.page.go_forward(timeout=5000)

    def _send_everything(self) -> None:
        """On a good line each person sits once at each browser, at each draft and at the cases, until all is sent."""
        for window in self.windows:
            window.line.restore()
        for window in self.windows:
            self._settle(window)
            window.page.goto(self.desk.address)
            for name in (LEAD, AGENT) if window.keeps else (None,):
                if name:
                    self._sit(window, name)
                for playbook in PLAYBOOKS:
                    self._settle(window)
                    window.page.goto(f"{self.desk.address}/playbooks/{playbook}/ladder")
                    saved(window.page)
                if window.keeps:
                    window.page.wait_for_function(NEVER_SENT)

    def _look_up(self) -> None:
        found: dict[str, list[Text]] = {text: [] for text in self.written}
        database = Database(self.desk.database)
        with database.reading() as session:
            names = {row.id: row.name for row in session.scalars(select(PersonRow))}
            for text, one in _found(session, names):
                found.setdefault(text, []).append(one)
        database.close()
        for text, there in found.items():
            if text not in self.written:
                # Written while somebody else sat down: whose it was is known to nobody.
                continue
            if there != [self.written[text]]:
                self.wrong.append(f"seed {self.seed}: {text} was written as {self.written[text]}, and is {there}")


def _found(session: Session, names: dict[int, str]) -> Iterator[tuple[str, Text]]:
    """Every text that the desk holds, once for each time that it was taken; undoing and redoing take nothing anew. What
    could not be put in is kept as a conflict, which goes on with what its person writes there next."""
    conflicts: dict[str, str] = {}
    for row in session.scalars(select(RevisionRow).where(RevisionRow.undoes.is_(None))):
        for done in json.loads(row.done):
            if done["op"] == "set" and TEXT.fullmatch(str(done["value"])):
                yield done["value"], Text(names[row.who], conflicts.get(done["key"], done["key"]))
            elif done["op"] == "insert" and done["list"] == ["conflicts"]:
                conflicts[done["item"]["key"]] = done["item"]["item"]
                if TEXT.fullmatch(str(done["item"].get("mine"))):
                    yield done["item"]["mine"], Text(names[row.who], done["item"]["item"])
    for event in session.scalars(select(ClimbEventRow)):
        if text := TEXT.search(json.dumps(event.event)):
            yield text[0], Text(names[event.who], event.climb_id)


def _who(page: Page) -> str:
    return page.get_by_role("button", name=WHO).inner_text(timeout=3000).split(",")[0]


@contextmanager
def company(browser: Browser, desk: Served, seed: int) -> Iterator[Company]:
    """Two windows of one browser at which the lead sits to begin with, and one of the agent's, which keeps nothing in
    every second company."""
    keeps = seed % 2 == 0
    with (
        new_context(browser) as one,
        new_context(browser) as other,
        rough_line(one) as rough,
        rough_line(other) as good,
    ):
        first = sit_down(one, desk)
        second = one.new_page()
        third = sit_down(other, desk, AGENT)
        if not keeps:
            third.add_init_script(BLOCKED)
        yield Company(desk, [Window(first, rough, True), Window(second, rough, True), Window(third, good, keeps)], seed)
