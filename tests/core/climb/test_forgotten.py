"""A state or a yes of the step at hand goes along with nothing that comes instead of it."""

import pytest

from mildladder.core.climb.machine import Climb
from mildladder.core.errors import Conflict
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, FOOTINGS, climbed, ids, tied
from tests.core.climb.test_inside import then
from tests.core.climb.test_undone import MILD, WIPE
from tests.samples import gate

INSIDE = {
    **WIPE,
    "footing": "panel",
    "do": [{"text": "Note {mark}"}],
    "inputs": [{"id": "mark", "ask": "Which mark?"}],
}
LOSES = {"kind": "data", "severity": 5, "chance": 0.5}
BEFORE = c.TriedBefore(step="wipe")


def at_first(first: dict, second: dict = MILD) -> Climb:
    playbook = gate(steps=[first, second], ladder=[{"step": "wipe"}, {"step": "mild"}], footings=FOOTINGS)
    return climbed(playbook, FAILS)


def test_a_state_entered_for_a_step_that_was_done_before_the_call_is_left():
    now = then(at_first(INSIDE), c.FactGiven(fact="mark", value="7"), BEFORE)
    assert (now.place, now.to_close.id, now.step.id) == ("way-out", "leave:panel", "mild")
    untouched = then(at_first(INSIDE), BEFORE)
    assert (untouched.place, untouched.step.id, ids(untouched)) == ("step", "mild", [])


def test_a_yes_to_one_step_is_none_to_the_next():
    rough = {**WIPE, "hazards": [LOSES]}
    now = then(at_first(rough, {**MILD, "hazards": [LOSES]}), c.Consented(step="wipe", answer="yes"), BEFORE)
    assert (now.place, now.step.id) == ("consent", "mild")


def test_a_step_that_is_under_way_was_not_done_before_the_call():
    begun = then(at_first({**WIPE, "unbroken": True}), c.StepBegun(step="wipe"))
    with pytest.raises(Conflict, match="is under way"):
        then(begun, BEFORE)
    both = {**MILD, "includes": ["wipe"]}
    goes_on = then(at_first({**WIPE, "unbroken": True}, both), c.StepBegun(step="wipe"), c.TriedBefore(step="mild"))
    assert (goes_on.place, goes_on.step.id) == ("step", "wipe")
    assert then(goes_on, c.Answered(step="wipe", outcome="no-change")).place == "hand-off"
    tuned = {**WIPE, "do": [{"text": "Set {mark}"}], "inputs": [{"id": "mark", "ask": "Which mark?"}]}
    tries = [c.FactGiven(fact="mark", value="7"), c.AnotherValue(step="wipe"), c.TriedBefore(step="mild")]
    still = then(at_first(tuned, both), *tries, c.FactGiven(fact="mark", value="8"))
    assert (still.place, still.step.id, still.tried_with) == ("step", "wipe", ({"mark": "7"},))


def test_a_yes_to_a_search_holds_for_all_its_rounds_whatever_is_put_right_between():
    search = {"over": "cards", "count": 3, "how": "one-by-one", "round": {"hands_on": 1}}
    rough = {**WIPE, "footing": "panel", "proves": "after-leaving", "search": search, "hazards": [LOSES]}
    round_ = [c.Answered(step="wipe", outcome="done"), *tied("leave:panel", "leave:lane")]
    at_test = then(at_first(rough), c.Consented(step="wipe", answer="yes"), *round_)
    corrected = then(at_test, c.FactGiven(fact="model", value="GR6"))
    assert (corrected.place, corrected.has_consent) == ("test", True)


def test_a_step_under_way_stays_as_it_was_begun_whatever_is_put_right():
    elsewhere = {"when": "model is GR6", "footing": "lane", "hazards": [LOSES]}
    playbook_step = {**INSIDE, "unbroken": True, "varies": [elsewhere]}
    begun = then(at_first(playbook_step), c.StepBegun(step="wipe"), c.FactGiven(fact="model", value="GR6"))
    assert (begun.facts["model"], begun.step.footing, begun.step.hazards) == ("GR6", "panel", ())
    done = then(begun, c.FactGiven(fact="mark", value="7"), c.Answered(step="wipe", outcome="no-change"))
    assert (done.to_close.id, done.facts_of_try) == ("leave:panel", None)


def test_a_state_that_was_entered_is_left_for_the_one_that_the_step_is_done_in_after_all():
    elsewhere = {"when": "model is GR6", "footing": "lane"}
    entered = then(at_first({**INSIDE, "varies": [elsewhere]}), c.FactGiven(fact="mark", value="7"))
    now = then(entered, c.FactGiven(fact="model", value="GR6"))
    assert (now.place, now.to_close.id, now.step.id) == ("way-out", "leave:panel", "wipe")


def test_a_setting_that_could_not_be_put_back_was_not_gone_to():
    undo = {"possible": "yes", "after": "no-change", "footing": "lane"}
    now = then(at_first({**WIPE, "footing": "panel", "undo": undo}), c.Answered(step="wipe", outcome="no-change"))
    assert (now.place, now.to_close.id) == ("way-out", "put-back:wipe")
    stays = then(now, c.TiedUp(end="put-back:wipe", why_left="it cannot be done now"))
    assert (stays.place, stays.to_close.id, stays.footing) == ("way-out", "leave:panel", "panel")
    done = then(now, c.TiedUp(end="put-back:wipe"))
    assert (done.to_close.id, done.footing) == ("leave:lane", "lane")
