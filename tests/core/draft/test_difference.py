"""A document that came without keys becomes edits that lead to it, and nothing else is touched by them."""

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mildladder.core.draft.apply import Stamp, apply, replayed
from mildladder.core.draft.arrange import arranged
from mildladder.core.draft.difference import difference, longest_increasing_run
from mildladder.core.draft.flaws import as_read
from mildladder.core.draft.form import form_of, plain_playbook, random_keys, to_document
from mildladder.core.draft.groups import Group, redoable, undoable
from mildladder.core.draft.labels import label_of
from mildladder.core.draft.publishing import drops, naming_operations
from mildladder.core.draft.tree import Tree, alike
from mildladder.core.model import Document
from tests.core.draft.scribbles import Scribbler, small_form
from tests.core.random_ladders import random_playbook
from tests.parts import examples
from tests.samples import GATE, gate

STAMP = Stamp("pageone01", 1, 1, "2026-03-01T12:00:00Z")
SEEDS = st.integers(0, 10_000)


def document(seed: int) -> Document:
    playbook = random_playbook(seed, rails=2)
    return Document(playbook=playbook, origins={step.id: (step.id, 1) for step in playbook.steps})


def said(whole: Document) -> dict:
    return whole.model_dump(mode="json", by_alias=True, exclude_unset=True)


def keys(seed: int):
    return random_keys(random.Random(seed).randrange)


@examples(80)
@given(SEEDS)
def test_the_tree_without_keys_is_the_file(seed):
    whole = document(seed)
    root = form_of(said(whole), keys(seed))
    assert Document.model_validate(to_document(root).document) == whole
    assert as_read(Tree(root)).flaws == ()


@examples(60)
@given(SEEDS)
def test_what_is_read_in_read_out_and_read_in_again_keeps_every_key(seed):
    rng = random.Random(seed)
    root = small_form(seed % 97)
    scribbler = Scribbler(rng, "pagetwo02", 2)
    for number in range(1, 6):
        root = apply(root, scribbler.operations(root), scribbler.stamp(number)).root
    out = to_document(root).document
    if not as_read(Tree(root)).flaws:
        assert difference(root, out, keys(seed)) == []


@examples(60)
@given(SEEDS, SEEDS)
def test_the_difference_leads_to_the_document_and_its_inverse_back(one, other):
    new_key = keys(one)
    root = form_of(said(document(one)), new_key)
    for wanted in (document(other), document(one), document(other)):
        made = apply(root, difference(root, said(wanted), new_key), STAMP)
        assert made.conflicts == ()
        assert Document.model_validate(to_document(made.root).document) == wanted
        assert alike(replayed(root, made.done), made.root)
        back = apply(made.root, made.inverse, STAMP, is_undo=True)
        assert to_document(back.root).document == to_document(root).document
        root = made.root


def test_what_was_taken_out_comes_back_under_its_own_key():
    root = form_of({"playbook": GATE, "origins": {}}, keys(1))
    without = gate(ladder=GATE["ladder"][:2])
    taken = apply(
        root,
        difference(
            root,
            {
                "playbook": plain_playbook(without.model_dump(mode="json", by_alias=True, exclude_unset=True)),
                "origins": {},
            },
            keys(2),
        ),
        STAMP,
    ).root
    back = apply(taken, difference(taken, {"playbook": GATE, "origins": {}}, keys(3)), STAMP).root
    assert [one["key"] for one in back["steps"]] == [one["key"] for one in root["steps"]]


@given(st.lists(st.integers(0, 30), unique=True, max_size=12))
def test_the_longest_rising_run_is_one_and_there_is_no_longer(numbers):
    found = longest_increasing_run(numbers)
    rising = [number for number in numbers if number in set(found)]
    assert rising == sorted(found) == list(reversed(found))
    best = [0] * len(numbers)
    for place, number in enumerate(numbers):
        best[place] = 1 + max((best[n] for n in range(place) if numbers[n] < number), default=0)
    assert len(found) == max(best, default=0)


@examples(60)
@given(SEEDS)
def test_an_order_puts_what_it_names_into_it_and_leaves_the_others_with_their_neighbours(seed):
    rng = random.Random(seed)
    root = small_form(seed % 97, rungs=6)
    line = [one["key"] for one in root["ladder"]]
    named = rng.sample(line, rng.randint(1, len(line)))
    gone = [key for key in line if key not in named and rng.random() < 0.2]
    made = apply(root, arranged(root, "playbook", ("ladder",), [*named, "nobody"], gone, keys(seed)), STAMP)
    assert made.conflicts == ()
    tree = Tree(made.root)
    now = [one["key"] for one in made.root["ladder"] if tree.is_shown(one["key"])]
    assert [key for key in now if key in named] == named
    assert set(now) == set(line) - set(gone)


# Groups, labels, names


@pytest.mark.parametrize(
    ("groups", "undo", "redo"),
    [
        ("", None, None),
        ("A", "A", None),
        ("A B", "B", None),
        ("A B u:B", "A", "u"),
        ("A B u:B v:A", None, "v"),
        ("A B u:B v:A r:v", "A", "u"),
        ("A B u:B v:A r:v s:u", "B", None),
        ("A B u:B C", "C", None),
        ("A u:A r:u w:A", None, "w"),
        ("A n:nothing", "A", None),
        ("A u:A n:nothing", None, "u"),
    ],
)
def test_undo_and_redo_go_along_what_stands(groups, undo, redo):
    made = [Group(name, undoes or None, name) for name, _, undoes in (one.partition(":") for one in groups.split())]
    found = undoable(made), redoable(made)
    assert tuple(one and one.name for one in found) == (undo, redo)


def labelled(*operations) -> str:
    root = form_of({"playbook": GATE, "origins": {}}, keys(4))
    made = apply(root, [one(Tree(root)) for one in operations], STAMP)
    return label_of(Tree(root), Tree(made.root), made.done)


def key_of(tree: Tree, name: str) -> str:
    return next(key for key, item in tree.items.items() if name in (item.get("id"), item.get("title")))


def test_labels_say_what_was_done_to_what():
    def typed(name, path, value):
        return lambda tree: {
            "op": "set",
            "key": key_of(tree, name),
            "path": path,
            "was": tree.value(key_of(tree, name), tuple(path)),
            "value": value,
        }

    assert labelled(typed("clear-hold", ["effort", "hands_on"], 4)) == "“Clear the hold-open setting”: hands on 2 to 4"
    assert (
        labelled(typed("clear-hold", ["title"], "Off"))
        == "“Clear the hold-open setting”: title “Clear the hold-open setting” to “Off”"
    )
    assert labelled(typed("clear-hold", ["done"], 0.5), typed("save-counts", ["say"], "x" * 99)).endswith(" and 1 more")
    assert (
        labelled(typed("clear-hold", ["say"], "x" * 99))
        == "“Clear the hold-open setting”: what is read to the caller added"
    )

    def out(tree):
        key = key_of(tree, "bad-setting")
        return {"op": "remove", "key": key, "was": tree.taken(key)}

    assert labelled(out) == "“Hold-open left on” taken out"


def test_what_was_out_at_two_publishings_is_dropped_and_its_id_is_never_given_again():
    root = form_of({"playbook": GATE, "origins": {}}, keys(5))
    step = key_of(Tree(root), "wave-through")
    out = apply(root, [{"op": "remove", "key": step, "was": Tree(root).taken(step)}], STAMP).root
    assert drops(out, root) == []
    dropped = replayed(out, drops(out, out))
    assert step not in Tree(dropped).items
    new = {
        "op": "insert",
        "parent": "playbook",
        "list": ["steps"],
        "after": None,
        "item": {"key": "knew", "title": "Wave through", "kind": "fix"},
    }
    (naming,) = naming_operations(apply(dropped, [new], STAMP).root)
    assert naming["value"] == "wave-through-2"


def test_what_an_open_conflict_is_about_is_not_dropped():
    root = form_of({"playbook": GATE, "origins": {}}, keys(6))
    step = key_of(Tree(root), "wave-through")
    out = apply(root, [{"op": "remove", "key": step, "was": Tree(root).taken(step)}], STAMP).root
    typed = {"op": "set", "key": step, "path": ["say"], "was": None, "value": "Mine"}
    wished = apply(out, [typed], STAMP._replace(client="pagetwo02")).root
    assert drops(wished, out) == []
