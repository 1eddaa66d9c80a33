"""A search that must leave a state for each try: entered, left and tried again in every round."""

from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of, hand_off_text
from mildladder.core.climb.spoken import spoken_cost
from mildladder.core.figures.forecast import forecast
from mildladder.core.model import events as c
from mildladder.desk.guiding.climb_steps import current_step, filler_of, search_view
from tests.core.climb.test_closing import FAILS, FOOTINGS, climbed, ids, one_rung, tied
from tests.core.climb.test_inside import DONE, then
from tests.core.climb.test_under_way import said
from tests.samples import gate

OUT = tied("leave:panel", "leave:lane")
NOT_THIS_ONE = c.Searched(step="fix", is_among=False)
NONE_IS = c.Answered(step="fix", outcome="no-change")
FIXED = c.Answered(step="fix", outcome="fixed")


def swapping(count: int = 3, **more):
    """Cards changed one by one behind a panel that must be shut before the action can be tried."""
    search = {"over": "cards", "count": count, "how": "one-by-one", "round": {"hands_on": 1}, **more.pop("search", {})}
    footings = more.pop("footings", FOOTINGS)
    return one_rung({"footing": "panel", "proves": "after-leaving", "search": search, **more}, footings=footings)


def tried_once(**more) -> Climb:
    """One card has been changed, the panel shut, and the fault is still there."""
    return then(climbed(swapping(**more), FAILS), DONE, *OUT, NOT_THIS_ONE)


def test_every_round_enters_the_state_and_leaves_it_before_the_test():
    playbook = swapping()
    now = climbed(playbook, FAILS)
    entered = []
    for number in (1, 2, 3):
        view = current_step(now, forecast(playbook), filler_of(now, {}))
        entered.append([one.title for one in view.before])
        assert said(now) == ["Done: out of it, then try again"]
        waits = then(now, DONE)
        assert (waits.place, waits.to_close.id) == ("way-out", "leave:panel")
        at_test = then(waits, *OUT)
        assert (at_test.place, at_test.footing, search_view(at_test, filler_of(at_test, {})).tried_first) == (
            "test",
            None,
            number,
        )
        now = at_test if number == 3 else then(at_test, NOT_THIS_ONE)
    assert entered == [["First: Lane closed", "First: Panel open"]] * 3
    assert said(now)[:2] == ["Fixed", "No change"]
    assert then(now, NONE_IS).place == "hand-off"


def test_the_answer_to_a_try_leads_to_the_next_card_or_ends_the_fault():
    at_test = then(tried_once(), DONE, *OUT)
    assert said(at_test) == ["Fixed", "No change: put 2 back, on to 3", "Better, not gone", "Worse"]
    ended = then(at_test, FIXED)
    assert (ended.place, ended.found_at) == ("confirm", {"fix": 2})
    assert "number 2 of 3 cards" in hand_off_text(ended)


def test_the_rounds_are_one_attempt_with_all_their_minutes_and_harm():
    footings = [
        {**FOOTINGS[0]},
        {**FOOTINGS[1], "enter": {"hazards": [{"kind": "data", "severity": 1, "chance": 0.1}]}},
    ]
    harmed = c.Answered(step="fix", outcome="done", harmed=("data",))
    unharmed = c.Answered(step="fix", outcome="done", harmed=())
    playbook = swapping(footings=footings)
    now = climbed(playbook, FAILS, harmed, *OUT, NOT_THIS_ONE, unharmed, *OUT, FIXED, apart=2)
    (attempt,) = now.attempts
    assert (attempt.minutes, attempt.harmed, attempt.outcome) == (4, ("data",), "fixed")
    assert case_of(then(now, c.Ended(end="resolved")), "G-1", 1).resolved_by == "fix"


def test_a_search_that_is_given_up_between_two_rounds_leaves_no_state_open():
    skipped = then(tried_once(), c.Answered(step="fix", outcome="skipped"))
    assert (skipped.place, ids(skipped)) == ("hand-off", [])


def test_no_question_is_asked_twice_between_the_rounds():
    guard = [{"ask": "Is it empty?", "must": "yes", "else": "could-not"}]
    hazards = [{"kind": "service", "severity": 4, "chance": 0.5}]
    yes = (c.GuardAnswered(step="fix", number=0, answer="yes"), c.Consented(step="fix", answer="yes"))
    first = climbed(swapping(guard=guard, hazards=hazards), FAILS, *yes)
    assert then(first, DONE, *OUT, NOT_THIS_ONE).place == "step"


def test_a_fact_put_right_while_a_round_is_tested_does_not_end_the_search():
    at_test = then(climbed(swapping(), FAILS), DONE, *OUT, c.FactGiven(fact="model", value="GR6"))
    assert then(at_test, NOT_THIS_ONE).place == "step"


def test_by_halves_the_last_round_decides_at_its_test():
    halves = {"count": 4, "how": "halves"}
    now = climbed(swapping(search=halves), FAILS)
    now = then(now, DONE, *OUT)
    assert said(now) == ["It is among 1 to 2", "It is not among 1 to 2"]
    now = then(now, c.Searched(step="fix", is_among=True), DONE, *OUT, c.Searched(step="fix", is_among=True))
    assert (now.place, now.search.found, said(now)[0]) == ("test", 1, "Fixed")


def test_the_caller_hears_of_every_opening():
    once = [FOOTINGS[0], {**FOOTINGS[1], "enter": {"hands_on": 4}, "leave": {"hands_on": 2}}]
    now = climbed(swapping(footings=once), FAILS)
    # Two rounds on average, each of 1 minute, opening it and shutting it.
    assert spoken_cost(now.with_states) == "This takes about 14 minutes."


def test_a_watched_round_that_comes_back_goes_on_to_the_next():
    at_test = then(climbed(swapping(watch="PT4H"), FAILS), DONE, *OUT, c.Paused(reason="watch", minutes=240))
    assert said(at_test)[:2] == ["It stayed away", "It came back: put 1 back, on to 2"]
    again = then(at_test, NOT_THIS_ONE)
    assert (again.place, then(again, DONE, *OUT).watch_minutes) == ("step", 240)


def test_cases_begun_before_go_on_with_one_leaving_for_all_rounds():
    now = climbed(swapping(), FAILS, rules=4)
    assert "put 1 back, on to 2" in " ".join(one.label for one in answers(now))


def test_what_stays_changed_does_not_take_the_unit_out_of_its_state():
    undo = {"possible": "yes", "how": "Set it again", "after": "always"}
    fix = {"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}, "undo": undo}
    other = {"id": "other", "title": "Other", "kind": "fix", "fixes": {"bad-setting": 0.5}, "footing": "panel"}
    ladder = [{"step": "fix", "trial": "both"}, {"step": "other", "trial": "both"}]
    playbook = gate(steps=[fix, other], ladder=ladder, footings=FOOTINGS)
    both_done = (DONE, c.Answered(step="other", outcome="done"), c.Answered(step="other", outcome="fixed"))
    now = climbed(playbook, FAILS, *both_done)
    assert ids(now) == ["put-back:fix"], "the panel is shut on the way to it"
    stays = then(now, c.TiedUp(end="put-back:fix", why_left="it cannot be done now"))
    assert ids(stays) == ["leave:panel", "leave:lane"]
