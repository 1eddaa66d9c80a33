"""What a guided case says and asks in its details: guards within a state, what did not take, what is left to do."""

import pytest

from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of
from mildladder.core.climb.wording import Filler
from mildladder.core.figures.forecast import forecast
from mildladder.core.model import Instruction
from mildladder.core.model import events as c
from mildladder.desk.guiding.climb_steps import current_step, filler_of, search_view
from tests.core.climb.test_closing import FAILS, FOOTINGS, climbed, ids, one_rung
from tests.core.climb.test_inside import DONE, then
from tests.samples import GATE, gate

INSIDE = {"ask": "Is the red card in?", "must": "yes", "else": "not-available", "inside": True}
YES = c.GuardAnswered(step="fix", number=0, answer="yes")
NO = c.GuardAnswered(step="fix", number=0, answer="no")
DID_NOT_TAKE = "It did not take"
OTHER = {"id": "other", "title": "Other", "kind": "fix", "fixes": {"bad-setting": 0.5}}


def shown(now: Climb):
    return current_step(now, forecast(now.playbook), filler_of(now, {}))


# Guards


def test_a_question_about_what_is_seen_inside_is_asked_there_and_leaves_the_state_to_be_closed():
    playbook = one_rung({"footing": "panel", "guard": [INSIDE]}, footings=FOOTINGS)
    now = climbed(playbook, FAILS)
    assert (now.place, now.asks_inside, [one.title for one in shown(now).before]) == (
        "guard",
        True,
        ["First: Lane closed", "First: Panel open"],
    )
    assert then(now, YES).place == "step"
    assert ids(then(now, NO)) == ["leave:panel", "leave:lane"]
    skipped = then(now, YES, c.Answered(step="fix", outcome="skipped"))
    assert ids(skipped) == ["leave:panel", "leave:lane"]


def test_it_is_asked_after_the_yes_that_the_state_needs():
    rough = {"id": "panel", "title": "Panel", "enter": {"hazards": [{"kind": "injury", "severity": 4, "chance": 0.2}]}}
    playbook = one_rung({"footing": "panel", "guard": [INSIDE]}, footings=[{**rough, "leave": {}}])
    now = climbed(playbook, FAILS)
    assert now.place == "consent"
    assert then(now, c.Consented(step="fix", answer="yes")).place == "guard"


def test_a_question_outside_is_asked_before_the_state_is_entered_and_leaves_nothing():
    playbook = one_rung({"footing": "panel", "guard": [{**INSIDE, "inside": False}]}, footings=FOOTINGS)
    assert ids(climbed(playbook, FAILS, NO)) == []


@pytest.mark.parametrize(("minutes", "place"), [(30, "step"), (180, "guard")])
def test_what_was_asked_of_the_hour_is_asked_again_after_hours(minutes, place):
    playbook = one_rung({"guard": [{"ask": "Is the deck closed?", "must": "yes", "else": "could-not"}]})
    now = climbed(playbook, FAILS, YES, c.Paused(reason="answer"), c.Resumed(), apart=minutes)
    assert now.place == place


# What did not take


def labels(now: Climb) -> list[str]:
    return [one.label for one in answers(now)]


def test_that_a_step_did_not_take_is_said_before_its_state_is_left():
    playbook = one_rung({"footing": "panel", "proves": "after-leaving"}, footings=FOOTINGS)
    now = climbed(playbook, FAILS)
    assert DID_NOT_TAKE in labels(now)
    not_taken = then(now, c.Answered(step="fix", outcome="no-change", took="no"))
    assert ids(not_taken) == ["leave:panel", "leave:lane"]
    assert [(one.outcome, one.took) for one in not_taken.attempts] == [("no-change", "no")]


def test_it_is_said_of_each_step_of_a_trial_and_the_others_are_tested():
    fix = {"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}}
    ladder = [{"step": "fix", "trial": "both"}, {"step": "other", "trial": "both"}]
    playbook = gate(steps=[fix, OTHER], ladder=ladder)
    first = climbed(playbook, FAILS)
    assert DID_NOT_TAKE in labels(first)
    second = then(first, c.Answered(step="fix", outcome="no-change", took="no"))
    tested = then(second, c.Answered(step="other", outcome="done"))
    assert (tested.place, [one.step for one in tested.carried]) == ("test", ["other"])
    assert [bool(shown(one).retest) for one in (first, second)] == [False, True]


# Afterwards


def test_what_is_done_once_it_is_fixed_is_not_asked_of_a_step_that_did_not_help():
    after = [{"text": "Tell the crew", "if": "fixed"}, {"text": "Log the key", "if": "always"}]
    fix = {"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}, "afterwards": after}
    playbook = gate(steps=[fix, OTHER], ladder=[{"step": "fix"}, {"step": "other"}])
    other = climbed(
        playbook, FAILS, c.Answered(step="fix", outcome="no-change"), c.Answered(step="other", outcome="fixed")
    )
    assert ids(other) == ["after:fix:1"]
    assert ids(climbed(playbook, FAILS, c.Answered(step="fix", outcome="fixed"))) == ["after:fix:0", "after:fix:1"]


# Words


def test_why_a_rung_was_passed_over_is_one_plain_sentence():
    raining = {"id": "raining", "ask": "Does it rain?", "type": "yes-no"}
    playbook = gate(
        facts=[*GATE["facts"], raining],
        steps=[OTHER, {**OTHER, "id": "fix"}],
        ladder=[{"step": "fix", "when": "raining is no"}, {"step": "other"}],
    )
    now = climbed(playbook, FAILS, c.FactGiven(fact="raining", value="yes"))
    assert [one.why for _, one in now.passed] == ["the answer to “Does it rain?” is yes"]


def test_a_part_of_a_message_is_asked_by_its_name_and_one_that_was_caught_is_logged():
    signs = [{"kind": "message", "text": "ARM {arm} NOT HOME"}]
    playbook = one_rung({"do": [{"text": "Look at {arm}"}]}, symptom={**GATE["symptom"], "signs": signs})
    now = climbed(playbook, FAILS)
    assert (now.asked.ask, now.asked.where) == ("Arm", "In the message “ARM … NOT HOME”, where that is shown")
    told = climbed(playbook, FAILS, c.Answered(step="fix", outcome="fixed"), said="It says ARM 7 NOT HOME")
    assert case_of(then(told, c.Ended(end="resolved")), "C-1", 1).values == {"arm": "7"}


def test_the_blank_of_a_computed_value_says_what_it_is_worked_out_from():
    inputs = [{"id": "speed", "ask": "Speed now", "type": "number"}, {"id": "slower", "compute": "speed * 0.9"}]
    now = climbed(one_rung({"do": [{"text": "Set {slower}"}], "inputs": inputs}), FAILS)
    assert "‹worked out from Speed now›" in (shown(now).do[0].text or "").replace("\\", "")


def test_what_is_to_be_left_alone_can_be_said_only_with_its_values():
    assert not Filler({}).can_fill("Lane {lane}")
    assert Filler({"lane": "7"}).can_fill("Lane {lane}")


def test_putting_one_suspect_back_says_how():
    search = {"over": "cards", "count": 3, "how": "one-by-one", "round": {"hands_on": 1}}
    undo = {"possible": "yes", "how": "Slide the old card in"}
    now = climbed(one_rung({"search": search, "undo": undo, "do": [Instruction(text="Swap")]}), FAILS)
    assert search_view(now, filler_of(now, {})).put_back == "Slide the old card in"


# A playbook that is not there


def test_a_case_that_leads_into_a_missing_playbook_goes_to_the_default_team():
    rail = [{"playbook": "not-here"}]
    teams = [{"id": "crew", "title": "Lane crew"}, {"id": "main", "title": "Main crew", "default": True}]
    fix = {"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}}
    playbook = gate(steps=[fix], ladder=[{"step": "fix", "on": {"could-not": rail}}], hand_offs=teams)
    now = climbed(playbook, FAILS, c.Answered(step="fix", outcome="could-not"))
    assert now.place == "sent-on"
    assert labels(now)[0] == "Go on in the other playbook"
    offered = answers(now, absent=["not-here"])
    assert [one.label for one in offered] == ["Hand off to Main crew", "Hand off to Lane crew"]
    assert then(now, offered[0].move).ended.hand_off == "main"


def test_done_is_still_an_answer_of_a_step_that_waits_for_its_test():
    playbook = one_rung({"footing": "panel", "proves": "after-leaving"}, footings=FOOTINGS)
    assert then(climbed(playbook, FAILS), DONE).place == "way-out"
