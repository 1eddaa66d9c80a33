"""A try that has begun, and a state that was entered: neither is passed over or forgotten, whatever comes between."""

import pytest

from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of
from mildladder.core.climb.spoken import spoken_cost
from mildladder.core.model import events as c
from mildladder.core.review import review
from tests.core.climb.test_closing import FAILS, FOOTINGS, climbed, ids, one_rung
from tests.core.climb.test_inside import then
from tests.samples import gate

WATCH = c.Paused(reason="watch", minutes=240)
TO_GR6 = c.FactGiven(fact="model", value="GR6")
FIXED = c.Answered(step="fix", outcome="fixed")
OTHER = {"id": "other", "title": "Other", "kind": "fix", "fixes": {"bad-setting": 0.5}}
SEARCH = {"over": "cards", "count": 4, "how": "one-by-one", "round": {"hands_on": 1}}
LOOK = {
    "id": "look",
    "title": "Switch recording on",
    "kind": "check",
    "watch": "PT4H",
    "findings": [{"id": "seen", "title": "Recorded"}, {"id": "none", "title": "Nothing recorded"}],
}


def watched_fix(**more) -> tuple:
    """A fix for a GR4 that is watched, and another one below it."""
    fix = {"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}, "watch": "PT4H", **more}
    return gate(
        steps=[fix, OTHER], ladder=[{"step": "fix", "when": "model is GR4"}, {"step": "other"}], footings=FOOTINGS
    )


def said(now: Climb) -> list[str]:
    return [one.label for one in answers(now) if not one.is_rare]


# A check that is read after a watch


def test_a_check_is_read_when_its_watch_is_due_or_before():
    playbook = gate(steps=[LOOK, OTHER], ladder=[{"step": "look", "on": {"seen": [{"step": "other"}]}}])
    now = climbed(playbook, FAILS)
    assert said(now) == ["Done: read it in 4 hours", "Recorded", "Nothing recorded"]
    waits = then(now, WATCH)
    assert said(waits) == ["Recorded", "Nothing recorded"]
    for one in (now, waits, then(waits, c.Resumed())):
        read = then(one, c.Answered(step="look", finding="seen"))
        assert (read.findings, read.step.id) == ({"look": "seen"}, "other")
    assert said(then(waits, c.Resumed())) == ["Recorded", "Nothing recorded"]


def test_every_answer_that_is_offered_during_a_watch_is_taken():
    waits = then(climbed(gate(steps=[LOOK], ladder=[{"step": "look"}]), FAILS), WATCH)
    for answer in answers(waits):
        then(waits, answer.move)


def test_review_calls_the_watch_of_a_check_no_idle_one():
    def idle(kind: dict) -> list[str]:
        playbook = gate(steps=[{**LOOK, **kind}], ladder=[{"step": "look"}])
        return [one.where for one in review(playbook) if one.code == "idle-watch"]

    assert idle({}) == []
    assert len(idle({"kind": "safeguard", "findings": []})) == 1


# A correction passes over no try that has begun


def test_a_fact_put_right_while_a_fix_is_watched_leaves_the_fix_under_watch():
    after = then(climbed(watched_fix(), FAILS), WATCH, TO_GR6)
    assert (after.place, after.step.id, after.facts["model"]) == ("paused", "fix", "GR6")
    fixed = then(after, FIXED)
    assert [(one.step, one.outcome) for one in fixed.attempts] == [("fix", "fixed")]
    assert case_of(then(fixed, c.Ended(end="resolved")), "G-1", 1).resolved_by == "fix"


def test_a_fact_put_right_once_the_watch_is_over_leaves_the_fix_to_be_judged():
    after = then(climbed(watched_fix(), FAILS), WATCH, c.Resumed(), TO_GR6)
    assert (after.place, after.step.id) == ("step", "fix")
    assert then(after, c.Answered(step="fix", outcome="no-change")).step.id == "other"


def test_a_fact_put_right_within_an_unbroken_step_asks_nothing_again():
    guard = [{"ask": "Is it empty?", "must": "yes", "else": "could-not"}]
    now = climbed(
        watched_fix(unbroken=True, guard=guard),
        FAILS,
        c.GuardAnswered(step="fix", number=0, answer="yes"),
        c.StepBegun(step="fix"),
    )
    after = then(now, TO_GR6)
    assert (after.place, after.step.id) == ("step", "fix")


def test_a_fact_put_right_between_two_rounds_of_a_search_leaves_the_rounds():
    look = {"id": "fix", "title": "Find it", "kind": "check", "search": SEARCH}
    found = [{"id": "found", "title": "Found"}, {"id": "none", "title": "None"}]
    playbook = gate(
        steps=[{**look, "findings": found}, OTHER],
        ladder=[{"step": "fix", "when": "model is GR4"}, {"step": "other"}],
    )
    after = then(climbed(playbook, FAILS), c.Searched(step="fix", is_among=False), TO_GR6)
    assert (after.step.id, after.rounds) == ("fix", (False,))


def test_a_try_under_way_asks_for_no_yes_that_another_variant_would_need():
    rough = {"when": "model is GR6", "hazards": [{"kind": "data", "severity": 4, "chance": 0.5}]}
    after = then(climbed(watched_fix(varies=[rough]), FAILS), WATCH, c.Resumed(), TO_GR6)
    assert (after.place, after.step.id, after.needs_consent) == ("step", "fix", False)


def test_a_case_that_was_begun_before_goes_on_by_the_rules_it_began_by():
    after = then(climbed(watched_fix(), FAILS, rules=3), WATCH, TO_GR6)
    assert after.step.id == "other"


# A state that was entered is left, by whatever way the case goes on


READS = {"footing": "panel", "do": [{"text": "Read {level}"}], "inputs": [{"id": "level", "ask": "Level?"}]}


def reading(value: str | None = "3") -> Climb:
    playbook = gate(
        steps=[{"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}, **READS}, OTHER],
        ladder=[{"step": "fix", "when": "model is GR4"}, {"step": "other"}],
        footings=FOOTINGS,
    )
    now = climbed(playbook, FAILS)
    assert now.asked_inside == ("level",)
    return then(now, c.FactGiven(fact="level", value=value))


@pytest.mark.parametrize(
    "move", [c.Answered(step="fix", outcome="skipped"), c.TakenOutOfTurn(path="ladder.1"), TO_GR6], ids=lambda m: m.kind
)
def test_what_was_entered_to_read_a_value_is_left_before_another_step(move):
    after = then(reading(), move)
    assert (after.place, after.to_close.id) == ("way-out", "leave:panel")
    out = then(after, c.TiedUp(end="leave:panel"), c.TiedUp(end="leave:lane"))
    assert (out.place, out.step.id) == ("step", "other")


def test_what_was_not_entered_is_not_left():
    after = then(reading(value=None), c.Answered(step="fix", outcome="skipped"))
    assert (after.place, after.step.id) == ("step", "other")


def test_what_something_else_fixed_meanwhile_is_left_before_the_end():
    after = then(reading(), c.OffLadder(called="Knock on the side", outcome="fixed"))
    assert (after.place, ids(after)) == ("loose-end", ["leave:panel", "leave:lane"])


def test_a_step_that_must_not_be_interrupted_is_left_where_it_was_entered():
    playbook = one_rung({"unbroken": True, "footing": "panel"}, footings=FOOTINGS)
    after = then(climbed(playbook, FAILS), c.Answered(step="fix", outcome="skipped"))
    assert (after.place, ids(after)) == ("loose-end", ["leave:panel", "leave:lane"])


# States count like steps: told, agreed to, and asked of harm


HAZARD = {"kind": "data", "severity": 4, "chance": 0.2}
LANES = [
    {
        "id": "lane",
        "title": "Lane closed",
        "enter": {"hands_on": 4, "hazards": [HAZARD], "to_hand": [{"what": "two cones", "kind": "tool"}]},
        "leave": {},
    },
    {"id": "panel", "title": "Panel open", "within": "lane", "enter": {"hands_on": 10}, "leave": {}},
]


def test_a_rough_state_is_entered_only_with_a_yes():
    playbook = one_rung({"footing": "panel", "effort": {"hands_on": 8}}, footings=LANES)
    now = climbed(playbook, FAILS)
    assert now.place == "consent"
    assert (
        spoken_cost(now.with_states)
        == "This takes about 22 minutes; in about one case of five nearly everything stored is lost for good."
    )
    inside = then(now, c.Consented(step="fix", answer="yes"))
    assert inside.place == "step"
    told = then(inside, c.Answered(step="fix", outcome="no-change", harmed=("data",)))
    assert told.attempts[0].harmed == ("data",)
    assert climbed(playbook, FAILS, rules=3).place == "step"


def test_a_state_that_the_unit_stands_in_already_is_not_told_again():
    steps = [
        {"id": name, "title": name, "kind": "fix", "fixes": {"bad-setting": 0.3}, "footing": "panel"}
        for name in ("one", "two")
    ]
    playbook = gate(steps=steps, ladder=[{"step": "one"}, {"step": "two"}], footings=LANES)
    now = climbed(playbook, FAILS, c.Consented(step="one", answer="yes"), c.Answered(step="one", outcome="no-change"))
    assert (now.place, now.step.id) == ("step", "two")
    assert now.with_states == now.step


def test_the_rounds_of_a_search_are_in_what_the_caller_is_told():
    search = {"over": "cards", "count": 7, "how": "one-by-one", "round": {"hands_on": 5}}
    playbook = one_rung({"effort": {"hands_on": 2}, "search": search})
    assert spoken_cost(climbed(playbook, FAILS).with_states) == "This takes about 22 minutes."
