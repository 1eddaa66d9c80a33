"""A playbook as one sort of unit meets it: its figures are those of that unit, its texts are read with its values."""

from itertools import product

import pytest

from mildladder.core.climb.lens import settled_on, worded_for_unit
from mildladder.core.errors import BadInput
from mildladder.core.figures.forecast import forecast
from tests.core.random_ladders import random_playbook
from tests.samples import gate

WITH_FACTS = [seed for seed in range(60) if any(fact.spread for fact in random_playbook(seed).facts)]


@pytest.mark.parametrize("seed", WITH_FACTS)
def test_the_figures_of_all_sorts_of_units_make_those_of_the_whole(seed):
    playbook = random_playbook(seed)
    facts = [fact for fact in playbook.facts if fact.spread]
    whole = forecast(playbook)
    sums = dict.fromkeys(("effort", "harm", "elapsed", "resolved", "handed_off"), 0.0)
    for values in product(*(fact.spread.items() for fact in facts)):
        share = 1.0
        for _, part in values:
            share *= part
        unit = {fact.id: value for fact, (value, _) in zip(facts, values, strict=True)}
        seen = forecast(settled_on(playbook, unit))
        for name in sums:
            sums[name] += share * getattr(seen, name)
    assert sums == pytest.approx({name: getattr(whole, name) for name in sums}, abs=1e-9)


def test_a_fact_without_shares_is_known_under_the_lens():
    playbook = gate(
        facts=[
            {"id": "version", "ask": "Which version?", "type": "version"},
            {"id": "model", "ask": "Which model?", "type": "choice", "choices": {"GR4": 0.6, "GR6": 0.4}},
        ],
        ladder=[{"step": "clear-hold", "when": "version below 4.2"}],
    )
    assert forecast(playbook).rungs[0].reach == pytest.approx(1)
    assert forecast(settled_on(playbook, {"version": "4.10"})).rungs[0].reach == 0
    assert forecast(settled_on(playbook, {"version": "4.1"})).rungs[0].reach == pytest.approx(1)


def test_texts_are_those_that_the_units_agent_reads():
    step = {
        "id": "set-it",
        "title": "Set it",
        "kind": "fix",
        "effort": {"hands_on": 4},
        "say": "Your {model} will restart",
        "varies": [{"when": "model is GR6", "effort": {"hands_on": 9}}],
        "do": [
            {"text": "Press both on a {model}", "when": "model is GR4"},
            {"text": "Run it", "copy": "lanectl set {model}", "when": "model is GR6"},
            {"ways": [[{"text": "Up, not {not model}"}], [{"text": "Down", "when": "model is GR4"}]]},
        ],
    }
    playbook = gate(steps=[step], ladder=[{"step": "set-it"}], hand_offs=[])
    (seen,) = worded_for_unit(playbook, {"model": "GR6"}).steps
    assert (seen.effort.hands_on, seen.say) == (9, "Your GR6 will restart")
    assert [(one.text, one.copy_, one.when) for one in seen.do[:1]] == [("Run it", "lanectl set GR6", None)]
    assert [[one.text for one in way] for way in seen.do[1].ways or ()] == [["Up, not GR4"], []]
    (plain,) = worded_for_unit(playbook, {}).steps
    assert [one.when for one in plain.do] == ["model is GR4", "model is GR6", None]


@pytest.mark.parametrize("unit", [{"colour": "red"}, {"model": "GR9"}])
def test_what_no_unit_can_have_is_refused_in_words(unit):
    with pytest.raises(BadInput, match=r"no such fact|cannot be “GR9”"):
        settled_on(gate(), unit)
