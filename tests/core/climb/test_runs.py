"""A step that runs by itself is put aside while it does: the case waits, and what passes counts as the step's time."""

import pytest

from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of
from mildladder.core.errors import Conflict
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, FOOTINGS, climbed, ids, one_rung
from tests.core.climb.test_inside import then
from tests.core.climb.test_under_way import OTHER, TO_GR6, said
from tests.samples import gate

ASIDE = c.Paused(reason="runs")
SCAN = {"effort": {"hands_on": 2, "wait": 50}}
FIXED = c.Answered(step="fix", outcome="fixed")


def scanning(**more) -> Climb:
    """A scan of fifty minutes that was begun and put aside, a minute after the baseline."""
    return climbed(one_rung({**SCAN, **more}, footings=FOOTINGS), FAILS, ASIDE)


def test_it_waits_as_long_as_the_step_runs_and_its_answers_stand_ready_meanwhile():
    now = scanning()
    assert (now.place, now.pause.reason) == ("paused", "runs")
    assert (now.pause.until - now.pause.since).total_seconds() == 50 * 60
    assert said(now) == ["Fixed", "No change", "Better, not gone", "Worse"]
    assert [one.label for one in answers(now) if isinstance(one.move, c.Resumed)] == ["Back to the step"]


def test_the_time_that_passed_is_the_steps_own():
    logged = case_of(climbed(one_rung(SCAN), FAILS, ASIDE, FIXED, c.Ended(end="resolved"), apart=30), "G-1", 1)
    assert (logged.attempts[0].minutes, logged.waited) == (60, None)
    taken_up = climbed(one_rung(SCAN), FAILS, ASIDE, c.Resumed(), FIXED, apart=30)
    assert (taken_up.attempts[0].minutes, taken_up.waited) == (90, 0)
    called_back = climbed(one_rung(SCAN), FAILS, c.Paused(reason="call-back"), c.Resumed(), FIXED, apart=30)
    assert (called_back.attempts[0].minutes, called_back.waited) == (60, 30)


def test_a_step_that_must_not_be_interrupted_may_be_put_aside_while_it_runs_and_for_nothing_else():
    begun = climbed(one_rung({**SCAN, "unbroken": True}), FAILS, c.StepBegun(step="fix"))
    assert then(begun, ASIDE).place == "paused"
    with pytest.raises(Conflict, match="must not be interrupted"):
        then(begun, c.Paused(reason="call-back"))


def test_nothing_is_put_aside_that_does_not_run_by_itself_or_waits_for_a_value():
    with pytest.raises(Conflict, match="nothing runs by itself"):
        climbed(one_rung(), FAILS, ASIDE)
    with pytest.raises(Conflict, match="nothing runs by itself"):
        asking = {"do": [{"text": "Set {lane}"}], "inputs": [{"id": "lane", "ask": "Lane?"}]}
        climbed(one_rung({**SCAN, **asking}), FAILS, ASIDE)
    with pytest.raises(Conflict, match="waits already"):
        then(scanning(), c.Paused(reason="call-back"))


def test_what_runs_has_begun_a_correction_does_not_pass_over_it():
    fix = {"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}, **SCAN}
    playbook = gate(steps=[fix, OTHER], ladder=[{"step": "fix", "when": "model is GR4"}, {"step": "other"}])
    now = then(climbed(playbook, FAILS, ASIDE), TO_GR6)
    assert (now.place, now.step.id) == ("paused", "fix")
    assert then(now, c.Resumed(), TO_GR6).step.id == "fix"


def test_its_state_is_left_when_the_case_ends_meanwhile():
    assert ids(then(scanning(footing="panel"), c.Resumed())) == ["leave:panel", "leave:lane"]
    ended = then(scanning(footing="panel"), c.Ended(end="abandoned", why_left="nobody is there"))
    assert set(ended.tied) == {"leave:panel", "leave:lane"}


def test_each_round_of_a_search_runs_by_itself_as_long_as_a_round_does():
    search = {"over": "cards", "count": 3, "how": "one-by-one", "round": {"hands_on": 1, "wait": 8}}
    now = climbed(one_rung({"search": search}), FAILS)
    assert now.unattended == 8
    on = then(now, ASIDE, c.Searched(step="fix", is_among=False))
    assert (on.place, on.search.tried, on.unattended) == ("step", (2, 2), 8)
    assert said(then(now, ASIDE))[1] == "No change: put 1 back, on to 2"


def test_after_the_run_it_may_be_watched():
    now = scanning(watch="PT4H")
    watch = next(one.move for one in answers(now) if isinstance(one.move, c.Paused))
    watched = then(now, watch)
    assert (watched.place, watched.pause.reason) == ("paused", "watch")
    assert said(watched)[:2] == ["It stayed away", "It came back"]


def test_putting_aside_is_taken_back():
    now = climbed(one_rung(SCAN), FAILS, ASIDE, c.TakenBack())
    assert (now.place, now.is_try_begun) == ("step", False)


def test_a_case_says_for_which_part_it_waits():
    part = {"what": "Card reader", "from": "Store", "number": "P-12", "expected": "2026-03-09"}
    moves = [c.Paused(reason="part", part=part), c.Resumed(), c.Ended(end="handed-off", hand_off="lane-crew")]
    now = climbed(one_rung(), FAILS, *moves)
    logged = case_of(now, "G-1", 1)
    assert [(one.what, one.number, one.since) for one in logged.parts] == [("Card reader", "P-12", now.parts[0].since)]
    with pytest.raises(Conflict, match="waits for a part"):
        climbed(one_rung(), FAILS, c.Paused(reason="answer", part=part))
