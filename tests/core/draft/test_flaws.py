"""What is wrong with a field stands in a sentence that whoever typed into it understands."""

import random
import re

import pytest

from mildladder.core.draft.flaws import flaws_of
from mildladder.core.draft.form import form_of, keys_from
from mildladder.core.draft.tree import ROOT, Editor, Tree
from mildladder.core.model import Document
from tests.samples import gate

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
    return form_of(document, keys_from(random.Random(3).randrange))


def step_of(root, title):
    return next(one for one in root["steps"] if one["title"] == title)["key"]


def flaw_of(root, key, path, value):
    editor = Editor(root)
    editor.set(key, path, value)
    return [flaw.says for flaw in flaws_of(editor.root) if flaw.key == key]


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
