"""Do an edit on a working form: what is done, the inverse of it, and what could not be done, kept as conflicts.

There is one rule: an operation is done when `was` is what is there. Otherwise it is not done, the rest of the edit is,
and the wish is kept. Operations are plain data here, for what is stored and sent is applied as it lies.
"""

from collections.abc import Callable, Iterable, Sequence
from typing import Any, NamedTuple

from mildladder.core.draft.shape import ROOT
from mildladder.core.draft.tree import Editor, Item, Path, Tree, Where, alike, items_in

__all__ = ["Applied", "Operation", "Stamp", "apply", "replayed"]

Operation = dict[str, Any]
# Why a wish was not done, or is done where nobody sees it.
CHANGED, MOVED, HIDDEN, RING, UNKNOWN, TAKEN_OUT = ("changed", "moved", "hidden", "ring", "unknown", "taken out")


class Stamp(NamedTuple):
    """Who sends an edit, by number, and when; `client` and `number` name it."""

    client: str
    number: int
    who: int
    at: str


class Applied(NamedTuple):
    """tree: the new one; root: of it. done: what was done, to be replayed without checks; inverse: what undoes that, in
    order. conflicts: keys of those that it opened or renewed."""

    root: Item
    tree: Tree
    done: list[Operation]
    inverse: list[Operation]
    conflicts: tuple[str, ...]


def apply(
    root: Item | Tree,
    operations: Sequence[Operation],
    stamp: Stamp,
    is_undo: bool = False,
    changed_by: Callable[[str], int | None] = lambda _: None,
) -> Applied:
    """Do the operations, in order. changed_by: who changed an item last, for the conflicts. Never raises for what the
    tree has come to hold."""
    edit = _Edit(root, stamp, is_undo, changed_by)
    if is_undo:
        edit.coming_back = {operation["key"] for operation in operations if operation["op"] == "restore"}
    for index, operation in enumerate(operations):
        edit.do(index, operation)
    return Applied(edit.tree.root, edit.tree, edit.done, list(reversed(edit.inverse)), tuple(edit.conflicts))


def replayed(root: Item, done: Iterable[Operation]) -> Item:
    """The tree after what was done, which is not checked."""
    tree = Editor(root)
    for one in done:
        match one["op"]:
            case "set":
                tree.set(one["key"], tuple(one["path"]), one.get("value"))
            case "insert":
                tree.insert(_where(one), one["item"])
            case "move":
                tree.move(one["key"], _where(one), one["put"])
            case "remove":
                tree.set_hidden(one["key"], True)
            case "restore":
                tree.set_hidden(one["key"], False)
            case "drop":
                tree.drop(one["key"])
    return tree.root


def _where(one: Operation) -> Where:
    return Where(one["parent"], tuple(one["list"]), one.get("after"))


class _Edit:
    def __init__(self, root: Item | Tree, stamp: Stamp, is_undo: bool, changed_by: Callable[[str], int | None]) -> None:
        self.tree = Editor(root)
        # What an undo puts back further on: moving something there first takes nothing out of sight.
        self.coming_back: set[str] = set()
        self.stamp, self.is_undo, self.changed_by = stamp, is_undo, changed_by
        self.done: list[Operation] = []
        self.inverse: list[Operation] = []
        self.conflicts: dict[str, None] = {}

    def do(self, index: int, operation: Operation) -> None:
        """One operation, or the conflict that it comes to."""
        name = operation["op"]
        needed = operation["parent"] if name == "insert" else operation["key"]
        if needed not in self.tree.items or (name == "move" and operation["parent"] not in self.tree.items):
            self._keep(index, operation, needed, UNKNOWN)
        elif name != "insert" and self._is_conflict(operation["key"]):
            self._settle(operation)
        else:
            {
                "set": self._set,
                "insert": self._insert,
                "move": self._move,
                "remove": self._remove,
                "restore": self._restore,
            }[name](index, operation)

    # The five operations

    def _set(self, index: int, operation: Operation) -> None:
        key, path = operation["key"], tuple(operation["path"])
        was, value = operation.get("was"), operation.get("value")
        there = self.tree.value(key, path)
        if alike(there, was):
            if not alike(was, value):
                self._do_set(key, path, value, there)
            self._tell_if_hidden(index, operation, key, path)
            return
        gone_on_from = self._conflict_of(key, lambda one: one["why"] == CHANGED and self._wishes(one, path, was))
        if gone_on_from is not None:
            self._renew(gone_on_from, value)
        elif alike(there, value):
            self._tell_if_hidden(index, operation, key, path)
        else:
            self._keep(index, operation, key, CHANGED, path=path, mine=value)

    def _insert(self, index: int, operation: Operation) -> None:
        item = operation["item"]
        if any(one["key"] in self.tree.items for one in items_in(item)):
            self._keep(index, operation, operation["parent"], UNKNOWN)
            return
        where = self._place(operation)
        self.tree.insert(where, item)
        self._did({"op": "insert", **_told(where), "item": item})
        self._undone_by({"op": "remove", "key": item["key"], "was": self.tree.taken(item["key"])})
        self._tell_if_hidden(index, operation, item["key"])

    def _move(self, index: int, operation: Operation) -> None:
        key, parent, path = operation["key"], operation["parent"], tuple(operation["list"])
        item = self.tree.items[key]
        gone_on_from = self._conflict_of(key, lambda one: self._moves_from(one, operation.get("was")))
        if gone_on_from is not None:
            self._renew(gone_on_from, operation)
        elif not alike(item.get("put"), operation.get("was")):
            self._keep(index, operation, key, MOVED)
        elif self.tree.is_below(parent, key):
            self._keep(index, operation, key, RING)
        elif not self.tree.is_shown(parent, path, self.coming_back):
            self._keep(index, operation, key, HIDDEN)
        else:
            old, behind, mark = self.tree.after(key), self.tree.before(key), item.get("put")
            where = self._place(operation)
            self.tree.move(key, where, operation["put"])
            where = self.tree.after(key)
            self._did({"op": "move", "key": key, **_told(where), "put": operation["put"]})
            self._undone_by(
                {"op": "move", "key": key, "was": operation["put"], **_told(old), "before": behind, "put": mark}
            )
            self._tell_if_hidden(index, operation, key)

    def _remove(self, index: int, operation: Operation) -> None:
        key, was = operation["key"], operation.get("was", {})
        # What is out of sight needs no removing; but what undo takes back must not come into sight with what is above.
        if self.tree.items[key].get("out") or not (self.is_undo or self.tree.is_shown(key)):
            return
        there = self.tree.taken(key)
        is_as_seen = all(place in was and alike(was[place], value) for place, value in there.items())
        gone = [place for place in was if place not in there]
        if not is_as_seen or any(self._is_shown(place) for place in gone):
            self._keep(index, operation, key, CHANGED)
            return
        self._do_out(key, True)

    def _restore(self, index: int, operation: Operation) -> None:
        key = operation["key"]
        if self.tree.items[key].get("out"):
            self._do_out(key, False)
        self._tell_if_hidden(index, operation, key, is_put_back=True)

    # Doing it

    def _place(self, operation: Operation) -> Where:
        """After `after`; if that is no longer in the list, before `before`; else at the end."""
        parent, path = operation["parent"], tuple(operation["list"])
        keys = [child["key"] for child in self.tree.children(parent, path)]
        moved = operation.get("key")
        after, before = operation.get("after"), operation.get("before")
        rest = [key for key in keys if key != moved]
        if after is None:
            return Where(parent, path, None)
        if after in rest:
            return Where(parent, path, after)
        if before in rest:
            number = rest.index(before)
            return Where(parent, path, rest[number - 1] if number else None)
        return Where(parent, path, rest[-1] if rest else None)

    def _do_set(self, key: str, path: Path, value: Any, there: Any) -> None:
        self.tree.set(key, path, value)
        self._did({"op": "set", "key": key, "path": list(path), "value": value})
        self._undone_by({"op": "set", "key": key, "path": list(path), "was": value, "value": there})

    def _do_out(self, key: str, is_out: bool) -> None:
        self.tree.set_hidden(key, is_out)
        self._did({"op": "remove" if is_out else "restore", "key": key})
        if is_out:
            self._undone_by({"op": "restore", "key": key})
        else:
            self._undone_by({"op": "remove", "key": key, "was": self.tree.taken(key)})

    def _did(self, done: Operation) -> None:
        self.done.append(done)

    def _undone_by(self, operation: Operation) -> None:
        self.inverse.append(operation)

    def _is_shown(self, place: str) -> bool:
        """Whether what `taken` named is in sight: an item, or a field by its owner and path."""
        key, *path = place.split(" ")
        return (
            key in self.tree.items
            and self.tree.is_shown(key, tuple(path))
            and (not path or self.tree.value(key, tuple(path)) is not None)
        )

    # Conflicts

    def _is_conflict(self, key: str) -> bool:
        spot = self.tree.spots.get(key)
        return spot is not None and spot.list == ("conflicts",)

    def _settle(self, operation: Operation) -> None:
        """About a conflict there are no conflicts: what the settler did not see stays open."""
        key, name = operation["key"], operation["op"]
        conflict = self.tree.items[key]
        if name == "remove":
            if not conflict.get("out") and alike(self.tree.taken(key), operation.get("was", {})):
                self._do_out(key, True)
        elif name == "restore":
            if conflict.get("out"):
                self._do_out(key, False)
        elif name == "set":
            path, there = tuple(operation["path"]), self.tree.value(key, tuple(operation["path"]))
            if alike(there, operation.get("was")) and not alike(there, operation.get("value")):
                self._do_set(key, path, operation.get("value"), there)

    def _conflict_of(self, item: str, fits: Callable[[Item], bool]) -> Item | None:
        found = (one for one in self.tree.children(ROOT, ("conflicts",)) if not one.get("out"))
        return next((one for one in found if one["item"] == item and fits(one)), None)

    def _wishes(self, conflict: Item, path: Path, was: Any) -> bool:
        return tuple(conflict.get("path") or ()) == path and alike(conflict.get("mine"), was)

    def _moves_from(self, conflict: Item, was: Any) -> bool:
        """Whether a conflict is about a move that was not done and gave the item this mark."""
        mine = conflict.get("mine")
        if conflict["why"] not in (MOVED, RING, HIDDEN) or not isinstance(mine, dict) or mine.get("op") != "move":
            return False
        return was is not None and alike(mine["put"], was)

    def _tell_if_hidden(
        self, index: int, operation: Operation, key: str, path: Path = (), is_put_back: bool = False
    ) -> None:
        """Open the conflict *taken out* for what was done where nobody sees it; there is one an item."""
        if self.tree.is_shown(key, path) or (self.is_undo and not is_put_back):
            return
        there = self._conflict_of(key, lambda one: one["why"] == TAKEN_OUT)
        if there is not None:
            self._renew(there, operation)
        else:
            self._keep(index, operation, key, TAKEN_OUT, path=path)

    def _renew(self, conflict: Item, mine: Any) -> None:
        key = conflict["key"]
        self.conflicts[key] = None
        for name, value in (("mine", mine), ("who", self.stamp.who), ("at", self.stamp.at)):
            there = self.tree.value(key, (name,))
            if not alike(there, value):
                self._do_set(key, (name,), value, there)

    def _keep(self, index: int, operation: Operation, item: str, why: str, path: Path = (), mine: Any = ...) -> None:
        """Keep a wish that was not done: of a set the value, else the whole operation."""
        key = f"{self.stamp.client}-{self.stamp.number}-{index}"
        last = self.tree.children(ROOT, ("conflicts",))
        conflict = {
            "key": key,
            "item": item,
            "path": list(path),
            "mine": operation if mine is ... else mine,
            "why": why,
            "who": self.stamp.who,
            "at": self.stamp.at,
            "by": self.changed_by(item),
        }
        where = Where(ROOT, ("conflicts",), last[-1]["key"] if last else None)
        conflict = {name: value for name, value in conflict.items() if value is not None}
        self.conflicts[key] = None
        self.tree.insert(where, conflict)
        self._did({"op": "insert", **_told(where), "item": conflict})
        self._undone_by({"op": "remove", "key": key, "was": self.tree.taken(key)})


def _told(where: Where) -> Operation:
    return {"parent": where.parent, "list": list(where.list), "after": where.after}
