"""What is wrong with a field stands in a sentence that whoever typed into it understands."""

import random
import re

import pytest

from mildladder.core.draft import flaws
from mildladder.core.draft.flaws import as_read, sound_tree
from mildladder.core.draft.form import form_of, random_keys
from mildladder.core.draft.tree import ROOT, Editor, Tree
from mildladder.core.model import Document
from tests.samples import GATE, gate

ODD = ("abc", "", "4 hours", -5.0, 120.0, 1e9, 3.5, "x" * 5000)
# What a library of shapes says of itself, and nobody who fills in a field can do anything with.
SPOKEN_BY_SHAPES = re.compile(
    r"should|input|pattern|dictionary|tuple|instance of|literal|string|float|integer|\^|\[a-z"
)
# Chosen, or made by the desk.
NEVER_TYPED = {"key", "put", "out", "id", "name", "format", "origin", "pictures", "conflicts", "else"}


@pytest.fixture(scope="module")
def root():
    document = Document(playbook=gate(), origins={}).model_dump(mode="json", by_alias=True, exclude_unset=True)
    return form_of(document, random_keys(random.Random(3).randrange))


def step_of(root, title):
    return next(one for one in root["steps"] if one["title"] == title)["key"]


def flaw_of(root, key, path, value):
    editor = Editor(root)
    editor.set(key, path, value)
    return [flaw.says for flaw in as_read(Tree(editor.root)).flaws if flaw.key == key]


@pytest.mark.parametrize(
    ("path", "value", "says"),
    [
        (("watch",), "four hours", "this is no length of time: write 4 h, 30 min or 10 s"),
        (("done",), 1.2, "this must be at most 100 %"),
        (("done",), "most", "this is no number"),
        (("effort", "hands_on"), -3.0, "this must be at least 0"),
        (("effort", "hands_on"), 1e9, "this must be at most 1,000,000"),
        (("title",), "x" * 5000, "this is too long: at most 300 characters"),
        (("title",), None, "this is missing"),
        (("kind",), "cure", "this is none of what can stand here"),
    ],
)
def test_a_flaw_is_told_plainly(root, path, value, says):
    assert flaw_of(root, step_of(root, root["steps"][0]["title"]), path, value) == [says]


def test_no_flaw_of_any_field_speaks_of_shapes(root):
    told = 0
    for key, item in Tree(root).items.items():
        for name, there in item.items():
            if name in NEVER_TYPED or isinstance(there, list | dict | bool) or (key == ROOT and name == "pictures"):
                continue
            for value in ODD:
                for says in flaw_of(root, key, (name,), value):
                    told += 1
                    assert not SPOKEN_BY_SHAPES.search(says), (item.get("title"), name, value, says)
    assert told > 300


def test_a_condition_that_cannot_be_read_is_not_told_with_its_ids(root):
    rung = root["ladder"][0]["key"]
    [says] = flaw_of(root, rung, ("when",), "model is GR4 and")
    assert says.startswith("this condition cannot be read to its end")
    assert flaw_of(root, rung, ("when",), "model is GR4") == []


def many_fixes(count: int, **ladder):
    """A playbook of so many fixes, each on a rung."""
    fixes = [{**GATE["steps"][1], "id": f"fix-{number}", "title": f"Fix {number}"} for number in range(count)]
    rungs = [{"step": f"fix-{number}", **ladder} for number in range(count)]
    playbook = gate(steps=[*GATE["steps"], *fixes], ladder=[*GATE["ladder"], *rungs])
    document = Document(playbook=playbook, origins={}).model_dump(mode="json", by_alias=True, exclude_unset=True)
    return form_of(document, random_keys(random.Random(3).randrange))


@pytest.fixture
def reads(monkeypatch):
    """Counts how often a whole tree is read."""
    done = []
    read = flaws.as_read
    monkeypatch.setattr(flaws, "as_read", lambda tree: done.append(1) or read(tree))
    return done


def without_titles(root, count: int):
    editor = Editor(root)
    for step in root["steps"][-count:]:
        editor.set(step["key"], ("title",), "")
    return editor.root


def test_a_hundred_unfinished_steps_are_left_out_in_a_few_looks(reads):
    root = without_titles(many_fixes(110), 100)
    sound = sound_tree(root, lambda *_: iter(()))
    assert len(sound.document.playbook.steps) == len(GATE["steps"]) + 10
    assert sum(one.is_left_out for one in sound.instead) >= 100
    assert len(reads) <= 8


def test_a_hundred_fields_have_their_newest_value_back_that_fits(reads):
    root = without_titles(many_fixes(110), 100)
    titles = {step["key"]: f"Was {number}" for number, step in enumerate(root["steps"])}
    sound = sound_tree(root, lambda key, _path: iter(["", "x" * 5_000, titles[key], "older"]))
    assert len(sound.document.playbook.steps) == len(GATE["steps"]) + 110
    assert sorted(one.is_left_out for one in sound.instead) == [False] * 100
    assert {step.title for step in sound.document.playbook.steps[-100:]} == set(list(titles.values())[-100:])
    assert len(reads) <= 8


def test_a_fact_that_forty_conditions_name_can_be_taken_out(reads):
    root = many_fixes(40, when="model is GR4")
    editor = Editor(root)
    editor.set_hidden(root["facts"][0]["key"], True)
    sound = sound_tree(editor.root, lambda *_: iter(()))
    assert [rung.when for rung in sound.document.playbook.ladder] == [None] * len(sound.document.playbook.ladder)
    assert sum(one.is_left_out for one in sound.instead) >= 40
    assert len(reads) <= 12


def test_one_mended_flaw_may_mend_another():
    """Two states that lie within each other: the first is set back, and then the second is sound as it stands."""
    passage = {"enter": {"hands_on": 1}, "leave": {"hands_on": 1}}
    footings = [{"id": "a", "title": "A", **passage}, {"id": "b", "title": "B", "within": "a", **passage}]
    document = Document(playbook=gate(footings=footings), origins={}).model_dump(
        mode="json", by_alias=True, exclude_unset=True
    )
    editor = Editor(form_of(document, random_keys(random.Random(3).randrange)))
    first, second = editor.root["footings"]
    editor.set(first["key"], ("within",), second["key"])
    sound = sound_tree(editor.root, lambda *_: iter([None]))
    assert [(one.key, one.is_left_out) for one in sound.instead] == [(first["key"], False)]
