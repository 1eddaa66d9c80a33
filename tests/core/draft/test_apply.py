"""What must hold of every edit, whoever made it and whatever has come between."""

import json
import random

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from mildladder.core.draft.apply import Applied, Operation, apply, replayed
from mildladder.core.draft.check import check_operations, kind_of
from mildladder.core.draft.flaws import as_read, sound_tree
from mildladder.core.draft.form import to_document
from mildladder.core.draft.shape import ROOT
from mildladder.core.draft.tree import Item, Tree, alike, items_in
from mildladder.core.errors import BadInput
from tests.core.draft.scribbles import Scribbler, open_conflicts, small_form
from tests.parts import examples

SEEDS = st.integers(0, 2**31)


def scribbled(seed: int, edits: int = 6):
    """Edits by three people upon each other, each by somebody who saw one of the last three trees."""
    rng = random.Random(seed)
    trees = [small_form(seed % 97)]
    people = [Scribbler(rng, f"client{number}", number) for number in range(3)]
    for number in range(edits):
        who = rng.choice(people)
        seen = rng.choice(trees[-3:])
        operations = who.operations(seen)
        made = apply(trees[-1], operations, who.stamp(number + 1))
        yield trees[-1], seen, operations, made
        trees.append(made.root)


def shown(root: Item) -> tuple[object, list[Item]]:
    """What is in sight: the document, and the open conflicts."""
    return to_document(root).document, open_conflicts(Tree(root))


def brings_into_sight(made: Applied, before: Item) -> bool:
    was, now = Tree(before), Tree(made.root)
    return any(
        one["op"] == "move" and one["key"] in was.items and not was.is_shown(one["key"]) and now.is_shown(one["key"])
        for one in made.done
    )


@examples(150)
@given(SEEDS)
@example(32083)  # a holder is taken out first, then what it holds is moved away
def test_an_edit_and_then_its_inverse_give_back_what_was_in_sight(seed):
    for before, _, _, made in scribbled(seed):
        back = apply(made.root, made.inverse, Scribbler(random.Random(1), "undoer", 9).stamp(1), is_undo=True)
        if not brings_into_sight(made, before):
            assert shown(back.root) == shown(before)


@examples(150)
@given(SEEDS)
def test_what_was_done_replayed_without_checks_gives_the_same_tree(seed):
    for before, _, _, made in scribbled(seed):
        assert alike(replayed(before, json.loads(json.dumps(made.done))), made.root)


@examples(100)
@given(SEEDS)
def test_the_tree_that_an_edit_began_with_stays_as_it_was(seed):
    for before, _, operations, _ in scribbled(seed):
        kept = json.dumps(before)
        apply(before, operations, Scribbler(random.Random(1), "again", 9).stamp(1))
        assert json.dumps(before) == kept


def texts_of(value: object) -> set[str]:
    """Every text that somebody may have typed, wherever it lies."""
    if isinstance(value, str):
        return {value} if value else set()
    if isinstance(value, dict):
        return {text for one in value.values() for text in texts_of(one)}
    return {text for one in value for text in texts_of(one)} if isinstance(value, list | tuple) else set()


def typed_in(operation: object) -> set[str]:
    """Texts that an operation brings, or that was wished instead of it."""
    if not isinstance(operation, dict) or "op" not in operation:
        return texts_of(operation)
    return texts_of([operation.get("value"), operation.get("item")])


def held(root: Item) -> set[str]:
    """Texts in the tree, out of sight included, and in open conflicts."""
    bare = {name: value for name, value in root.items() if name != "conflicts"}
    wishes = [typed_in(one.get("mine")) for one in open_conflicts(Tree(root))]
    return texts_of(bare) | {text for wish in wishes for text in wish}


@examples(300)
@given(SEEDS)
def test_no_text_is_ever_lost_unless_whoever_sent_the_edit_had_it_before_them(seed):
    for before, _, operations, made in scribbled(seed, 8):
        had = texts_of([one.get("was") for one in operations])
        comes = texts_of([one.get("value") for one in operations if one["op"] == "set"])
        comes |= texts_of([one["item"] for one in operations if one["op"] == "insert"])
        # What one edit types over in its own second operation, its sender had before them too.
        assert (held(before) | comes) - held(made.root) <= had | _marks(before, operations)


def _marks(before: Item, operations: list[Operation]) -> set[str]:
    """Marks of place and of conflicts are no texts."""
    marks = {str(one["put"]) for one in items_in(before) if "put" in one}
    return marks | {str(one.get(name)) for one in operations for name in ("put", "was")}


@examples(150)
@given(SEEDS)
def test_any_mix_of_edits_gives_a_tree_without_rings_orphans_or_two_items_of_one_key(seed):
    for _, _, _, made in scribbled(seed, 8):
        keys = [one["key"] for one in items_in(made.root)]
        assert len(keys) == len(set(keys))
        tree = Tree(made.root)
        assert set(tree.items) == set(keys)
        assert all(tree.is_below(key, ROOT) for key in keys)
        assert all(kind_of(tree, key) for key in keys)


@examples(80)
@given(SEEDS)
def test_flaws_name_what_is_not_sound_and_figures_are_made_of_a_tree_without_any(seed):
    history: list[Applied] = []
    for _, _, _, made in scribbled(seed, 8):
        history.append(made)
        flaws = as_read(Tree(made.root)).flaws
        tree = Tree(made.root)
        assert all(flaw.key in tree.items for flaw in flaws)

        def earlier(key, path, known=tuple(history)):
            for one in reversed(known):
                for operation in one.inverse:
                    if operation["op"] == "set" and (operation["key"], tuple(operation["path"])) == (key, path):
                        yield operation["value"]

        sound = sound_tree(made.root, earlier)
        if sound.document is not None:
            assert as_read(Tree(sound.root)).flaws == ()
            assert (sound.instead == ()) == (flaws == ())
        if not flaws:
            assert alike(sound.root, made.root)


def touches(tree: Tree, made: Applied, operations: list[Operation]) -> set[str]:
    """Items and lists that an edit touches, done or not, with all that is above or below them, or named after them."""
    found: set[str] = set()
    for one in [*made.done, *operations]:
        key = one["item"]["key"] if one["op"] == "insert" else one["key"]
        found |= {key, *one.get("path", ())}
        if one["op"] != "set":
            spot = tree.spots.get(key)
            places = [spot] if spot else []
            found |= {f"{place.parent} {' '.join(place.list)}" for place in places}
            if "list" in one:
                found |= {f"{one['parent']} {' '.join(one['list'])}", one["parent"], *one["list"]}
            if key in tree.items:
                found |= set(tree.taken(key)) | {below["key"] for below in items_in(tree.items[key])}
                found |= {place.split(" ")[0] for place in tree.taken(key)}
        while key in tree.spots:
            key = tree.spots[key].parent
            found |= {f"above {key}"} if key != ROOT else set()
    return found


def are_apart(first: set[str], second: set[str]) -> bool:
    plain = (
        {name for name in first if not name.startswith("above ")},
        {name for name in second if not name.startswith("above ")},
    )
    aboves = [{name.removeprefix("above ") for name in names if name.startswith("above ")} for names in (first, second)]
    return not (plain[0] & plain[1] or plain[0] & aboves[1] or plain[1] & aboves[0])


@examples(300)
@given(SEEDS)
def test_two_edits_that_touch_nothing_in_common_commute(seed):
    rng = random.Random(seed)
    root = small_form(seed % 97)
    one, other = Scribbler(rng, "clientone", 1), Scribbler(rng, "clienttwo", 2)
    first, second = one.operations(root, 2), other.operations(root, 2)
    alone, beside = apply(root, first, one.stamp(1)), apply(root, second, other.stamp(1))
    if (
        alone.conflicts
        or beside.conflicts
        or not are_apart(touches(Tree(root), alone, first), touches(Tree(root), beside, second))
    ):
        return
    this_way = apply(alone.root, second, other.stamp(1))
    that_way = apply(beside.root, first, one.stamp(1))
    assert [*this_way.conflicts, *that_way.conflicts] == []
    assert alike(this_way.root, that_way.root)


def rung_and_note() -> tuple[Item, str]:
    root = small_form(3)
    return root, root["ladder"][0]["key"]


def set_note(key: str, was: str | None, value: str | None) -> Operation:
    return {"op": "set", "key": key, "path": ["note"], "was": was, "value": value}


def people() -> tuple[Scribbler, Scribbler]:
    return Scribbler(random.Random(1), "clientone", 1), Scribbler(random.Random(2), "clienttwo", 2)


def test_what_two_people_typed_into_one_field_is_kept_of_both():
    root, key = rung_and_note()
    one, other = people()
    was = Tree(root).value(key, ("note",))
    root = apply(root, [set_note(key, was, "first")], one.stamp(1)).root
    made = apply(root, [set_note(key, was, "second")], other.stamp(1))
    (conflict,) = open_conflicts(Tree(made.root))
    assert Tree(made.root).value(key, ("note",)) == "first"
    assert (conflict["mine"], conflict["why"], conflict["who"], conflict["item"]) == ("second", "changed", 2, key)


def test_who_goes_on_typing_in_a_conflict_has_one_conflict():
    root, key = rung_and_note()
    one, other = people()
    was = Tree(root).value(key, ("note",))
    root = apply(root, [set_note(key, was, "first")], one.stamp(1)).root
    root = apply(root, [set_note(key, was, "sec")], other.stamp(1)).root
    root = apply(root, [set_note(key, "sec", "second")], other.stamp(2)).root
    assert [one["mine"] for one in open_conflicts(Tree(root))] == ["second"]


def test_mine_is_kept_by_setting_the_field_and_taking_the_conflict_away():
    root, key = rung_and_note()
    one, other = people()
    was = Tree(root).value(key, ("note",))
    root = apply(root, [set_note(key, was, "first")], one.stamp(1)).root
    root = apply(root, [set_note(key, was, "second")], other.stamp(1)).root
    tree = Tree(root)
    (conflict,) = open_conflicts(tree)
    settling = [
        set_note(key, "first", "second"),
        {"op": "remove", "key": conflict["key"], "was": tree.taken(conflict["key"])},
    ]
    made = apply(root, settling, other.stamp(2))
    assert Tree(made.root).value(key, ("note",)) == "second"
    assert open_conflicts(Tree(made.root)) == []
    again = apply(made.root, settling[1:], one.stamp(2))
    assert again.done == []


def test_what_is_typed_into_something_taken_out_is_done_there_and_told_once():
    root, key = rung_and_note()
    one, other = people()
    was = Tree(root).value(key, ("note",))
    root = apply(root, [{"op": "remove", "key": key, "was": Tree(root).taken(key)}], one.stamp(1)).root
    for number, (before, text) in enumerate([(was, "a"), ("a", "ab"), ("ab", "abc")], start=1):
        root = apply(root, [set_note(key, before, text)], other.stamp(number)).root
    (conflict,) = open_conflicts(Tree(root))
    assert Tree(root).value(key, ("note",)) == "abc"
    assert (conflict["why"], conflict["mine"]["value"]) == ("taken out", "abc")


def test_a_rail_cannot_be_hung_into_itself():
    root, key = rung_and_note()
    one, _ = people()
    into = {"op": "move", "key": key, "was": None, "parent": key, "list": ["on", "no-change"], "put": "p1"}
    made = apply(root, [into], one.stamp(1))
    (conflict,) = open_conflicts(Tree(made.root))
    assert conflict["why"] == "ring"
    assert to_document(made.root).document == to_document(root).document


def test_taking_out_a_cause_changes_no_other_place_and_putting_it_back_brings_its_chances_back():
    root = small_form(5)
    one, _ = people()
    tree = Tree(root)
    cause = next(
        one["key"] for one in root["causes"] if any(one["key"] in step.get("fixes", {}) for step in root["steps"])
    )
    taken = apply(root, [{"op": "remove", "key": cause, "was": tree.taken(cause)}], one.stamp(1)).root
    assert [step.get("fixes") for step in taken["steps"]] == [step.get("fixes") for step in root["steps"]]
    ids = [found["id"] for found in to_document(taken).document["playbook"]["causes"]]
    assert tree.items[cause]["id"] not in ids
    assert not any(
        tree.items[cause]["id"] in step.get("fixes", {}) for step in to_document(taken).document["playbook"]["steps"]
    )
    back = apply(taken, [{"op": "restore", "key": cause}], one.stamp(2)).root
    assert to_document(back).document == to_document(root).document


@pytest.mark.parametrize(
    ("one", "other", "is_alike"),
    [
        (4, 4.0, True),
        (True, 1, False),
        (None, None, True),
        ("", None, False),
        ({"a": 1, "b": 2}, {"b": 2, "a": 1}, True),
    ],
)
def test_values_are_compared_as_json(one, other, is_alike):
    assert alike(one, other) is is_alike


def a_search(**round_):
    """A search set as a whole, on the first step of a small form."""
    root = small_form(1)
    value = {"over": "leads", "count": 8, "how": "halves", "round": round_}
    return Tree(root), [{"op": "set", "key": root["steps"][0]["key"], "path": ["search"], "was": None, "value": value}]


def test_an_object_that_is_set_as_a_whole_may_hold_another_one():
    check_operations(*a_search(hands_on=3, by="visit"))
    with pytest.raises(BadInput, match="no field pace"):
        check_operations(*a_search(pace=3))


def test_what_comes_with_a_key_that_is_there_already_is_put_nowhere_and_nothing_else_is_refused_for_it():
    root = small_form(1)
    first, second = (one["key"] for one in root["ladder"][:2])
    item = {"key": first, "text": "A text under the key of a rung"}
    step = root["steps"][0]["key"]
    operations = [
        {"op": "insert", "parent": step, "list": ["beware"], "after": None, "before": None, "item": item},
        {
            "op": "move",
            "key": second,
            "was": None,
            "parent": first,
            "list": ["on", "no-change"],
            "after": None,
            "before": None,
            "put": "fresh-mark",
        },
    ]
    check_operations(Tree(root), operations)
    made = apply(root, operations, Scribbler(random.Random(1), "one", 1).stamp(1))
    assert [one["op"] for one in made.done if one["op"] != "insert"] == ["move"]
    assert Tree(made.root).spots[second] == (first, ("on", "no-change"))
