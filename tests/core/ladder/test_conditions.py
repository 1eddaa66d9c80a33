"""The condition language: what is read, how it is printed, its three values, and what can never or must hold."""

from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mildladder.core.errors import BadInput
from mildladder.core.ladder.conditions import (
    AllOf,
    AnyOf,
    Compare,
    EarlierCases,
    EarlierResolved,
    Found,
    Known,
    Not,
    World,
    evaluate,
    facts_of,
    findings_of,
    negation,
    parse,
    partly,
    possible_values,
    show,
)
from mildladder.core.ladder.values import comparable, seconds

words = st.text(st.characters(blacklist_characters='"\\', blacklist_categories=["Cs", "Cc", "Zl", "Zp"]), min_size=1)
days = st.integers(0, 999)
operators = st.sampled_from(["is", "is not", "below", "above", "at least", "at most"])
tests = st.one_of(
    st.builds(lambda f, o, v: Compare(f, o, (v,)), words, operators, words),
    st.builds(lambda f, v: Compare(f, "in", tuple(v)), words, st.lists(words, min_size=1, max_size=3)),
    st.builds(Known, words),
    st.builds(Found, words, words),
    st.builds(EarlierResolved, words, days),
    st.builds(EarlierCases, days, days),
)


def flat(kind, parts):
    return kind(tuple(inner for part in parts for inner in (part.parts if isinstance(part, kind) else (part,))))


conditions = st.recursive(
    tests,
    lambda inner: st.one_of(
        st.builds(Not, inner),
        st.builds(lambda p: flat(AllOf, p), st.lists(inner, min_size=2, max_size=3)),
        st.builds(lambda p: flat(AnyOf, p), st.lists(inner, min_size=2, max_size=3)),
    ),
    max_leaves=8,
)


@settings(max_examples=300, deadline=None)
@given(conditions)
def test_what_is_printed_is_read_back(condition):
    text = show(condition)
    assert parse(text) == condition
    assert show(parse(text)) == text


@settings(max_examples=300, deadline=None)
@given(st.text(max_size=60))
def test_no_text_breaks_the_reader_and_what_is_read_can_be_decided(text):
    try:
        condition = parse(text)
    except BadInput:
        return
    assert parse(show(condition)) == condition
    evaluate(condition, World())


SMALL = ("a is 1", "b is 1", "c found x")


@st.composite
def small_conditions(draw, depth=3):
    if depth == 0 or draw(st.booleans()):
        return parse(draw(st.sampled_from(SMALL)))
    kind = draw(st.sampled_from(["not", "and", "or"]))
    if kind == "not":
        return Not(draw(small_conditions(depth - 1)))
    parts = [draw(small_conditions(depth - 1)) for _ in range(2)]
    return AllOf(tuple(parts)) if kind == "and" else AnyOf(tuple(parts))


def table(condition, a, b, c):
    """Kleene's truth table, written as numbers: false 0, unknown 1/2, true 1."""
    if isinstance(condition, Not):
        return 1 - table(condition.one, a, b, c)
    if isinstance(condition, AllOf):
        return min(table(part, a, b, c) for part in condition.parts)
    if isinstance(condition, AnyOf):
        return max(table(part, a, b, c) for part in condition.parts)
    if isinstance(condition, Found):
        return 1 if c else 0
    return a if condition.fact == "a" else b


@settings(max_examples=200, deadline=None)
@given(small_conditions())
def test_evaluation_agrees_with_the_truth_table(condition):
    for a, b, c in product((0, 0.5, 1), (0, 0.5, 1), (False, True)):
        facts = {name: str(value) for name, value in (("a", a), ("b", b)) if value != 0.5}
        world = World(facts=facts, findings={"c": "x"} if c else {})
        expected = {0: False, 0.5: None, 1: True}[table(condition, a, b, c)]
        assert evaluate(condition, world) is expected
        # What is half decided by the facts comes to the same once the findings are known.
        left = partly(condition, World(facts=facts))
        late = left if left is None or isinstance(left, bool) else evaluate(left, World(findings=world.findings))
        assert late is expected


def test_values_with_spaces_and_reserved_words_are_quoted():
    assert parse('boards-wrong is "all of them"') == Compare("boards-wrong", "is", ("all of them",))
    assert show(Compare("model", "is", ("GR4",))) == "model is GR4"
    assert show(Known("not")) == '"not" known'


def test_and_binds_closer_than_or():
    assert parse("a is 1 or b is 1 and c found x") == parse("a is 1 or (b is 1 and c found x)")
    assert parse("not a is 1 and b is 1") == AllOf((Not(parse("a is 1")), parse("b is 1")))


@pytest.mark.parametrize(
    ("kind", "smaller", "larger"),
    [
        ("version", "4.9", "4.10"),
        ("version", "4", "4.0.1"),
        ("version", "4.beta", "4.1"),
        ("number", "9", "10"),
        ("duration", "PT90M", "PT2H"),
        ("duration", "P1D", "PT25H"),
    ],
)
def test_values_are_ordered_by_what_they_mean(kind, smaller, larger):
    assert comparable(smaller, kind) < comparable(larger, kind)
    world = World(facts={"f": smaller}, types={"f": kind})
    assert evaluate(parse(f"f below {larger}"), world) is True
    assert evaluate(parse(f"f at least {larger}"), world) is False


def test_equal_versions_need_not_be_written_alike():
    assert comparable("4", "version") == comparable("4.0", "version")
    assert seconds("P1DT1S") == 86_401
    assert (seconds("P"), seconds("4 hours"), comparable("GR4", "number")) == (None, None, None)


@pytest.mark.parametrize(
    ("text", "place"),
    [
        ("model", 6),
        ("model is", 9),
        ("", 1),
        ("(a is b", 8),
        ("a found", 8),
        ("a is b c is d", 8),
        ("a in ()", 7),
        ('a is "b', 6),
        ("a is b and", 11),
        ("a at least", 11),
    ],
)
def test_half_typed_conditions_say_at_which_character(text, place):
    with pytest.raises(BadInput) as error:
        parse(text)
    found = int(str(error.value).split("character ")[1].split(";")[0])
    assert abs(found - place) <= 1, str(error.value)


@pytest.mark.parametrize(
    ("text", "values"),
    [
        ("model is GR4", {True, False}),
        ("model is GR4 and model is GR6", {False}),
        ("model is GR4 or model is GR6", {True}),
        ("model is not GR9", {True}),
        ("fw below 4.2 and fw at least 4.2", {False}),
        ("fw below 4.2 or fw above 4.1", {True}),
        ("fw above 4.9 and fw below 4.10", {True, False}),
        ("n above 3 and n below 3.5", {True, False}),
        ("c found x and c found y", {False}),
        ("c found x or not c found x", {True}),
        ("earlier cases at least 2 within 30 days", {True, False}),
    ],
)
def test_what_can_never_or_must_always_hold_is_seen(text, values):
    types = {"model": "choice", "fw": "version", "n": "number"}
    assert possible_values(parse(text), types, {"model": ["GR4", "GR6"]}) == values


def test_facts_and_findings_are_listed_once():
    condition = parse("a is 1 and (b known or a is 2) and c found x and c found x")
    assert facts_of(condition) == ("a", "b")
    assert findings_of(condition) == (Found("c", "x"),)


@settings(max_examples=100, deadline=None)
@given(small_conditions())
def test_the_negation_is_the_contrary_and_negating_twice_changes_nothing(condition):
    for a, c in product(("1", "2"), (False, True)):
        world = World(facts={"a": a, "b": "1"}, findings={"c": "x"} if c else {})
        assert evaluate(negation(condition), world) is not evaluate(condition, world)
        assert evaluate(negation(negation(condition)), world) is evaluate(condition, world)
