"""A case that is sent on into another playbook part-way: what lies above comes only where something below needs it."""

import pytest

from mildladder.core.climb.machine import begin, climb
from mildladder.core.climb.record import sent_on_events
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, climbed
from tests.core.climb.test_inside import then
from tests.core.climb.test_undone import LOOK, MILD, ROUGH, SAVE, WIPE
from tests.samples import NOON, gate

STEPS = [LOOK, MILD, SAVE, ROUGH, WIPE]


def entered(*rungs: dict | str, at: str):
    """The steps that lie ahead, and those that are passed, of a case that enters this ladder at a step."""
    ladder = [{"step": one} if isinstance(one, str) else one for one in rungs]
    move = c.Started(entered_at=at, facts={"model": "GR4"})
    now = begin(gate(steps=STEPS, ladder=ladder), c.ClimbEvent(at=NOON, who=1, move=move))
    return [task.rung.step for task in now.agenda if hasattr(task, "rung")], [one.step for _, one in now.passed]


def test_the_ladder_is_entered_at_the_first_rung_of_that_step():
    assert entered("mild", "wipe", "rough", "wipe", at="wipe") == (
        ["wipe", "rough", "wipe"],
        ["mild"],
    )
    assert entered("mild", "wipe", at="mild") == (["mild", "wipe"], [])


def test_where_no_rung_has_that_step_any_more_it_is_entered_at_its_top():
    assert entered("mild", "wipe", at="gone-step") == (["mild", "wipe"], [])


def test_a_safeguard_above_comes_just_before_what_it_makes_safe():
    assert entered("save", "mild", "wipe", "rough", at="wipe") == (["wipe", "save", "rough"], ["mild"])


def test_a_check_above_comes_where_a_condition_below_asks_for_what_it_found():
    for when in ("look found on", "model is GR4 and look ended skipped"):
        rungs = ["look", "mild", "wipe", {"step": "rough", "when": when}]
        assert entered(*rungs, at="wipe") == (["wipe", "look", "rough"], ["mild"])


def test_what_stands_on_a_rail_below_has_what_it_needs_too():
    rungs = ["save", "mild", {"step": "look", "on": {"on": [{"step": "rough"}]}}]
    assert entered(*rungs, at="look") == (["save", "look"], ["mild"])


def test_a_trial_stays_together_whichever_of_its_steps_is_named():
    rungs = ["look", {"step": "mild", "trial": "t"}, {"step": "wipe", "trial": "t"}, "rough"]
    assert entered(*rungs, at="wipe") == (["mild", "wipe", "rough"], ["look"])


@pytest.fixture
def other():
    return gate(
        id="gate-no-power", steps=[LOOK, MILD, SAVE, ROUGH], ladder=[{"step": one} for one in ("look", "save", "rough")]
    )


def test_a_rail_sends_a_case_on_to_a_rung_of_the_other_playbook(other):
    rail = {"on": [{"playbook": "gate-no-power", "from": "rough"}]}
    here = gate(steps=[LOOK, MILD], ladder=[{"step": "look", "on": rail}, {"step": "mild"}])
    now = then(climbed(here, FAILS), c.Answered(step="look", finding="on"))
    assert now.place == "sent-on"
    ended = then(now, c.Ended(end="handed-off", sent_on="gate-no-power"))
    there = climb(other, sent_on_events(ended, "G-1", other, 1, NOON))
    going_on = then(there, FAILS)
    assert (going_on.place, going_on.step.id) == ("step", "save")
    assert [(one.step, one.why) for _, one in going_on.passed] == [("look", "the ladder was entered further down")]


def test_a_look_alike_is_entered_at_its_top(other):
    here = gate(
        steps=[LOOK, MILD],
        ladder=[{"step": "look"}],
        symptom={"says": "Up", "see_also": [{"sign": "Dark", "playbook": "gate-no-power"}]},
    )
    ended = then(climbed(here, FAILS), c.Ended(end="handed-off", sent_on="gate-no-power"))
    assert sent_on_events(ended, "G-1", other, 1, NOON)[0].move.entered_at is None
