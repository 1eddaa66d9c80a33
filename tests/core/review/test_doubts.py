"""Conditions that can never hold, always hold, or are counted twice; each beside one that is in order."""

import pytest

from mildladder.core.review.doubts import doubts
from tests.samples import GATE, gate

FACTS = [*GATE["facts"], {"id": "age", "ask": "How old?", "type": "number"}]


def says(*conditions: str | None) -> list[tuple[str, str]]:
    ladder = [{"step": "clear-hold", **({"when": when} if when else {})} for when in conditions]
    return [(doubt.path, doubt.says) for doubt in doubts(gate(facts=FACTS, ladder=ladder))]


@pytest.mark.parametrize(
    ("conditions", "part"),
    [
        (["model is GR4 and model is GR6"], "can never hold"),
        (["age above 4 and age below 3"], "can never hold"),
        (["model is GR4 or model is GR6"], "always holds"),
        (["age above 4", "not age above 4"], "both this and rung 1 count"),
        (["age is 4", None, "age is not 4"], "both this and rung 1 count"),
    ],
)
def test_a_doubtful_condition_is_told_with_its_rung(conditions, part):
    found = says(*conditions)
    assert len(found) == 1
    assert found[0][0] == f"ladder.{len(conditions) - 1}"
    assert part in found[0][1]


@pytest.mark.parametrize(
    "conditions",
    [
        ["model is GR4"],
        ["age above 4 and age below 5"],
        ["model is GR4", "not model is GR4"],
        ["age above 4", "age below 4"],
    ],
)
def test_a_sound_condition_is_left_alone(conditions):
    assert says(*conditions) == []


def test_conditions_on_rails_are_read_too():
    rail = [{"step": "clear-hold", "when": "model is GR4 and model is GR6"}]
    found = doubts(gate(ladder=[{"step": "sensor-look", "on": {"blocked": rail}}]))
    assert [doubt.path for doubt in found] == ["ladder.0.on.blocked.0"]
