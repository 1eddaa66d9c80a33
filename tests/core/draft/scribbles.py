"""Edits by chance, as people make them who see a draft as it was some time ago."""

import random
from typing import Any

from mildladder.core.draft.apply import Operation, Stamp
from mildladder.core.draft.form import form_of, random_keys
from mildladder.core.draft.shape import ROOT
from mildladder.core.draft.tree import Item, Path, Tree
from tests.core.random_ladders import random_data

WORDS = ("reseat", "lamp", "lane", "printer", "wipe", "amber", "", "model is GR4", "12", "left")
_TYPED = {
    "Step": [("title",), ("say",), ("effort", "hands_on"), ("undo", "how"), ("done",)],
    "Entry": [("note",), ("when",), ("trial",)],
    "Cause": [("title",), ("weight",)],
    "Hazard": [("chance",), ("kind",)],
    "Finding": [("title",)],
    "Text": [("text",)],
    "Instruction": [("text",), ("copy",)],
    "Fact": [("ask",), ("choices", "GR6")],
}


def small_form(seed: int, rungs: int = 3) -> Item:
    """A working form with rails, findings and causes, and some things out of sight."""
    rng = random.Random(seed)
    data = random_data(seed, rungs=rungs, rails=1)
    for step in data["steps"]:
        step["beware"] = ["Wet hands", "Loose leads"]
        step["do"] = [{"text": "Open it"}, {"ways": [[{"text": "By hand"}], [{"text": "By key"}]]}]
    return form_of({"playbook": data, "origins": {}}, random_keys(rng.randrange))


class Scribbler:
    """Somebody who edits by chance. client: their page; keys and marks are their own."""

    def __init__(self, rng: random.Random, client: str, who: int) -> None:
        self.rng, self.client, self.who = rng, client, who
        self.made = 0

    def stamp(self, number: int) -> Stamp:
        return Stamp(self.client, number, self.who, f"2026-11-{number % 28 + 1:02d}T09:00:00Z")

    def key(self) -> str:
        self.made += 1
        return f"{self.client}x{self.made}"

    def operations(self, seen: Item, most: int = 3) -> list[Operation]:
        """Operations as one sends them who sees that tree."""
        tree = Tree(seen)
        made = [self._operation(tree) for _ in range(self.rng.randint(1, most))]
        return [one for one in made if one is not None]

    def _operation(self, tree: Tree) -> Operation | None:
        weights = {self._set: 8, self._insert: 3, self._move: 4, self._remove: 3, self._restore: 2, self._settle: 2}
        make = self.rng.choices(list(weights), list(weights.values()))[0]
        return make(tree)

    def _set(self, tree: Tree) -> Operation | None:
        key = self._one_of(tree, tuple(_TYPED))
        if key is None:
            return None
        path = self._path(tree, key)
        was = tree.value(key, path)
        if self.rng.random() < 0.15:
            was = self.rng.choice([*WORDS, None, 4])
        if path[0] in ("fixes", "given") or path[-1] in ("weight", "hands_on", "chance", "done"):
            value: Any = self.rng.choice([0.25, 4, 0, True, None])
        else:
            value = self.rng.choice([*(f"{word} {self.key()}" for word in WORDS[:4]), "", None])
        return {"op": "set", "key": key, "path": list(path), "was": was, "value": value}

    def _path(self, tree: Tree, key: str) -> Path:
        kind = _kind(tree, key)
        causes = [one["key"] for one in tree.children(ROOT, ("causes",))]
        if kind == "Step" and causes and self.rng.random() < 0.3:
            return ("fixes", self.rng.choice(causes))
        if kind == "Finding" and causes and self.rng.random() < 0.5:
            return ("given", self.rng.choice(causes))
        return self.rng.choice(_TYPED[kind])

    def _insert(self, tree: Tree) -> Operation | None:
        steps = [one["id"] for one in tree.children(ROOT, ("steps",)) if "id" in one]
        key = self.key() if self.rng.random() < 0.95 else self.rng.choice(list(tree.items))
        places: list[tuple[str, Path, Item]] = [
            (ROOT, ("ladder",), {"step": self.rng.choice(steps), "note": self.key()}),
            (ROOT, ("causes",), {"title": self.key(), "layer": "power"}),
        ]
        step = self._one_of(tree, ("Step",))
        if step is not None:
            places.append((step, ("beware",), {"text": self.key()}))
            places.append((step, ("findings",), {"title": self.key()}))
        rung = self._one_of(tree, ("Entry",))
        if rung is not None:
            name = self.rng.choice([*self._findings(tree, rung), "no-change"])
            below = {"key": self.key(), "step": self.rng.choice(steps), "note": self.key()}
            places.append((rung, ("on", name), {"step": steps[0], "on": {"no-change": [below]}}))
        parent, path, item = self.rng.choice(places)
        keys = [one["key"] for one in tree.children(parent, path)]
        after, before = self._neighbours(keys)
        return {
            "op": "insert",
            "parent": parent,
            "list": list(path),
            "after": after,
            "before": before,
            "item": {"key": key, **item},
        }

    def _findings(self, tree: Tree, rung: str) -> list[str]:
        step = tree.items[rung].get("step")
        found = next((one for one in tree.children(ROOT, ("steps",)) if one.get("id") == step), None)
        return [one["key"] for one in tree.children(found["key"], ("findings",))] if found else []

    def _move(self, tree: Tree) -> Operation | None:
        key = self._one_of(tree, ("Entry", "Text", "Cause", "Instruction"))
        if key is None:
            return None
        parent, path = tree.spots[key]
        if _kind(tree, key) == "Entry" and self.rng.random() < 0.5:
            other = self._one_of(tree, ("Entry",))
            if other is not None:
                parent, path = other, ("on", self.rng.choice([*self._findings(tree, other), "no-change"]))
        keys = [one["key"] for one in tree.children(parent, path) if one["key"] != key]
        after, before = self._neighbours(keys)
        return {
            "op": "move",
            "key": key,
            "was": tree.items[key].get("put"),
            "parent": parent,
            "list": list(path),
            "after": after,
            "before": before,
            "put": self.key(),
        }

    def _neighbours(self, keys: list[str]) -> tuple[str | None, str | None]:
        at = self.rng.randint(0, len(keys))
        return keys[at - 1] if at else None, keys[at] if at < len(keys) else None

    def _remove(self, tree: Tree) -> Operation | None:
        key = self._one_of(tree, ("Entry", "Step", "Cause", "Finding", "Text", "Hazard", "Instruction"))
        return None if key is None else {"op": "remove", "key": key, "was": tree.taken(key)}

    def _restore(self, tree: Tree) -> Operation | None:
        out = [key for key, item in tree.items.items() if item.get("out") and _kind(tree, key) != "Conflict"]
        return {"op": "restore", "key": self.rng.choice(out)} if out else None

    def _settle(self, tree: Tree) -> Operation | None:
        waiting = open_conflicts(tree)
        if not waiting:
            return None
        key = self.rng.choice(waiting)["key"]
        return {"op": "remove", "key": key, "was": tree.taken(key)}

    def _one_of(self, tree: Tree, kinds: tuple[str, ...]) -> str | None:
        keys = [key for key in tree.items if key != ROOT and _kind(tree, key) in kinds]
        if self.rng.random() < 0.9:
            keys = [key for key in keys if tree.is_shown(key)]
        return self.rng.choice(keys) if keys else None


def open_conflicts(tree: Tree) -> list[Item]:
    """The conflicts that nobody has settled."""
    return [one for one in tree.children(ROOT, ("conflicts",)) if not one.get("out")]


_LISTS = {
    "steps": "Step",
    "ladder": "Entry",
    "causes": "Cause",
    "hazards": "Hazard",
    "findings": "Finding",
    "beware": "Text",
    "do": "Instruction",
    "facts": "Fact",
    "on": "Entry",
    "conflicts": "Conflict",
}


def _kind(tree: Tree, key: str) -> str:
    spot = tree.spots.get(key)
    # What only holds a list that may be left out has no fields of its own.
    return _LISTS.get(spot.list[0], "") if spot and "of" not in tree.items[key] else ""
