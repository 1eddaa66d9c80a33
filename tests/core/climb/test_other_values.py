"""A step that is tried with another value at once, a copy that was needed, and what was done before in their own words."""

import pytest
from pydantic import ValidationError

from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of, hand_off_text
from mildladder.core.errors import Conflict
from mildladder.core.model import events as c
from mildladder.core.tally.counts import case_count
from tests.core.climb.test_closing import FAILS, climbed, ids, one_rung
from tests.core.climb.test_inside import then
from tests.core.climb.test_under_way import OTHER, said
from tests.samples import gate

TUNED = {
    "do": [{"text": "Set the level to {level}"}],
    "inputs": [{"id": "level", "ask": "Which level?", "type": "number"}],
    "undo": {"possible": "yes", "after": "no-change"},
}
ANOTHER = c.AnotherValue(step="fix")
FIXED = c.Answered(step="fix", outcome="fixed")
NO_CHANGE = c.Answered(step="fix", outcome="no-change")


def level(value: str) -> c.FactGiven:
    return c.FactGiven(fact="level", value=value)


def tuned(*values: str) -> Climb:
    """The step tried with these values in turn, the last one standing."""
    first, *others = values
    return climbed(one_rung(TUNED), FAILS, level(first), *(move for one in others for move in (ANOTHER, level(one))))


def test_another_value_is_asked_for_at_once_and_the_one_that_suited_is_kept():
    again = then(tuned("3"), ANOTHER)
    assert (again.place, again.asked_inside, again.attempts) == ("step", ("level",), ())
    assert "Fix it: no change yet, with 3" in hand_off_text(again)
    fixed = then(tuned("3", "5", "4"), FIXED)
    assert (fixed.values, len(fixed.attempts)) == ({"level": "4"}, 1)
    assert fixed.attempts[0].tried_with == ({"level": "3"}, {"level": "5"}, {"level": "4"})
    text = hand_off_text(fixed)
    assert "Which level? 4" in text
    assert "Fix it: fixed it, with 3, then 5, then 4" in text


def test_its_time_runs_on_over_all_tries():
    assert climbed(one_rung(TUNED), FAILS, level("3"), ANOTHER, level("4"), FIXED, apart=10).attempts[0].minutes == 40


def test_without_another_try_nothing_more_is_logged():
    assert then(tuned("3"), NO_CHANGE).attempts[0].tried_with is None


def test_it_is_offered_where_the_step_has_values_and_is_tried_in_place():
    assert said(tuned("3"))[-1] == "Try it with another value"
    for more in ({"inputs": [], "do": []}, {**TUNED, "kind": "safeguard", "undo": None, "fixes": {}}):
        now = climbed(one_rung(more), FAILS)
        with pytest.raises(Conflict, match="no value to try"):
            then(now, ANOTHER)


def test_what_was_tried_is_on_record_however_the_step_is_left():
    tries = ({"level": "3"}, {"level": "4"})
    left = then(tuned("3", "4", "5"), c.Ended(end="handed-off", hand_off="lane-crew", why_left="no time"))
    assert [(one.step, one.outcome, one.tried_with) for one in left.attempts] == [("fix", "no-change", tries)]
    off = then(tuned("3", "4", "5"), c.OffLadder(called="Knocked on it", outcome="fixed"))
    assert [one.step for one in off.attempts] == ["fix", "Knocked on it"]
    ladder = [{"step": "fix"}, {"step": "other"}]
    fix = {"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}, **TUNED}
    now = then(climbed(gate(steps=[fix, OTHER], ladder=ladder), FAILS), level("3"), ANOTHER)
    later = then(now, c.TakenOutOfTurn(path="ladder.1"))
    assert ([one.step for one in later.attempts], later.to_put_back) == (["fix"], ("fix",))
    for outcome in ("skipped", "could-not"):
        with pytest.raises(Conflict, match="was tried with one value already"):
            then(now, c.Answered(step="fix", outcome=outcome))


def test_it_is_taken_back_try_by_try():
    back = climbed(one_rung(TUNED), FAILS, level("3"), ANOTHER, c.TakenBack())
    assert (back.values, back.tried_with) == ({"level": "3"}, ())


# A copy that was needed


SAVE = {"id": "save", "title": "Save the counts", "kind": "safeguard"}
LOSES = {
    "id": "fix",
    "title": "Fix it",
    "kind": "fix",
    "fixes": {"bad-setting": 0.5},
    "hazards": [{"kind": "data", "severity": 2, "chance": 0.5, "eased_by": "save", "eased_to": 0.1}],
}
NEEDED = c.Answered(step="fix", outcome="fixed", harmed=("data",), safeguard_used="save", put_right="partly")


def saved(outcome: str = "done") -> Climb:
    playbook = gate(steps=[SAVE, LOSES], ladder=[{"step": "save"}, {"step": "fix"}])
    now = then(climbed(playbook, FAILS), c.Answered(step="save", outcome=outcome))
    return then(now, c.Consented(step="fix", answer="yes")) if now.place == "consent" else now


def test_harm_that_a_safeguard_eases_says_how_good_its_copy_was():
    fixed = then(saved(), NEEDED)
    assert "something stored was lost, partly put right from “Save the counts”" in hand_off_text(fixed)
    logged = case_of(then(fixed, c.Ended(end="resolved")), "G-1", 1)
    assert (logged.attempts[1].safeguard_used, logged.attempts[1].put_right) == ("save", "partly")
    assert ("save", "put-right", "partly") in case_count(logged).steps


@pytest.mark.parametrize(
    "wrong", [{"harmed": ()}, {"put_right": None}, {"safeguard_used": None}, {"safeguard_used": "fix"}]
)
def test_a_copy_belongs_to_harm_that_was_marked(wrong):
    with pytest.raises(Conflict, match="copy|how much"):
        then(saved(), NEEDED.model_copy(update=wrong))


def test_a_copy_that_was_never_made_puts_nothing_right():
    with pytest.raises(Conflict, match="belongs to no harm"):
        then(saved("could-not"), NEEDED)


# Done before the call, in their own words


def test_what_was_done_before_is_kept_in_the_words_it_was_told_in():
    now = climbed(one_rung(), c.TriedBefore(called="They restart it every morning"), FAILS)
    assert now.step.id == "fix"
    assert "They restart it every morning (before the call)" in hand_off_text(now)
    logged = case_of(then(now, FIXED, c.Ended(end="resolved")), "G-1", 1)
    assert [(one.step, one.by, one.outcome) for one in logged.attempts] == [
        ("They restart it every morning", "before", "no-change"),
        ("fix", "desk", "fixed"),
    ]
    with pytest.raises(Conflict, match="on record already"):
        then(now, c.TriedBefore(called="They restart it every morning"))


def test_either_a_step_or_words_are_told():
    for wrong in ({}, {"step": "fix", "called": "It"}):
        with pytest.raises(ValidationError, match="which step it was"):
            c.TriedBefore(**wrong)
    assert ids(climbed(one_rung(), c.TriedBefore(called="It"), FAILS)) == []
