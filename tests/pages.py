"""A page that edits a draft over HTTP, as the browser's does, for tests of all that a draft is changed by."""

from itertools import count
from typing import Any

from flask.testing import FlaskClient

from mildladder.core.draft.tree import Item, Tree

ID = "gate-arm-up"


class Page:
    """One page of whoever sits at the client. Every edit is a group of its own unless that is said."""

    _names = count(1)

    def __init__(self, client: FlaskClient, playbook_id: str = ID) -> None:
        self.client, self.path = client, f"/api/playbooks/{playbook_id}"
        self.name = f"testpage{next(Page._names)}"
        self.number = 0

    def draft(self) -> Any:
        """The draft in working form, as it is answered."""
        return self.client.get(f"{self.path}/draft").json

    @property
    def tree(self) -> Tree:
        """The working form."""
        return Tree(self.draft()["form"])

    def figures(self) -> Any:
        """The figures of the draft."""
        return self.client.get(f"{self.path}/draft/figures").json

    def rungs(self) -> list[str]:
        """Steps of the main line in sight, in order."""
        return [rung["step"] for rung in self.tree.root["ladder"] if self.tree.is_shown(rung["key"])]

    def rung(self, index: int) -> Item:
        """A rung of the main line."""
        found: Item = [one for one in self.tree.root["ladder"] if not one.get("out")][index]
        return found

    def send(self, **what: Any) -> Any:
        """The answer to one edit: operations, undo or deed; base, number and group where they are not the next."""
        self.number = what.get("number", self.number + 1)
        body = {
            "client": self.name,
            "number": self.number,
            "base": what.get("base", self.draft()["revision"]),
            "group": what.get("group", f"{self.name}-{self.number}"),
        } | {name: what[name] for name in ("operations", "undo", "deed") if name in what}
        return self.client.post(f"{self.path}/draft/edits", json=body)

    def move(self, index: int, target: int) -> Any:
        """Move a rung of the main line."""
        rungs = [one["key"] for one in self.tree.root["ladder"] if not one.get("out")]
        key = rungs.pop(index)
        operation = {
            "op": "move",
            "key": key,
            "was": self.tree.items[key].get("put"),
            "parent": "playbook",
            "list": ["ladder"],
            "after": rungs[target - 1] if target else None,
            "before": None,
            "put": f"{self.name}p{self.number}",
        }
        return self.send(operations=[operation])

    def type(self, key: str, path: list[str], value: Any, **more: Any) -> Any:
        """Give a field a value, having seen what is there."""
        was = more.pop("was", self.tree.value(key, tuple(path)))
        return self.send(operations=[{"op": "set", "key": key, "path": path, "was": was, "value": value}], **more)

    def undo(self) -> Any:
        """Undo one's own last group."""
        return self.send(undo=self.draft()["undo"]["group"])

    def redo(self) -> Any:
        """Redo what was undone."""
        return self.send(undo=self.draft()["redo"]["group"])
