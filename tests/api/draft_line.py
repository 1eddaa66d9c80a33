"""Three pages of three people on one draft over a line that loses, doubles and delays, for the suite and the soak."""

import random
from collections import deque
from typing import Any

from flask.testing import FlaskClient

from mildladder.core.draft.apply import apply, replayed
from mildladder.core.draft.tree import Item, alike
from tests.core.draft.scribbles import Scribbler
from tests.core.draft.test_apply import held, texts_of, typed_in

DRAFT = "/api/playbooks/gate-arm-up/draft"


class LinePage:
    """A page as the browser's is: what is confirmed, what waits, and what both come to."""

    def __init__(self, browser: FlaskClient, rng: random.Random, name: str, who: int) -> None:
        self.browser, self.rng, self.who = browser, rng, who
        self.scribbler = Scribbler(rng, name, who)
        self.client, self.number = name, 0
        self.queue: deque[dict[str, Any]] = deque()
        self.old: list[dict[str, Any]] = []
        self.loads = 0
        self.load()

    def load(self) -> None:
        """Read the draft; a page that is loaded anew is a new client, and takes up what the one before left."""
        clients = ",".join(dict.fromkeys(one["client"] for one in self.queue))
        read = self.browser.get(f"{DRAFT}?clients={clients}").json
        for client, following in read["next"].items():
            self.queue = deque(one for one in self.queue if one["client"] != client or one["number"] >= following)
        self.root: Item = read["form"]
        self.revision: int = read["revision"]

    def reload(self) -> None:
        """The page goes, and comes again."""
        self.loads += 1
        self.client, self.number = f"{self.scribbler.client}r{self.loads}", 0
        self.load()

    @property
    def shown(self) -> Item:
        """What the person sees."""
        root = self.root
        for one in self.queue:
            root = apply(
                root, one["operations"], self.scribbler.stamp(one["number"])._replace(client=one["client"])
            ).root
        return root

    def edit(self) -> list[dict[str, Any]]:
        """Something by chance; what it is made of."""
        operations = self.scribbler.operations(self.shown)
        if operations:
            self.number += 1
            self.queue.append(
                {
                    "client": self.client,
                    "number": self.number,
                    "group": f"{self.client}-{self.number}",
                    "operations": operations,
                }
            )
        return operations

    def send(self) -> None:
        """Send what waits first, over a line that is not to be trusted."""
        if not self.queue:
            return
        body = {**self.queue[0], "base": self.revision}
        self.old.append(body)
        chance = self.rng.random()
        if chance < 0.15:
            return
        answer = self._post(body)
        if chance < 0.3:
            return
        if chance < 0.4:
            answer = self._post(body)
        if chance < 0.5:
            self._post(self.rng.choice(self.old))
        self.hear(answer, body["client"])

    def _post(self, body: dict[str, Any]) -> dict[str, Any]:
        answer = self.browser.post(f"{DRAFT}/edits", json=body)
        assert answer.status_code == 200, answer.json
        heard: dict[str, Any] = answer.json
        return heard

    def look(self) -> None:
        """Ask what others have done."""
        self.hear(self.browser.get(f"{DRAFT}/edits?base={self.revision}&client={self.client}").json, self.client)

    def hear(self, answer: dict[str, Any], client: str) -> None:
        """Do what follows on what is confirmed; strike what was taken."""
        if answer["form"] is not None and answer["revision"] >= self.revision:
            self.root, self.revision = answer["form"], answer["revision"]
        for edit in answer["since"]:
            if edit["revision"] != self.revision + 1:
                continue
            self.root = replayed(self.root, edit["done"]) if edit["done"] else self._mine(edit)
            self.revision = edit["revision"]
        self.queue = deque(one for one in self.queue if one["client"] != client or one["number"] >= answer["next"])

    def _mine(self, edit: dict[str, Any]) -> Item:
        mine = next(one for one in self.queue if (one["client"], one["number"]) == (edit["client"], edit["sent"]))
        stamp = self.scribbler.stamp(mine["number"])._replace(client=mine["client"])
        return apply(self.root, mine["operations"], stamp).root


def simulate(browsers: list[tuple[FlaskClient, int]], seed: int, edits: int) -> list[str]:
    """What went wrong after so many edits: nothing, when all ends alike and every text is held."""
    rng = random.Random(seed)
    pages = [LinePage(browser, rng, f"simpage{seed}x{n}", who) for n, (browser, who) in enumerate(browsers)]
    had: set[str] = set()
    came: set[str] = set()
    made = 0
    while made < edits:
        page = rng.choice(pages)
        deed = rng.choices([page.edit, page.send, page.look, page.reload], [5, 8, 2, 0.2])[0]
        operations = deed() or []
        made += bool(operations)
        had |= texts_of([one.get("was") for one in operations])
        came |= {text for one in operations for text in typed_in(one)}
    for page in pages:
        while page.queue:
            page.send()
    for page in pages:
        page.look()
    server = browsers[0][0].get(DRAFT).json
    wrong = [
        f"seed {seed}: page {n} shows another tree"
        for n, page in enumerate(pages)
        if not alike(page.root, server["form"])
    ]
    lost = sorted(came - had - held(server["form"]))
    return wrong + [f"seed {seed}: “{text}” is lost" for text in lost]
