"""What was given can be corrected at any time: what lies ahead is looked at anew, and nothing is taken for answered."""

import pytest

from mildladder.core.climb import machine
from mildladder.core.errors import Conflict
from mildladder.core.model import events as c
from tests.core.climb.test_closing import climbed, one_rung
from tests.core.climb.test_machine import FAILS, LOOKED, NO_CHANGE, SAVED, events
from tests.samples import gate

TO_GR6 = c.FactGiven(fact="model", value="GR6")
GUARDED = c.GuardAnswered(step="reload-program", number=0, answer="yes")
AGREED = c.Consented(step="reload-program", answer="yes")


def known(*moves) -> machine.Climb:
    """The sample on a GR4, after these moves."""
    start = c.ClimbEvent(at=events()[0].at, who=1, move=c.Started(facts={"model": "GR4"}))
    return machine.climb(gate(), [start, *events(*moves)[1:]])


def test_a_rung_that_is_for_other_units_is_passed_once_the_fact_is_corrected():
    before = known(FAILS, LOOKED, NO_CHANGE, SAVED)
    assert before.step.id == "reload-program"
    after = machine.apply(before, events(TO_GR6)[1])
    assert (after.step.id, after.facts["model"]) == ("wave-through", "GR6")
    assert [one.why for _, one in after.passed] == ["only where “Which model?” is GR4, and it is GR6"]


def test_what_was_done_stays_done():
    before = known(FAILS, LOOKED, NO_CHANGE)
    after = machine.apply(before, events(TO_GR6)[1])
    assert after.attempts == before.attempts
    assert after.findings == before.findings


def test_guards_and_the_yes_of_the_step_at_hand_are_asked_for_again():
    before = known(FAILS, LOOKED, NO_CHANGE, SAVED, GUARDED, AGREED)
    assert before.place == "step"
    after = machine.apply(before, events(c.FactGiven(fact="model", value="GR4"))[1])
    assert (after.step.id, after.place, after.guards, after.has_consent) == ("reload-program", "guard", 0, False)


def test_a_step_that_follows_for_another_reason_begins_with_its_own_guards():
    before = known(FAILS, LOOKED, NO_CHANGE, SAVED, GUARDED)
    after = machine.apply(before, events(TO_GR6)[1])
    assert (after.step.id, after.guards) == ("wave-through", 0)


def test_a_fact_that_nobody_can_tell_after_all_is_not_asked_again():
    after = machine.apply(known(FAILS, LOOKED), events(c.FactGiven(fact="model", value=None))[1])
    assert "model" not in after.facts
    assert after.place == "step"


def test_what_nobody_could_tell_is_told_once_somebody_can():
    untold = c.FactGiven(fact="model", value=None)
    before = known(FAILS, LOOKED, untold)
    after = machine.apply(before, events(TO_GR6)[1])
    assert (before.unknown, after.unknown, after.facts["model"]) == ({"model"}, frozenset(), "GR6")
    assert known(FAILS, LOOKED, untold, TO_GR6) == after
    with pytest.raises(Conflict, match="not what is asked"):
        machine.apply(known(FAILS, untold), events(untold)[1])


def test_a_part_of_a_message_is_corrected_under_its_own_name():
    playbook = one_rung(
        {"do": [{"text": "Look"}]}, symptom={"says": "Up", "signs": [{"kind": "message", "text": "ARM {arm} OUT"}]}
    )
    before = climbed(playbook, FAILS, said="arm 3 out")
    after = machine.apply(before, events(c.FactGiven(fact="arm", value="4"))[1])
    assert (before.known["arm"], after.known["arm"]) == ("3", "4")
    assert "arm" not in after.caught


def test_a_correction_can_be_taken_back():
    before = known(FAILS, LOOKED, NO_CHANGE, SAVED)
    after = known(FAILS, LOOKED, NO_CHANGE, SAVED, TO_GR6, c.TakenBack())
    assert after == before


@pytest.mark.parametrize("move", [c.FactGiven(fact="model", value="GR9"), c.FactGiven(fact="lane", value="3")])
def test_what_it_cannot_be_and_what_nobody_gave_is_refused(move):
    with pytest.raises(Conflict):
        machine.apply(known(FAILS, LOOKED), events(move)[1])


def test_a_refusal_names_what_was_asked_in_its_own_words():
    with pytest.raises(Conflict, match="'GR9' is no answer to “Which model\\?”; choose one of"):
        machine.apply(known(FAILS, LOOKED), events(c.FactGiven(fact="model", value="GR9"))[1])


def test_a_closed_case_is_corrected_no_more():
    closed = known(FAILS, LOOKED, c.Ended(end="abandoned"))
    with pytest.raises(Conflict, match="closed"):
        machine.apply(closed, events(TO_GR6)[1])


def test_a_correction_while_something_else_is_asked_leaves_that_asked():
    condition = [{"step": "fix", "when": "age above 3"}]
    facts = [{"id": "age", "ask": "How old?", "type": "number"}, {"id": "model", "ask": "Which model?", "type": "text"}]
    playbook = one_rung(facts=facts).model_copy(
        update={
            "ladder": gate(
                facts=facts, ladder=condition, steps=[{"id": "fix", "title": "Fix it", "kind": "fix"}]
            ).ladder
        }
    )
    asked = climbed(playbook, FAILS)
    assert (asked.place, asked.asked.id) == ("fact", "age")
    moves = [c.Started(facts={"model": "GR4"}), FAILS, TO_GR6]
    again = machine.climb(playbook, [c.ClimbEvent(at=asked.opened, who=1, move=move) for move in moves])
    assert (again.place, again.asked.id, again.unknown) == ("fact", "age", frozenset())
