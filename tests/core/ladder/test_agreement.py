"""Files that are read together: what they say differently of one thing is told of all, each at its place."""

from mildladder.core.ladder.agreement import disagreements
from tests.samples import GATE, gate, gate_with_step


def other(**changes):
    return gate(**{"id": "other", **changes})


def as_text(fact: str) -> list[dict]:
    return [{"id": one["id"], "ask": one["ask"], "type": "text"} if one["id"] == fact else one for one in GATE["facts"]]


def test_files_that_agree_are_told_nothing():
    assert list(disagreements([("a", gate()), ("b", other())])) == []


def test_everything_is_told_at_once_in_the_order_of_the_files():
    second = gate_with_step("clear-hold", title="Another", do=[]).model_copy(update={"id": "other"})
    third = other(id="third", facts=as_text("model"), ladder=[{**rung, "when": None} for rung in GATE["ladder"]])
    found = list(disagreements([("a", gate()), ("b", second), ("c", third), ("d", gate())]))
    assert [(one.at, one.path) for one in found] == [(1, "steps.1"), (2, "facts.0.type"), (3, "id")]
    assert "title, do" in found[0].says
    assert "a text here and a choice in a" in found[1].says


def test_what_was_chosen_settles_a_step_and_nothing_else():
    second = gate_with_step("clear-hold", title="Another").model_copy(update={"id": "other"})
    assert not list(disagreements([("a", gate()), ("b", second)], lambda step: step == "clear-hold"))
    assert list(disagreements([("a", gate()), ("b", second)], lambda step: step == "sensor-look"))
    assert list(disagreements([("a", gate()), ("b", other(facts=as_text("model")))], lambda _: True))


def test_halves_that_are_local_to_a_playbook_may_differ():
    second = gate_with_step("clear-hold", fixes={"sensor-dirty": 0.3}).model_copy(update={"id": "other"})
    assert not list(disagreements([("a", gate()), ("b", second)]))
