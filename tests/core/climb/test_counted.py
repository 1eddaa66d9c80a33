"""A search of as many suspects as the agent says there are, and the number that it was, as a value for what follows."""

import pytest

from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of, hand_off_text
from mildladder.core.errors import Conflict
from mildladder.core.model import events as c
from mildladder.core.review import review
from tests.core.climb.test_closing import FAILS, climbed
from tests.core.climb.test_inside import then
from tests.samples import gate

FOUND = [
    {"id": "found", "title": "One is bad", "given": {"bad-setting": 0.9, "*": 0.1}},
    {"id": "none", "title": "All are good", "given": {"bad-setting": 0.1, "*": 0.9}},
]


def searching(how: str = "halves", **search):
    """A search for the bad lead, and a fix that names it in a command."""
    look = {
        "id": "find-lead",
        "title": "Find the bad lead",
        "kind": "check",
        "findings": FOUND,
        "search": {"over": "leads", "count": 4, "how": how, "round": {"hands_on": 1}, "ask": True, **search},
    }
    swap = {
        "id": "swap",
        "title": "Change the lead",
        "kind": "fix",
        "fixes": {"bad-setting": 0.9},
        "do": [{"text": "Pull lead {lead}"}, {"text": "Tell the lane", "copy": "lead {lead} off"}],
    }
    return gate(steps=[look, swap], ladder=[{"step": "find-lead"}, {"step": "swap"}])


def counted(number: str | None, how: str = "halves", **search) -> Climb:
    return then(climbed(searching(how, **search), FAILS), c.FactGiven(fact="count-of-find-lead", value=number))


def tried(*among: bool) -> list[c.Searched]:
    return [c.Searched(step="find-lead", is_among=one) for one in among]


def test_how_many_there_are_is_asked_before_the_search_and_the_usual_number_stands_where_nobody_can_tell():
    asked = climbed(searching(), FAILS)
    assert (asked.place, asked.asked.ask) == ("fact", "How many leads are there here?")
    assert counted("9").search.last == 9
    assert counted(None).search.last == 4
    assert climbed(searching(ask=False), FAILS).search.last == 4


@pytest.mark.parametrize("value", ["0", "2.5", "-3", "many", "99999"])
def test_only_a_whole_number_is_a_count(value):
    asked = climbed(searching(), FAILS)
    with pytest.raises(Conflict, match="cannot be right; it looks like this: a whole number"):
        then(asked, c.FactGiven(fact="count-of-find-lead", value=value))


def test_one_lead_is_looked_at_alone():
    now = counted("1")
    assert (now.search.tried, now.search.rounds_left) == ((1, 1), 1)
    assert then(now, *tried(False)).search.is_decided
    assert then(now, *tried(True)).search.found == 1


def test_the_one_that_was_found_fills_what_follows_and_stands_in_log_and_hand_off():
    now = then(counted("8", found="lead"), *tried(False, True, False), c.Answered(step="find-lead", finding="found"))
    assert (now.step.id, now.values["lead"], now.for_commands["lead"]) == ("swap", "6", "6")
    assert now.asked_inside == ()
    text = hand_off_text(now)
    assert "Which of the leads is it? 6" in text
    assert "number 6 of 8 leads" in text
    logged = case_of(then(now, c.Answered(step="swap", outcome="fixed"), c.Ended(end="resolved")), "G-1", 1)
    assert logged.values == {"count-of-find-lead": "8", "lead": "6"}


def test_which_one_it_is_is_asked_where_it_was_seen_otherwise():
    now = then(counted("8", found="lead"), c.Answered(step="find-lead", finding="found"))
    assert (now.asked_inside, now.asked.ask) == (("lead",), "Which of the leads is it?")


def test_the_search_itself_does_not_ask_for_what_it_is_to_find():
    playbook = searching(found="lead")
    look = playbook.steps[0].model_copy(update={"expect": "Lead {lead} is dark"})
    playbook = playbook.model_copy(update={"steps": (look, playbook.steps[1])})
    now = then(climbed(playbook, FAILS), c.FactGiven(fact="count-of-find-lead", value="3"))
    assert (now.place, now.asked_inside) == ("step", ())


def test_another_count_within_the_search_begins_halves_anew_and_keeps_what_was_tried_one_by_one():
    more = c.FactGiven(fact="count-of-find-lead", value="12")
    halves = then(counted("8"), *tried(False), more)
    assert (halves.place, halves.search.tried) == ("step", (1, 6))
    one_by_one = then(counted("8", "one-by-one"), *tried(False, False), more)
    assert (one_by_one.search.tried, one_by_one.search.last) == ((3, 3), 12)
    fewer = then(counted("8", "one-by-one"), *tried(*[False] * 6), c.FactGiven(fact="count-of-find-lead", value="4"))
    assert fewer.search.tried == (4, 4)


def test_review_knows_that_the_search_fills_the_value_and_that_it_is_used():
    codes = {one.code for one in review(searching(found="lead"))}
    assert not codes & {"unfilled-value", "idle-check"}
    unnamed = [one for one in review(searching()) if one.code in ("unfilled-value", "idle-check")]
    assert {one.code for one in unnamed} == {"unfilled-value", "idle-check"}
