"""An answer is called otherwise wherever the draft names it, and nothing else changes."""

from random import Random

import pytest

from mildladder.core.draft.apply import Stamp, apply
from mildladder.core.draft.form import form_of, random_keys, to_document
from mildladder.core.draft.renaming import value_renamed
from mildladder.core.errors import Conflict, NotFound
from mildladder.core.figures.forecast import forecast
from mildladder.core.model import Playbook
from tests.samples import gate

FACTS = [
    {"id": "model", "ask": "Which model?", "type": "choice", "choices": {"GR4": 0.6, "GR6": 0.4}},
    {"id": "roll", "ask": "Which roll?", "type": "choice", "choices": {"GR4": 0.5, "wide": 0.5}},
]


def form():
    whens = ["not (model is GR4 and roll is GR4)", "model in (GR4, GR6) or roll is wide", "roll is GR4"]
    playbook = gate(facts=FACTS, ladder=[{"step": "clear-hold", "when": when} for when in whens])
    data = {"playbook": playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)}
    return form_of(data, random_keys(Random(1).randrange)), playbook


def test_its_share_and_every_condition_on_that_fact_follow():
    root, before = form()
    key = root["facts"][0]["key"]
    made = apply(root, value_renamed(root, key, "GR4", "GR4 mark 2"), Stamp("page", 1, 1, "2026-01-01T00:00:00Z"))
    assert made.conflicts == ()
    after = Playbook.model_validate(to_document(made.root).document["playbook"])
    assert after.facts[0].choices == {"GR6": 0.4, "GR4 mark 2": 0.6}
    assert after.facts[1].choices == {"GR4": 0.5, "wide": 0.5}
    assert [rung.when for rung in after.ladder] == [
        'not (model is "GR4 mark 2" and roll is GR4)',
        'model in ("GR4 mark 2", GR6) or roll is wide',
        "roll is GR4",
    ]
    assert forecast(after).effort == pytest.approx(forecast(before).effort, abs=1e-12)


def test_what_is_not_there_and_what_is_there_already_are_refused():
    root, _ = form()
    key = root["facts"][0]["key"]
    with pytest.raises(NotFound, match="“GR9”"):
        value_renamed(root, key, "GR9", "GR8")
    with pytest.raises(Conflict, match="“GR6” already"):
        value_renamed(root, key, "GR4", "GR6")
