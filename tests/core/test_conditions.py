"""The condition language: what is read, how it is printed, and its three values."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mildladder.core.conditions import Condition, evaluate, parse, show
from mildladder.core.errors import BadInput

names = st.from_regex(r"[a-z0-9]+(-[a-z0-9]+)*", fullmatch=True).filter(lambda name: name not in ("is", "not"))
values = st.text(st.characters(blacklist_characters='"\\', blacklist_categories=["Cs", "Cc", "Zl", "Zp"]), min_size=1)


@given(names, values)
def test_what_is_printed_is_read_back(name, value):
    condition = Condition(name, value)
    assert parse(show(condition)) == condition


def test_values_with_spaces_are_quoted():
    assert parse('boards-wrong is "all of them"') == Condition("boards-wrong", "all of them")
    assert show(Condition("model", "GR4")) == "model is GR4"


def test_an_unknown_fact_makes_it_unknown():
    condition = parse("model is GR4")
    assert evaluate(condition, {"model": "GR4"}) is True
    assert evaluate(condition, {"model": "GR6"}) is False
    assert evaluate(condition, {}) is None


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("model", "cannot be read at character"),
        ("model is", "cannot be read at character"),
        ("", "cannot be read at character"),
        ("model is GR4 or model is GR6", "uses 'or'"),
        ("firmware below 4.2", "uses 'below'"),
        ("model is not GR4", "uses 'not'"),
        ('model is "GR4', "cannot be read at character"),
    ],
)
def test_what_cannot_be_read_says_where(text, says):
    with pytest.raises(BadInput, match=says):
        parse(text)


@given(st.text(max_size=60))
def test_no_text_breaks_the_reader(text):
    try:
        condition = parse(text)
    except BadInput:
        return
    assert parse(show(condition)) == condition
