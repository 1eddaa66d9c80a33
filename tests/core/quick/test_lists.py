"""Three lists as busy leads write them come to what their tables say, committed before the grammar was written."""

import json
from pathlib import Path

import pytest

from mildladder.core.quick import lines_of, quick_words, read_line

LISTS = Path(__file__).with_name("lists")


def told(step):
    """A step as the tables tell it: what is not said is left out."""
    effort = step.effort.model_dump(include=step.effort.model_fields_set)
    made = {"title": step.title, "kind": step.kind, **effort}
    made |= {"done": step.done} if step.done is not None else {}
    made |= {"hazards": [[one.kind, one.severity, one.chance] for one in step.hazards]} if step.hazards else {}
    made |= {"fixes": {end.cause: end.chance for end in step.ends}} if step.ends else {}
    return made | ({"findings": list(step.finds)} if step.finds else {})


@pytest.mark.parametrize("name", ["gate", "printer", "lamp"])
def test_a_list_comes_to_its_table(name):
    lines = lines_of((LISTS / f"{name}.txt").read_text())
    wanted = json.loads((LISTS / f"{name}.json").read_text())
    assert [told(read_line(line)) for line in lines] == wanted
    assert [read_line(line).unread for line in lines] == [()] * 12


@pytest.mark.parametrize("name", ["gate", "printer", "lamp"])
def test_what_was_understood_printed_and_read_again_is_the_same(name):
    for line in lines_of((LISTS / f"{name}.txt").read_text()):
        step = read_line(line)
        # A number in a title is no doubt once the title stands in quotes.
        assert read_line(quick_words(step)) == step.model_copy(update={"doubts": ()})
