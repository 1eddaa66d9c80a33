"""The browser does edits by a twin of `apply`: both run the cases kept here, made from scribbles."""

import json
import random
from pathlib import Path
from typing import Any

import pytest

from mildladder.core.draft.apply import Applied, Stamp, apply
from mildladder.core.draft.form import to_document
from mildladder.core.draft.tree import Tree, alike
from tests.core.draft.scribbles import Scribbler, small_form

CASES = Path(__file__).with_name("twin_cases.json")
_CHAINS, _EDITS = 40, 6


def chain(seed: int) -> dict[str, Any]:
    """A form, edits upon each other by people who saw it as it was some edits ago, and what each comes to."""
    rng = random.Random(seed)
    root = small_form(seed, rungs=2)
    trees = [root]
    people = [Scribbler(rng, f"client{number}", number) for number in range(3)]
    edits = []
    inverses: list[list[dict[str, Any]]] = []
    for number in range(1, _EDITS + 1):
        who = rng.choice(people)
        is_undo = bool(inverses) and rng.random() < 0.3
        operations = rng.choice(inverses) if is_undo else who.operations(rng.choice(trees[-3:]))
        stamp = who.stamp(number)
        made = apply(trees[-1], operations, stamp, is_undo)
        trees.append(made.root)
        inverses.append(made.inverse)
        edits.append(_told(operations, stamp, made, is_undo))
    return {"root": root, "edits": edits, "end": trees[-1], "sight": _sight(trees[-1])}


def put_back_later(seed: int = 5) -> dict[str, Any]:
    """A rung is taken out first, then what it holds moves away; undone, that goes back before the rung does."""
    rng = random.Random(seed)
    root = small_form(seed, rungs=2)
    holder, other = (rung["key"] for rung in root["ladder"])
    stamp = Scribbler(rng, "client0", 0).stamp
    rung = {"key": "held", "step": "unknown"}
    held = {"op": "insert", "parent": holder, "list": ["on", "no-change"], "after": None, "item": rung}
    root = apply(root, [held], stamp(1)).root
    away = {"op": "move", "key": "held", "parent": other, "list": ["on", "no-change"], "after": None, "put": "aside"}
    operations = [{"op": "remove", "key": holder, "was": Tree(root).taken(holder)}, away]
    made = apply(root, operations, stamp(2))
    back = apply(made.root, made.inverse, stamp(3), is_undo=True)
    edits = [_told(operations, stamp(2), made), _told(made.inverse, stamp(3), back, is_undo=True)]
    return {"root": root, "edits": edits, "end": back.root, "sight": _sight(back.root)}


def moved_on(seed: int = 6) -> dict[str, Any]:
    """Somebody's move is not done, for another's came first; they go on from it twice, before they hear of that."""
    rng = random.Random(seed)
    root = small_form(seed, rungs=3)
    first, second, third = (rung["key"] for rung in root["ladder"])
    stamps = [Scribbler(rng, f"client{number}", number).stamp for number in range(2)]

    def to(after: str | None, was: str | None, put: str) -> list[dict[str, Any]]:
        place = {"parent": "playbook", "list": ["ladder"], "after": after}
        return [{"op": "move", "key": first, "was": was, "put": put, **place}]

    known = next(rung for rung in root["ladder"] if rung["key"] == first).get("put")
    edits = []
    for stamp, operations in (
        (stamps[0](1), to(third, known, "theirs")),
        (stamps[1](1), to(second, known, "mine-1")),
        (stamps[1](2), to(None, "mine-1", "mine-2")),
        (stamps[1](3), to(third, "mine-2", "mine-3")),
    ):
        made = apply(root, operations, stamp)
        root, edits = made.root, [*edits, _told(operations, stamp, made)]
    return {"root": small_form(seed, rungs=3), "edits": edits, "end": root, "sight": _sight(root)}


def _told(operations: list[dict[str, Any]], stamp: Stamp, made: Applied, is_undo: bool = False) -> dict[str, Any]:
    return {
        "operations": operations,
        "stamp": stamp._asdict(),
        "is_undo": is_undo,
        "done": made.done,
        "inverse": made.inverse,
        "conflicts": list(made.conflicts),
    }


def _sight(root: dict[str, Any]) -> list[str]:
    tree = Tree(root)
    return sorted(key for key in tree.items if tree.is_shown(key))


def _reasons(case: dict[str, Any]) -> set[str]:
    return {
        one["item"]["why"]
        for edit in case["edits"]
        for one in edit["done"]
        if one["op"] == "insert" and "why" in one["item"]
    }


def made_anew() -> list[dict[str, Any]]:
    """All the cases, as plain JSON; among them some of the rarest reason."""
    rare = [seed for seed in range(_CHAINS, 2000) if "hidden" in _reasons(chain(seed))][:2]
    seeds = [*range(_CHAINS - len(rare) - 2), *rare]
    made = [*(chain(seed) for seed in seeds), put_back_later(), moved_on()]
    cases: list[dict[str, Any]] = json.loads(json.dumps(made))
    return cases


KEPT = json.loads(CASES.read_text()) if CASES.exists() else []


@pytest.mark.parametrize("number", range(_CHAINS))
def test_a_kept_case_comes_to_what_is_kept(number):
    case = KEPT[number]
    root = case["root"]
    for edit in case["edits"]:
        stamp = Scribbler(random.Random(0), edit["stamp"]["client"], edit["stamp"]["who"]).stamp(1)
        stamp = stamp._replace(number=edit["stamp"]["number"], at=edit["stamp"]["at"])
        made = apply(root, edit["operations"], stamp, edit["is_undo"])
        told = [made.done, made.inverse, list(made.conflicts)]
        assert alike(json.loads(json.dumps(told)), [edit["done"], edit["inverse"], edit["conflicts"]])
        root = made.root
    assert alike(root, case["end"])
    assert _sight(root) == case["sight"]


def test_the_cases_hold_every_operation_and_every_reason_for_a_conflict():
    edits = [edit for case in KEPT for edit in case["edits"]]
    assert {one["op"] for edit in edits for one in edit["operations"]} == {"set", "insert", "move", "remove", "restore"}
    told = [why for case in KEPT for why in _reasons(case)]
    assert set(told) == {"changed", "moved", "hidden", "ring", "unknown", "taken out"}
    assert sum(edit["is_undo"] for edit in edits) > 20


def test_what_a_holder_held_goes_back_into_it_when_both_are_undone():
    case = put_back_later()
    assert not case["edits"][-1]["conflicts"]
    assert to_document(case["end"]).document == to_document(case["root"]).document


if __name__ == "__main__":
    CASES.write_text(json.dumps(made_anew(), separators=(",", ":")) + "\n")


def test_going_on_from_a_move_that_was_not_done_takes_its_place():
    case = moved_on()
    (conflict,) = case["end"]["conflicts"]
    assert (conflict["why"], conflict["mine"]["put"]) == ("moved", "mine-3")
    assert [len(edit["conflicts"]) for edit in case["edits"]] == [0, 1, 1, 1]
