"""Inside a step: values asked where they are read, states left as steps of their own, searches round by round."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb, apply
from mildladder.core.climb.record import case_of, hand_off_text
from mildladder.core.climb.searching import standing
from mildladder.core.errors import Conflict
from mildladder.core.figures.judgement import search_rounds
from mildladder.core.model import Effort, Playbook, Search
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, FOOTINGS, NO_CHANGE, climbed, ids, one_rung, tied
from tests.samples import NOON, gate

DONE = c.Answered(step="fix", outcome="done")


def then(now: Climb, *moves: c.Move) -> Climb:
    for move in moves:
        now = apply(now, c.ClimbEvent(at=NOON, who=1, move=move))
    return now


# Values


def test_a_fact_that_only_an_instruction_looks_at_is_asked_at_it_and_not_where_it_does_not_matter():
    do = [{"text": "Open it"}, {"text": "Set {level}", "when": "model is GR6"}, {"text": "Shut {door}"}]
    asks = [{"id": name, "ask": f"Which {name}?"} for name in ("level", "door")]
    playbook = one_rung(
        {"do": do, "inputs": asks},
        facts=[{"id": "model", "ask": "Which?", "type": "choice", "choices": {"GR4": 0.5, "GR6": 0.5}}],
    )
    here = climbed(playbook, FAILS)
    assert here.asked_inside == ("door",)
    unknown = then(here, c.FactGiven(fact="model", value=None))
    assert unknown.place == "step"
    assert unknown.asked_inside == ("level", "door")


def test_a_value_is_asked_with_the_state_entered_and_after_the_yes():
    enter = {"id": "panel", "title": "Panel", "enter": {"do": [{"text": "Turn {key}"}]}, "leave": {}}
    more = {
        "footing": "panel",
        "guard": [{"ask": "Is it empty?", "must": "yes", "else": "could-not"}],
        "do": [{"text": "Pull {lead}"}],
        "inputs": [{"id": name, "ask": name} for name in ("lead", "key")],
    }
    now = climbed(one_rung(more, footings=[enter]), FAILS)
    assert (now.place, now.asked_inside) == ("guard", ())
    now = then(now, c.GuardAnswered(step="fix", number=0, answer="yes"))
    assert (now.place, now.asked_inside) == ("step", ("key", "lead"))


def test_the_clock_of_a_step_runs_on_while_a_value_is_read():
    now = climbed(one_rung({"do": [{"text": "{a}"}], "inputs": [{"id": "a", "ask": "A"}]}), FAILS)
    assert then(now, c.FactGiven(fact="a", value="1")).since == now.since


def test_a_step_may_end_before_its_value_is_known():
    now = climbed(one_rung({"do": [{"text": "{a}"}], "inputs": [{"id": "a", "ask": "A"}]}), FAILS)
    assert then(now, c.Answered(step="fix", outcome="could-not")).place == "hand-off"


# States


def out_of_panel(**more: object) -> Playbook:
    last = {"id": "last", "title": "Last", "kind": "fix"}
    playbook = one_rung({"footing": "panel", "proves": "after-leaving", **more}, footings=FOOTINGS, steps=[last])
    return playbook.model_copy(update={"ladder": (*playbook.ladder, type(playbook.ladder[0])(step="last"))})


def test_a_step_that_is_proved_outside_is_left_step_by_step_before_it_is_tried():
    now = climbed(out_of_panel(), FAILS)
    assert [a.label for a in answers(now)][:1] == ["Done: out of it, then try again"]
    now = then(now, DONE)
    assert (now.place, now.to_close.title, now.to_close.do[0].text) == ("way-out", "Leave: Panel open", "Shut it")
    assert ids(now) == ["leave:panel", "leave:lane"]
    with pytest.raises(Conflict):
        then(now, NO_CHANGE)
    out = then(now, *tied("leave:panel", "leave:lane"))
    assert (out.place, out.footing, ids(out)) == ("test", None, [])
    assert (then(out, NO_CHANGE).place, then(out, NO_CHANGE).step.id) == ("step", "last")
    not_taken = then(out, c.Answered(step="fix", outcome="no-change", took="no"))
    assert not_taken.attempts[0].took == "no"


def test_what_could_not_be_done_leaves_the_unit_in_its_state_until_it_is_left():
    now = then(climbed(out_of_panel(), FAILS), c.Answered(step="fix", outcome="could-not"))
    assert (now.place, now.footing, now.step.id) == ("way-out", "panel", "last")
    assert ids(now) == ["leave:panel", "leave:lane"]


def test_the_way_out_that_the_forecast_pays_for_is_taken_even_into_the_same_state_again():
    again = {"id": "again", "title": "Again", "kind": "fix", "footing": "panel"}
    one = one_rung({"footing": "panel", "proves": "after-leaving"}, footings=FOOTINGS, steps=[again])
    both = one.model_copy(update={"ladder": (*one.ladder, type(one.ladder[0])(step="again"))})
    now = then(climbed(both, FAILS), c.Answered(step="fix", outcome="could-not"))
    assert (now.place, [end.id for end in now.ways_out]) == ("way-out", ["leave:panel", "leave:lane"])


def test_a_state_is_a_loose_end_from_the_moment_it_is_entered():
    now = climbed(one_rung({"footing": "panel"}, footings=FOOTINGS), FAILS)
    assert ids(now) == ["leave:panel", "leave:lane"]
    with pytest.raises(Conflict, match="Panel open"):
        then(now, c.Ended(end="abandoned"))


def test_the_next_rung_in_the_same_state_goes_on_without_leaving_it():
    again = {"id": "again", "title": "Again", "kind": "fix", "footing": "panel"}
    one = one_rung({"footing": "panel"}, footings=FOOTINGS, steps=[again])
    both = one.model_copy(update={"ladder": (*one.ladder, type(one.ladder[0])(step="again"))})
    now = then(climbed(both, FAILS), NO_CHANGE)
    assert (now.place, now.step.id, now.ways_out) == ("step", "again", ())


def test_what_cannot_be_left_stays_open_and_the_case_goes_on():
    stuck = c.TiedUp(end="leave:panel", why_left="The latch is broken")
    now = then(climbed(out_of_panel(), FAILS), DONE, stuck, *tied("leave:lane"), NO_CHANGE)
    assert (now.place, now.step.id) == ("step", "last")
    ended = then(now, c.Ended(end="handed-off"))
    assert "Left open: Leave: Panel open (The latch is broken)" in (case_of(ended, "G-1", 1).notes or "")


def test_what_could_not_be_put_back_stays_open_too():
    undo = {"possible": "yes", "after": "no-change"}
    playbook = out_of_panel(undo=undo, proves="in-place", footing=None)
    now = then(climbed(playbook, FAILS), NO_CHANGE)
    assert (now.place, now.to_close.id) == ("way-out", "put-back:fix")
    now = then(now, c.TiedUp(end="put-back:fix", why_left="No key"), c.Answered(step="last", outcome="no-change"))
    assert "Put back: Fix it (No key)" in hand_off_text(now)
    assert now.place == "hand-off"


def test_a_case_by_the_rules_of_before_leaves_unasked():
    now = climbed(out_of_panel(), FAILS, NO_CHANGE, rules=1)
    assert (now.place, now.footing, now.step.id) == ("step", None, "last")


# Searches

FINDINGS = [
    {"id": "found", "title": "One is bad", "given": {"*": 0.5}},
    {"id": "none", "title": "All are good", "given": {"*": 0.5}},
]


def searching(count: int, how: str = "halves", kind: str = "check") -> Playbook:
    search = {"over": "leads", "count": count, "how": how, "round": {"hands_on": 3}}
    step = {"id": "find", "title": "Find it", "kind": kind, "search": search}
    if kind == "check":
        step["findings"] = FINDINGS
    return gate(steps=[step], ladder=[{"step": "find"}])


def looked(is_among: bool) -> c.Searched:
    return c.Searched(step="find", is_among=is_among)


@given(count=st.integers(2, 200), how=st.sampled_from(["halves", "one-by-one"]), data=st.data())
def test_a_search_finds_every_suspect_and_takes_no_more_rounds_than_it_says(count, how, data):
    search = Search(over="leads", count=count, how=how, round=Effort())
    bad = data.draw(st.integers(0, count))
    rounds: list[bool] = []
    most = standing(search, []).rounds_left
    while (tried := standing(search, rounds).tried) is not None:
        assert standing(search, rounds).rounds_left <= most - len(rounds)
        rounds.append(tried[0] <= bad <= tried[1])
    assert standing(search, rounds).found == (bad or None)
    assert len(rounds) <= most
    if bad == 0:
        assert len(rounds) == search_rounds(count, how, is_found=False)


@pytest.mark.parametrize("how", ["halves", "one-by-one"])
@pytest.mark.parametrize("count", [2, 3, 5, 8, 11, 16])
def test_rounds_are_those_of_the_forecast_but_for_the_one_that_makes_sure_of_the_last(count, how):
    search = Search(over="leads", count=count, how=how, round=Effort())
    taken = []
    for bad in range(1, count + 1):
        rounds: list[bool] = []
        while (tried := standing(search, rounds).tried) is not None:
            rounds.append(tried[0] <= bad <= tried[1])
        taken.append(len(rounds))
    assert (sum(taken) - 1) / count == pytest.approx(search_rounds(count, how, is_found=True))


def test_a_check_is_guided_by_halves_and_says_which_one_it_was():
    now = climbed(searching(8), FAILS)
    assert [a.label for a in answers(now)][:2] == ["It is among 1 to 4", "It is not among 1 to 4"]
    now = then(now, looked(True), looked(False))
    assert (now.search.first, now.search.last, now.search.tried) == (3, 4, (3, 3))
    now = then(now, looked(True))
    assert answers(now)[0].label == "All back in use: one is bad, number 3"
    with pytest.raises(Conflict, match="nothing is left to search"):
        then(now, looked(True))
    told = then(now, answers(now)[0].move)
    assert told.found_at == {"find": 3}
    assert "Find it: One is bad, number 3 of 8 leads" in hand_off_text(told)


def test_the_last_suspect_is_not_taken_for_bad_unseen():
    now = then(climbed(searching(4), FAILS), looked(False), looked(False))
    assert now.search.tried == (4, 4)
    assert then(now, looked(False)).search.is_decided
    assert answers(then(now, looked(False)))[0].label == "All back in use: all are good"


def test_a_fix_tries_one_after_the_other_until_one_helps():
    now = climbed(searching(2, "one-by-one", "fix"), FAILS)
    labels = [a.label for a in answers(now) if not a.is_rare]
    assert labels[:2] == ["Fixed", "No change: put 1 back, on to 2"]
    now = then(now, answers(now)[1].move)
    assert "No change" in [a.label for a in answers(now)]
    assert then(now, c.Answered(step="find", outcome="no-change")).place == "hand-off"


def test_a_round_is_taken_back_alone_and_a_new_step_begins_its_own_search():
    now = climbed(searching(8), FAILS, looked(True), looked(False), c.TakenBack())
    assert now.rounds == (True,)
    ended = then(now, c.Answered(step="find", outcome="could-not"))
    assert ended.rounds == ()
