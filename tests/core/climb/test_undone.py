"""A step that undoes others: from then on they are not done, and nothing is known of what they found."""

from mildladder.core.climb.lacking import in_words
from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, climbed
from tests.core.climb.test_inside import then
from tests.samples import gate

LOOK = {
    "id": "look",
    "title": "Look at the lamp",
    "kind": "check",
    "findings": [
        {"id": "on", "title": "It is on", "given": {"*": 0.5}},
        {"id": "off", "title": "It is off", "given": {"*": 0.5}},
    ],
}
WIPE = {"id": "wipe", "title": "Load the first settings", "kind": "fix", "fixes": {"bad-setting": 0.5}}
MILD = {"id": "mild", "title": "Turn it on", "kind": "fix", "fixes": {"bad-setting": 0.5}}
SAVE = {"id": "save", "title": "Save the counts", "kind": "safeguard"}
ROUGH = {
    "id": "rough",
    "title": "Clear the memory",
    "kind": "fix",
    "fixes": {"bad-setting": 0.5},
    "hazards": [{"kind": "data", "severity": 2, "chance": 0.5, "eased_by": "save", "eased_to": 0}],
}
FAILED = c.Answered(step="wipe", outcome="no-change")
LAMP_ON = c.Answered(step="look", finding="on")
SAVED = c.Answered(step="save", outcome="done")


def ladder(*rungs: str, **wipe) -> object:
    """These rungs; the step that wipes undoes the look and what was saved."""
    steps = [LOOK, {**WIPE, "cancels": ["look", "save"], **wipe}, MILD, SAVE, ROUGH]
    when = {"mild": "look found on"}
    return gate(steps=steps, ladder=[{"step": one, **({"when": when[one]} if one in when else {})} for one in rungs])


def at(now: Climb) -> tuple[str, str]:
    return now.place, now.step.id


def test_what_was_undone_comes_up_again_and_what_it_found_is_not_known_meanwhile():
    now = then(climbed(ladder("look", "wipe", "mild", "look", "mild"), FAILS), LAMP_ON, FAILED)
    assert at(now) == ("step", "look")
    assert [(path, one.step) for path, one in now.passed] == [("ladder.2", "mild")]
    found_again = then(now, c.Answered(step="look", finding="on"))
    assert (at(found_again), found_again.findings) == (("step", "mild"), {"look": "on"})


def test_a_check_that_nothing_undid_is_not_asked_twice():
    now = then(climbed(ladder("look", "wipe", "look", cancels=[]), FAILS), LAMP_ON, FAILED)
    assert (now.place, now.findings) == ("hand-off", {"look": "on"})


def test_what_could_not_be_done_undoes_nothing():
    for outcome in ("could-not", "not-available", "skipped", "nothing-to-do"):
        now = then(climbed(ladder("look", "wipe", "mild"), FAILS), LAMP_ON, c.Answered(step="wipe", outcome=outcome))
        assert (now.step.id, now.findings) == ("mild", {"look": "on"})
    not_taken = c.Answered(step="wipe", outcome="no-change", took="no")
    assert then(climbed(ladder("look", "wipe", "mild"), FAILS), LAMP_ON, not_taken).step.id == "mild"


def test_a_safeguard_that_was_undone_makes_nothing_safe_and_that_is_agreed_to():
    now = then(climbed(ladder("save", "wipe", "rough"), FAILS), SAVED, FAILED)
    assert at(now) == ("consent", "rough")
    assert [in_words(one, "Save the counts", now.step) for one in now.lacks] == [
        "“Save the counts” has been undone since: something stored may be lost; that cannot be undone"
    ]
    safe = then(climbed(ladder("save", "wipe", "rough", cancels=["look"]), FAILS), SAVED, FAILED)
    assert at(safe) == ("step", "rough")


def test_what_it_does_itself_it_does_not_undo():
    playbook = ladder("look", "wipe", "look", cancels=["save"], includes=["look"])
    assert then(climbed(playbook, FAILS), LAMP_ON, FAILED).place == "hand-off"


def test_what_is_done_off_the_ladder_undoes_too():
    off = c.OffLadder(step="wipe", called="Load the first settings", outcome="no-change")
    now = then(climbed(ladder("look", "mild", "look"), FAILS), LAMP_ON, off)
    assert (at(now), now.findings) == (("step", "look"), {})
    assert not now.is_done("look")


def test_both_looks_stand_in_the_log():
    now = then(climbed(ladder("look", "wipe", "look"), FAILS), LAMP_ON, FAILED, c.Answered(step="look", finding="off"))
    logged = case_of(then(now, c.Ended(end="handed-off", hand_off="lane-crew")), "G-1", 1)
    assert [(one.step, one.finding) for one in logged.attempts] == [("look", "on"), ("wipe", None), ("look", "off")]


def test_a_rung_may_hang_on_how_a_step_ended():
    rungs = [{"step": "wipe"}, {"step": "mild", "when": "wipe ended could-not"}, {"step": "save"}]
    playbook = gate(steps=[{**WIPE, "done": 0.5}, MILD, SAVE], ladder=rungs)
    missed = then(climbed(playbook, FAILS), c.Answered(step="wipe", outcome="could-not"))
    assert at(missed) == ("step", "mild")
    not_taken = then(climbed(playbook, FAILS), c.Answered(step="wipe", outcome="no-change", took="no"))
    assert at(not_taken) == ("step", "mild")
    done = then(climbed(playbook, FAILS), FAILED)
    assert at(done) == ("step", "save")
    assert done.passed[0][1].why == "only where “Load the first settings” ended “Could not do it”"
