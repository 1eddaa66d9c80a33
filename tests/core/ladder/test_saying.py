"""Conditions in words: questions, values and titles, and never an id."""

import pytest

from mildladder.core.ladder.conditions import parse, show
from mildladder.core.ladder.saying import conditions_in_words, told_in_words, units_in_words
from tests.core.random_ladders import random_playbook
from tests.samples import GATE, gate, gate_with_step

FACTS = [
    *GATE["facts"],
    {"id": "age", "ask": "Age in years", "type": "number"},
    {"id": "dark", "ask": "Is the lamp dark?", "type": "yes-no"},
    {"id": "every", "ask": "How often does it come?", "type": "duration"},
]


@pytest.mark.parametrize(
    ("when", "says"),
    [
        ("model is GR4", "“Which model?” is GR4"),
        ("model is not GR4", "“Which model?” is not GR4"),
        ("model in (GR4, GR6)", "“Which model?” is GR4 or GR6"),
        ("age at least 3", "Age in years is at least 3"),
        ("not age known", "Age in years is not known"),
        ("dark is yes", "the answer to “Is the lamp dark?” is yes"),
        ("dark is not yes", "the answer to “Is the lamp dark?” is no"),
        ("every below PT2H", "“How often does it come?” is below 2 hours"),
        ("sensor-look found blocked", "“Read the home sensor” found “Reads blocked”"),
        ("not sensor-look found blocked", "“Read the home sensor” did not find “Reads blocked”"),
        (
            "earlier resolved by clear-hold within 30 days",
            "“Clear the hold-open setting” ended it on this unit within 30 days before",
        ),
        ("earlier cases at least 2 within 30 days", "the unit had at least 2 cases of it within 30 days before"),
        (
            "age known and (model is GR4 or dark is yes)",
            "Age in years is known and (“Which model?” is GR4 or the answer to “Is the lamp dark?” is yes)",
        ),
    ],
)
def test_a_condition_is_said_with_titles_and_values(when, says):
    assert told_in_words(when, gate(facts=FACTS)) == says


def test_what_is_no_longer_there_is_said_without_its_id():
    assert told_in_words("lane is 3", gate()) == "something that is no longer asked is 3"
    assert told_in_words("wipe found clean", gate()) == "a step that is no longer there found “what it no longer finds”"
    assert told_in_words("model is", gate()) == "model is"


def test_every_condition_of_texts_and_variants_is_there():
    do = [{"text": "A", "when": "model is GR4"}, {"ways": [[{"text": "B", "when": "model is GR6"}], [{"text": "C"}]]}]
    playbook = gate_with_step("clear-hold", do=do, varies=[{"when": "model is not GR4", "done": 0.5}])
    assert set(conditions_in_words(playbook)) == {"model is GR4", "model is GR6", "model is not GR4"}


@pytest.mark.parametrize("seed", range(40))
def test_no_id_of_a_random_ladder_is_ever_said(seed):
    playbook = random_playbook(seed)
    ids = {step.id for step in playbook.steps} | {fact.id for fact in playbook.facts}
    for rung in playbook.ladder:
        if rung.when:
            words = told_in_words(rung.when, playbook).replace("“", " ").replace("”", " ").split()
            titled = {
                word
                for one in (*playbook.steps, *playbook.facts)
                for word in getattr(one, "title", getattr(one, "ask", "")).split()
            }
            assert not (set(words) & ids) - titled
            assert show(parse(rung.when))


def test_sorts_of_units_are_said_with_lengths_of_time_in_words():
    every = {"id": "every", "ask": "How often?", "type": "duration", "shares": {"PT2H": 0.5, "PT6H": 0.4, "P2D": 0.1}}
    sort = [{"every": "PT2H"}, {"every": "P2D"}]
    assert units_in_words(sort, gate(facts=[*GATE["facts"], every])) == "“How often?” is 2 hours or 2 days"
