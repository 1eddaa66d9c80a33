"""Out of turn, off the ladder, begun, done before the call, taken over, restored for now: what an agent does on purpose."""

import pytest

from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb, apply, climb, cured_end
from mildladder.core.climb.record import case_of, hand_off_text, reopened_events
from mildladder.core.climb.turns import later_rungs
from mildladder.core.errors import Conflict
from mildladder.core.model import Attempt
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, FOOTINGS, climbed, ids, one_rung
from tests.core.climb.test_inside import then
from tests.core.climb.test_lasting import OUT, WORKS, with_spare
from tests.samples import NOON, gate

SAVE = {"id": "save", "title": "Save it", "kind": "safeguard"}
ROUGH = {"kind": "data", "severity": 4, "chance": 0.5, "eased_by": "save", "eased_to": 0.1}
STEPS = [
    {"id": "mild", "title": "Mild", "kind": "fix", "fixes": {"bad-setting": 0.3}},
    SAVE,
    {"id": "other", "title": "Other", "kind": "fix", "fixes": {"bad-setting": 0.1}},
    {"id": "rough", "title": "Rough", "kind": "fix", "fixes": {"bad-setting": 0.5}, "hazards": [ROUGH]},
]
LADDER = [{"step": step["id"]} for step in STEPS]


def rough(**changes: object):
    return gate(steps=STEPS, ladder=LADDER, **changes)


def offered(now: Climb) -> dict[str, list[str]]:
    return {task.rung.step: [one.rung.step for one in along] for task, along in later_rungs(now)}


def paths(now: Climb) -> list[str]:
    return [task.path for task in now.agenda]


def test_a_later_rung_brings_its_safeguard_and_the_ladder_goes_on_from_where_it_was():
    now = climbed(rough(), FAILS)
    assert offered(now) == {"save": [], "other": [], "rough": ["save"]}
    now = then(now, c.TakenOutOfTurn(path="ladder.3"))
    assert paths(now) == ["ladder.1", "ladder.3", "ladder.0", "ladder.2"]
    now = then(now, c.Answered(step="save", outcome="done"))
    assert (now.place, now.step.id) == ("consent", "rough")
    now = then(now, c.Consented(step="rough", answer="yes"), c.Answered(step="rough", outcome="no-change"))
    assert (now.place, now.step.id, paths(now)) == ("step", "mild", ["ladder.0", "ladder.2"])


def test_a_whole_trial_is_taken_at_once():
    ladder = [{"step": "mild"}, {"step": "save", "trial": "t"}, {"step": "other", "trial": "t"}]
    now = then(climbed(gate(steps=STEPS, ladder=ladder), FAILS), c.TakenOutOfTurn(path="ladder.2"))
    assert paths(now) == ["ladder.1", "ladder.2", "ladder.2", "ladder.0"]


def test_what_cannot_be_taken_is_refused_and_a_turn_is_taken_back():
    now = climbed(rough(), FAILS)
    for path in ("ladder.0", "ladder.9"):
        with pytest.raises(Conflict, match="cannot be taken"):
            then(now, c.TakenOutOfTurn(path=path))
    back = climbed(rough(), FAILS, c.TakenOutOfTurn(path="ladder.2"), c.TakenBack())
    assert paths(back) == [f"ladder.{n}" for n in range(4)]


def test_nothing_is_taken_out_of_turn_while_a_trial_waits_for_its_test():
    ladder = [{"step": "mild", "trial": "t"}, {"step": "other", "trial": "t"}, {"step": "save"}]
    now = then(climbed(gate(steps=STEPS, ladder=ladder), FAILS), c.Answered(step="mild", outcome="done"))
    assert offered(now) == {}


# Off the ladder


def test_what_the_agent_did_in_their_own_words_is_logged_under_them():
    did = c.OffLadder(called="Knock on the side", outcome="fixed")
    now = then(climbed(rough(), FAILS), did)
    assert (now.place, cured_end(now)) == ("confirm", "resolved")
    case = case_of(then(now, c.Ended(end="resolved")), "G-1", 1)
    assert (case.resolved_by, case.attempts[0].step) == ("Knock on the side", "Knock on the side")
    assert "Knock on the side, off the ladder: fixed it" in hand_off_text(now)


def test_a_step_is_repeated_only_with_a_reason_and_a_rough_one_with_a_yes():
    now = then(climbed(rough(), FAILS), c.Answered(step="mild", outcome="no-change"))
    again = c.OffLadder(step="mild", called="Mild", outcome="no-change")
    with pytest.raises(Conflict, match="say why"):
        then(now, again)
    done = then(now, again.model_copy(update={"why": "The lid was open"}))
    assert ([a.step for a in done.attempts], done.notes) == (["mild", "mild"], ("Mild: The lid was open",))
    assert done.step.id == now.step.id
    with pytest.raises(Conflict, match="is rough"):
        then(now, c.OffLadder(step="rough", called="Rough", outcome="no-change"))
    agreed = then(now, c.OffLadder(step="rough", called="Rough", outcome="no-change", agreed=True))
    assert [one.step for one in agreed.consents] == ["rough"]
    assert agreed.is_done("rough")


# StepBegun


def test_a_case_may_wait_before_a_step_that_must_not_be_interrupted_and_not_within_it():
    playbook = one_rung({"unbroken": True})
    now = climbed(playbook, FAILS)
    assert (now.place, then(now, c.Paused(reason="quiet-hour")).place) == ("begin", "paused")
    # Its state is entered by then, and is to be left whatever becomes of it.
    inside = climbed(one_rung({"unbroken": True, "footing": "panel"}, footings=FOOTINGS), FAILS)
    assert (inside.place, ids(inside)) == ("begin", ["leave:panel", "leave:lane"])
    assert then(now, c.Paused(reason="part"), c.Resumed()).place == "begin"
    assert then(now, c.Answered(step="fix", outcome="skipped")).place == "hand-off"
    with pytest.raises(Conflict):
        then(now, c.Answered(step="fix", outcome="fixed"))
    assert then(now, c.StepBegun(step="fix"), c.Answered(step="fix", outcome="fixed")).place == "confirm"


def test_a_case_that_a_guards_answer_hands_on_says_which_question_and_answer():
    guard = [{"ask": "Does anybody smell gas?", "must": "no", "else": {"hand_off": "crew"}}]
    playbook = one_rung({"guard": guard}, hand_offs=[{"id": "crew", "title": "Crew"}])
    now = then(climbed(playbook, FAILS), c.GuardAnswered(step="fix", number=0, answer="yes"))
    says = "Handed off before “Fix it”: Does anybody smell gas? Yes."
    assert (now.place, now.notes) == ("hand-off", (says,))
    assert says in hand_off_text(now)
    assert says in (case_of(then(now, c.Ended(end="handed-off", hand_off="crew")), "G-1", 1).notes or "")


# Before the call


def test_checks_and_safeguards_done_before_the_call_count_too():
    steps = gate().model_dump(by_alias=True, exclude_none=True)["steps"]
    check = next(step for step in steps if step["kind"] == "check")
    rail = {check["findings"][0]["id"]: [{"step": "mild"}]}
    playbook = gate(steps=[*STEPS, check], ladder=[{"step": check["id"], "on": rail}, {"step": "other"}])
    found = c.TriedBefore(step=check["id"], finding=check["findings"][0]["id"])
    now = climbed(playbook, found, c.TriedBefore(step="save"), FAILS)
    assert (now.step.id, now.findings) == ("mild", {check["id"]: check["findings"][0]["id"]})
    assert [(a.outcome, a.by) for a in now.attempts] == [(None, "before"), ("done", "before")]
    with pytest.raises(Conflict, match="no finding"):
        then(climbed(playbook, FAILS), c.TriedBefore(step=check["id"], finding="nonsense"))


# Taken over, restored


def test_who_has_the_case_is_kept_in_order():
    now = apply(climbed(rough(), FAILS), c.ClimbEvent(at=NOON, who=7, move=c.TakenOver()))
    assert [who for who, _ in now.hands] == [1, 7]


def test_what_is_restored_waits_for_its_repair_and_both_moments_are_kept():
    now = climbed(with_spare(), FAILS, WORKS, *OUT)
    assert now.is_restored
    waiting = then(now, c.Paused(reason="repair", minutes=60 * 24))
    assert waiting.place == "paused"
    mended = then(waiting, c.Resumed(), c.Answered(step="mend", outcome="fixed"))
    assert not mended.is_restored
    case = case_of(then(mended, c.Ended(end="resolved")), "G-1", 1)
    assert (case.restored, case.resolved_by) == (now.restored, "mend")


def test_only_what_was_really_tried_is_passed_when_a_case_comes_back():
    tried = [
        Attempt(step="mild", outcome="no-change"),
        Attempt(step="other", outcome="could-not"),
        Attempt(step="rough", outcome="no-change", took="no"),
        Attempt(step="nowhere", outcome="no-change"),
    ]
    case = case_of(then(climbed(rough(), FAILS), c.Ended(end="handed-off")), "G-7", 1)
    events = reopened_events(case.model_copy(update={"attempts": tuple(tried)}), rough(), 1, NOON)
    assert [one.move.step for one in events if isinstance(one.move, c.TriedBefore)] == ["mild"]
    started = events[0].move
    assert isinstance(started, c.Started)
    assert (started.reopened_from, started.facts) == ("G-7", case.facts)


def test_what_was_tried_before_stands_in_its_order_and_what_had_worked_says_so():
    case = case_of(then(climbed(rough(), FAILS), c.Ended(end="handed-off")), "G-7", 1)
    tried = (Attempt(step="mild", outcome="no-change"), Attempt(step="other", outcome="fixed"))
    events = reopened_events(case.model_copy(update={"attempts": tried}), rough(), 1, NOON)
    earlier = c.EarlierCase(case="G-7", closed=NOON, resolved_by="other")
    events[0] = events[0].model_copy(update={"move": events[0].move.model_copy(update={"history": (earlier,)})})
    now = climb(rough(), events)
    assert [one.step for one in now.attempts] == ["mild", "other"]
    told = hand_off_text(now)
    assert "- Mild: no change (before the call)" in told
    assert "- Other: fixed it in G-7, and the fault came back (before the call)" in told


def test_the_last_step_of_a_trial_leads_to_its_test():
    ladder = [{"step": one, "trial": "both"} for one in ("mild", "other")]
    now = climbed(gate(steps=STEPS, ladder=ladder), FAILS)
    first = answers(now)[0].label
    last = answers(then(now, c.Answered(step="mild", outcome="done")))[0].label
    assert (first, last) == ("Done, go on to the next", "Done: now try again")
