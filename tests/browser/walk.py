"""A walk through the whole interface by chance: every route, button, key and dialog, over a line that is rough at times.

What edits a draft is left out. After each move the page must be sound; what a walk was told is acknowledged is looked
for in the desk afterwards.
"""

import random
import re
import time
from collections import defaultdict
from dataclasses import dataclass, field

from playwright.sync_api import Error, Page, Response

from tests.browser.conftest import Served, answer_with
from tests.browser.rough import Line

__all__ = ["Walk"]

ROUTES = (
    "/",
    "/cases",
    "/left-out",
    "/month",
    "/start",
    "/start?playbook=kiosk-faint-tickets",
    "/cases/OF-10002",
    "/nowhere",
    "/cases?words=gate",
    "/cases?end=resolved",
    "/climbs/00000000-0000-4000-8000-000000000000",
    *(
        f"/playbooks/{symptom}/{tab}"
        for symptom in ("gate-arm-up", "kiosk-faint-tickets", "lane-scale-wrong", "nothing")
        for tab in ("ladder", "evidence", "cases", "editions")
    ),
)
KEYS = (
    "1",
    "2",
    "3",
    "4",
    "9",
    "y",
    "n",
    "u",
    "c",
    "x",
    "t",
    "m",
    "p",
    "h",
    "s",
    "?",
    "/",
    "Escape",
    "Escape",
    "Enter",
    "Tab",
    "Tab",
    "Shift+Tab",
    "ArrowDown",
    "ArrowUp",
    "Space",
    "Control+Enter",
)
WORDS = ("gate", "ARM 3 NOT HOME", "it will not print at all", "3", "4.2", "Ä ö ß", "K2-1043", "<b>x</b>")
# What edits a draft has its own walk; what leads out of the page is not walked.
NOT_WALKED = re.compile(
    r"^(Undo|Redo|Publish|Move |Take|Make it|Edition|Leave it|Load again|Put it into|to \d)|Use |Mend|Order|order|quick|mild"
)
# What must come to hold after each move, each by itself.
SOUND = {
    "nothing is shown": "() => document.getElementById('root')?.innerText.length > 7",
    "nothing has the focus": "() => document.activeElement && document.activeElement !== document.body",
    "the title is another page's": """() => {
      const places = {'/': 'Desk', '/month': 'The month', '/cases': 'Cases', '/left-out': 'Left out', '/start': 'Start a case'}
      const tab = location.pathname.match(/^\\/playbooks\\/[^/]+\\/(\\w+)$/)?.[1]
      const wanted = places[location.pathname] ?? (tab ? tab[0].toUpperCase() + tab.slice(1) : '')
      const isShown = document.querySelector('h1') && !document.querySelector('[aria-busy=true], [role=alert]')
      return document.title.endsWith('Mild Ladder') && (!isShown || document.title.startsWith(wanted)
        || document.title.startsWith('There is no such page'))
    }""",
}
LONGEST_MS = 5000
MOST_A_SECOND = 2
# Answers that the server still works out are asked for at a pace of their own until they are there.
WORKED_OUT = re.compile(r"/draft/(rungs|mends|curve|suggestions|learned)|/estimate[ ?]|/replay[ ?]|/first-ladders/")


@dataclass
class Walk:
    """A walker at one page. wrong: what was not as it must be, with the move after which it was seen."""

    page: Page
    desk: Served
    line: Line
    seed: int
    wrong: list[str] = field(default_factory=list)
    acknowledged: dict[str, int] = field(default_factory=dict)
    asked: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    is_counting: bool = True
    last: str = ""
    climb: str = ""

    def __post_init__(self) -> None:
        self.chance = random.Random(self.seed)
        self.page.on("console", lambda message: self._console(message.type, message.text))
        self.page.on("pageerror", lambda error: self.wrong.append(f"{self.last}: {error}"))
        self.page.on(
            "request", lambda request: self._asked(f"{request.method} {request.url} {request.post_data or ''}")
        )
        self.page.on("response", self._answered)

    def go(self, moves: int) -> None:
        """So many moves, and the line good at the end."""
        self._begin()
        for number in range(moves):
            self._move(number)
            self._look()
        self.line.restore()
        # Everything that was kept is sent now, and each answer that arrives asks for its case again.
        self.last, self.is_counting = "the end", False
        self.page.goto(self.desk.address + "/")
        self.page.wait_for_function(
            # A note that was refused stays until somebody has read why.
            "() => Object.keys(localStorage).every(name => !name.startsWith('mild-ladder-unsent')"
            " || JSON.parse(localStorage[name]).refused)"
        )
        self._look_up()

    def _begin(self) -> None:
        """A guided case whose first answer is taken on the good line: a rough walk may not bring another one through."""
        self.page.goto(f"{self.desk.address}/start?playbook=kiosk-faint-tickets")
        self.page.get_by_role("button", name="Begin").click()
        self.page.wait_for_url("**/climbs/*")
        # Started and answered within a second, the lists of cases are asked for after each.
        self.asked.clear()
        self.climb = self.page.url.removeprefix(self.desk.address)
        answer_with(self.page, "1")

    def _move(self, number: int) -> None:
        kind = self.chance.choices(
            ("route", "press", "key", "type", "back", "reload", "line"), (6, 30, 30, 12, 4, 3, 6)
        )[0]
        self.last = f"{number} {kind}"
        self.asked.clear()
        try:
            getattr(self, f"_{kind}")()
        except Error as error:
            # What was chosen may go away meanwhile; anything else is seen by looking at the page.
            self.last += f" ({str(error).splitlines()[0][:60]})"

    def _route(self) -> None:
        path = self.climb if self.chance.random() < 0.35 else self.chance.choice(ROUTES)
        self.last += f" {path}"
        self.page.goto(self.desk.address + path)

    def _press(self) -> None:
        within = (
            self.page.locator("[role=dialog]")
            if self.page.locator("[role=dialog]").count()
            else self.page.locator("#root")
        )
        found = within.locator(
            "button:visible:enabled, a[href^='/']:visible, select:visible, input[type=radio]:visible"
        ).all()
        if not found:
            return
        one = self.chance.choice(found)
        name = (one.inner_text(timeout=1000) or one.get_attribute("aria-label") or "").strip()
        if NOT_WALKED.search(name) or "/api/" in (one.get_attribute("href") or ""):
            return
        self.last += f" {name[:40]!r} at {self.page.url.split('/', 3)[3]}"
        if one.evaluate("one => one.tagName") == "SELECT":
            # It may have gone with what was answered meanwhile.
            if options := one.locator("option").count():
                one.select_option(index=self.chance.randrange(options), timeout=2000)
        elif self.chance.random() < 0.15:
            one.dblclick(timeout=2000)
            # The second press may fall beside what the first has taken away, and leave; Tab comes in again.
            self._tab("Tab")
        else:
            one.click(timeout=2000)

    def _key(self) -> None:
        key = self.chance.choice(KEYS)
        if key == "Control+Enter" and "/ladder" in self.page.url:
            return
        where = self.page.evaluate("() => document.activeElement.innerText?.trim().slice(0, 40) ?? ''")
        if key in ("Enter", "Space") and NOT_WALKED.search(where):
            return
        self.last += f" {key}"
        if "Tab" in key:
            self._tab(key)
            return
        for _ in range(self.chance.choice((1, 1, 1, 2, 6))):
            self.page.keyboard.press(key)

    def _tab(self, key: str) -> None:
        """At its end Tab leaves the page; once more comes in again."""
        self.page.keyboard.press(key)
        if not self.page.evaluate("() => document.activeElement !== document.body"):
            self.page.keyboard.press(key)

    def _type(self) -> None:
        field_found = self.page.locator("input:not([type=radio]):visible, textarea:visible").all()
        field_found = [
            one for one in field_found if "/ladder" not in self.page.url or one.get_attribute("role") == "combobox"
        ]
        if field_found:
            self.chance.choice(field_found).fill(self.chance.choice(WORDS), timeout=2000)

    def _back(self) -> None:
        self.page.go_back(timeout=5000)
        if not self.page.url.startswith(self.desk.address):
            self.page.go_forward(timeout=5000)

    def _reload(self) -> None:
        self.page.reload()

    def _line(self) -> None:
        self.line.restore()
        self.line.way = self.chance.choice(("good", "good", "cut", "failing", "locked", "unheard"))
        self.line.is_all = self.chance.random() < 0.2
        self.last += f" {self.line.way}"

    def _look(self) -> None:
        """The page is sound: it shows something, says where it is, and the keyboard is somewhere."""
        if not self.page.url.startswith(self.desk.address):
            return
        for says, holds in SOUND.items():
            try:
                self.page.wait_for_function(holds, timeout=LONGEST_MS)
            except Error:
                self.wrong.append(f"{self.last}: {says}: {self.page.title()!r} at {self.page.url}")

    def _console(self, kind: str, text: str) -> None:
        is_of_the_line = "Failed to load resource" in text or "net::ERR" in text
        if kind == "error" and not is_of_the_line:
            self.wrong.append(f"{self.last}: console: {text[:300]}")

    def _asked(self, what: str) -> None:
        if not self.is_counting or "/api/" not in what or WORKED_OUT.search(what):
            return
        times = self.asked[what]
        times.append(time.monotonic())
        recent = [at for at in times if times[-1] - at < 1]
        self.asked[what] = recent
        if len(recent) > MOST_A_SECOND:
            self.wrong.append(f"{self.last}: asked {len(recent)} times in a second: {what}")

    def _answered(self, response: Response) -> None:
        # What is asked for again after something was changed is no repetition.
        if response.request.method != "GET" and response.ok:
            self.asked.clear()
        found = re.search(r"/climbs/([0-9a-f-]+)/moves$", response.url)
        if not found or response.status != 200:
            return
        try:
            number = re.search(rb'"number":\s*(\d+)', response.body())
        except Error:
            # The page was left before it was read: nobody was told.
            return
        if number:
            self.acknowledged[found[1]] = max(self.acknowledged.get(found[1], 0), int(number[1]))

    def _look_up(self) -> None:
        """Nothing that was acknowledged is missing from the desk."""
        for climb, number in list(self.acknowledged.items()):
            there = self.page.request.get(f"{self.desk.address}/api/climbs/{climb}").json()["number"]
            if there < number:
                self.wrong.append(f"{climb} is at {there}, and {number} was acknowledged")
