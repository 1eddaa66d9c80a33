"""What was to make a step safe and could not be done is told, and asks for a yes of its own."""

import pytest

from mildladder.core.climb import machine
from mildladder.core.climb.lacking import in_words
from mildladder.core.errors import Conflict
from mildladder.core.model import events as c
from tests.core.climb.test_machine import FAILS, LOOKED, NO_CHANGE, SAVED, climbed
from tests.samples import NOON, gate

LOST = c.Answered(step="save-counts", outcome="could-not")
GUARDED = c.GuardAnswered(step="reload-program", number=0, answer="yes")


def said(now: machine.Climb) -> list[str]:
    return [in_words(one, now.playbook.step(one.step).title, now.step) for one in now.lacks]


def test_a_safeguard_that_could_not_be_done_is_named_with_what_stays_lost():
    safe = climbed(FAILS, LOOKED, NO_CHANGE, SAVED, GUARDED)
    assert safe.lacks == ()
    bare = climbed(FAILS, LOOKED, NO_CHANGE, LOST, GUARDED)
    assert (bare.place, bare.step.id) == ("consent", "reload-program")
    assert said(bare) == [
        "“Save the passage counts” could not be done: something stored may be lost; that cannot be undone"
    ]


@pytest.mark.parametrize(
    ("outcome", "says"),
    [("not-available", "is not there on this unit"), ("skipped", "was skipped"), ("could-not", "could not be done")],
)
def test_a_mild_step_asks_for_a_yes_only_where_what_it_needs_failed(outcome, says):
    steps = [
        {"id": "copy-it", "title": "Copy the settings", "kind": "safeguard"},
        {"id": "unlock", "title": "Unlock the page", "kind": "safeguard"},
        {
            "id": "set-it",
            "title": "Set it anew",
            "kind": "fix",
            "fixes": {"bad-setting": 0.5},
            "needs": ["unlock"],
            "hazards": [{"kind": "data", "severity": 1, "chance": 0.1, "eased_by": "copy-it", "eased_to": 0.1}],
            "undo": {"possible": "partly"},
        },
    ]
    playbook = gate(steps=steps, ladder=[{"step": step["id"]} for step in steps])

    def after(*moves: c.Move) -> machine.Climb:
        started = c.Started(said="", facts={"model": "GR4"})
        return machine.climb(playbook, [c.ClimbEvent(at=NOON, who=1, move=move) for move in (started, *moves)])

    done = after(FAILS, c.Answered(step="copy-it", outcome="done"), c.Answered(step="unlock", outcome="done"))
    assert done.place == "step"
    failed = after(FAILS, c.Answered(step="copy-it", outcome=outcome), c.Answered(step="unlock", outcome=outcome))
    assert failed.place == "consent"
    assert said(failed) == [
        f"“Copy the settings” {says}: something stored may be lost; only part of that can be undone",
        f"“Unlock the page” {says}, and this step needs it",
    ]
    ahead = (FAILS, c.Answered(step="copy-it", outcome=outcome), c.Answered(step="unlock", outcome=outcome))
    with pytest.raises(Conflict):
        machine.apply(failed, c.ClimbEvent(at=NOON, who=1, move=c.Answered(step="set-it", outcome="fixed")))
    agreed = after(*ahead, c.Consented(step="set-it", answer="yes"))
    assert (agreed.place, [one.step for one in agreed.consents]) == ("step", ["set-it"])
    refused = after(*ahead, c.Consented(step="set-it", answer="no"))
    assert [(one.step, one.outcome) for one in refused.attempts][-1] == ("set-it", "skipped")
    # A case from before this was asked goes on as it was answered.
    assert after(*ahead, c.Answered(step="set-it", outcome="fixed")).place == "confirm"
