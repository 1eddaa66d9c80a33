"""What was ticked on a sheet becomes the answers that the case would have been given one by one."""

import pytest

from mildladder.core.climb.brought_back import Ticked, brought_back
from mildladder.core.climb.machine import Climb, apply
from mildladder.core.errors import Conflict
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, FOOTINGS, climbed
from tests.core.climb.test_undone import LOOK, MILD, ROUGH, SAVE, WIPE
from tests.samples import NOON, gate

STEPS = [LOOK, MILD, SAVE, ROUGH, WIPE]


def entered(now: Climb, *ticks: Ticked) -> Climb:
    for event in brought_back(now, ticks, 1, NOON):
        now = apply(now, event)
    return now


def at_first(*rungs: dict | str, **changes) -> Climb:
    ladder = [{"step": one} if isinstance(one, str) else one for one in rungs]
    return climbed(gate(steps=changes.pop("steps", STEPS), ladder=ladder, **changes), FAILS)


def told(now: Climb) -> list[tuple[str, str | None, str | None]]:
    return [(one.step, one.outcome, one.finding) for one in now.attempts]


def test_each_tick_is_an_answer_and_what_lies_between_is_skipped():
    now = entered(
        at_first("look", "mild", "wipe"),
        Ticked(path="ladder.0", finding="on"),
        Ticked(path="ladder.2", outcome="fixed"),
    )
    assert told(now) == [("look", None, "on"), ("mild", "skipped", None), ("wipe", "fixed", None)]
    assert now.place == "confirm"


def test_a_finding_leads_onto_its_rail():
    rungs = [{"step": "look", "on": {"on": [{"step": "wipe"}]}}, "mild"]
    ticks = [Ticked(path="ladder.0", finding="on"), Ticked(path="ladder.0.on.on.0", outcome="no-change")]
    assert told(entered(at_first(*rungs), *ticks))[1] == ("wipe", "no-change", None)
    with pytest.raises(Conflict, match="does not come to “Load the first settings”"):
        entered(at_first(*rungs), Ticked(path="ladder.0", finding="off"), ticks[1])


def test_states_are_left_and_a_trial_is_tested_once():
    steps = [{**WIPE, "footing": "panel", "proves": "after-leaving"}, MILD]
    now = entered(
        at_first("wipe", "mild", steps=steps, footings=FOOTINGS), Ticked(path="ladder.0", outcome="no-change")
    )
    assert (now.step.id, now.footing) == ("mild", None)
    together = [{"step": "wipe", "trial": "t"}, {"step": "mild", "trial": "t"}]
    both = [Ticked(path=f"ladder.{n}", outcome="fixed") for n in (0, 1)]
    tried = entered(at_first(*together), *both)
    assert [(one.step, one.outcome, one.trial) for one in tried.attempts] == [
        ("wipe", "fixed", 1),
        ("mild", "fixed", 1),
    ]


def test_nothing_rough_is_entered_without_a_yes():
    rough = {**ROUGH, "hazards": [{"kind": "data", "severity": 5, "chance": 0.5}]}
    guard = [{"ask": "Is it dry?", "must": "yes", "else": "skipped"}]
    for steps in ([rough], [{**MILD, "id": "rough", "guard": guard}]):
        now = at_first("rough", steps=steps)
        with pytest.raises(Conflict, match="tick that it was asked and agreed to"):
            entered(now, Ticked(path="ladder.0", outcome="fixed"))
        assert entered(now, Ticked(path="ladder.0", outcome="fixed", is_agreed=True)).place == "confirm"
        (attempt,) = entered(now, Ticked(path="ladder.0", outcome="not-available")).attempts
        assert (attempt.step, attempt.outcome) == ("rough", "skipped" if now.place == "consent" else "not-available")
        assert now.consents == ()
    both = at_first("rough", "mild", steps=[rough, MILD])
    passed_by = entered(both, Ticked(path="ladder.1", outcome="fixed"))
    assert (told(passed_by), passed_by.consents) == ([("rough", "skipped", None), ("mild", "fixed", None)], ())


def test_a_value_that_nobody_noted_is_not_known():
    asks = {**MILD, "do": [{"text": "Set {level}"}], "inputs": [{"id": "level", "ask": "Which level?"}]}
    now = entered(at_first("mild", steps=[asks]), Ticked(path="ladder.0", outcome="fixed"))
    assert (now.unknown, now.place) == (frozenset({"level"}), "confirm")


@pytest.mark.parametrize(
    "wrong",
    [Ticked(path="ladder.9", outcome="fixed"), Ticked(path="ladder.0", outcome="fixed"), Ticked(path="ladder.0")],
)
def test_what_does_not_fit_is_refused(wrong):
    with pytest.raises(Conflict):
        entered(at_first("look"), wrong)


def test_a_case_that_has_not_begun_or_waits_goes_on():
    playbook = gate(steps=STEPS, ladder=[{"step": "mild"}])
    waits = climbed(playbook, FAILS, c.Paused(reason="part"))
    assert entered(waits, Ticked(path="ladder.0", outcome="fixed")).place == "confirm"
