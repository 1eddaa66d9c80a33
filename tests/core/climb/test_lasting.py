"""What a workaround brings back is repaired in the same case; things are put back where that is done; texts are filled."""

import pytest

from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import apply, climb, cured_end
from mildladder.core.climb.record import case_of
from mildladder.core.errors import Conflict
from mildladder.core.ladder.shown import filled_step
from mildladder.core.ladder.soundness import faults
from mildladder.core.model import Playbook
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, FOOTINGS, climbed, ids, one_rung, tied
from tests.samples import NOON, gate

SPARE = {
    "id": "spare",
    "title": "Give a spare",
    "kind": "workaround",
    "fixes": {"bad-setting": 0.9},
    "footing": "panel",
}
MEND = {"id": "mend", "title": "Mend it", "kind": "fix", "fixes": {"bad-setting": 0.9}}
LAST = {"id": "last", "title": "Last", "kind": "fix", "fixes": {"bad-setting": 0.1}}
WORKS = c.Answered(step="spare", outcome="fixed")
OUT = tied("leave:panel", "leave:lane")


def with_spare() -> Playbook:
    ladder = [{"step": "spare", "on": {"restored": [{"step": "mend"}]}}, {"step": "last"}]
    return gate(steps=[SPARE, MEND, LAST], ladder=ladder, footings=FOOTINGS)


def test_what_is_restored_is_mended_in_the_same_case_and_then_resolved():
    now = climbed(with_spare(), FAILS, WORKS)
    # The spare's footing is left before the lasting repair.
    assert (now.place, now.step.id, now.fixed_by) == ("way-out", "mend", None)
    now = climbed(with_spare(), FAILS, WORKS, *OUT)
    assert (now.place, now.step.id, now.footing, now.route) == ("step", "mend", None, ())
    mended = climbed(with_spare(), FAILS, WORKS, *OUT, c.Answered(step="mend", outcome="fixed"))
    assert (mended.place, cured_end(mended)) == ("confirm", "resolved")
    ended = climbed(with_spare(), FAILS, WORKS, *OUT, c.Answered(step="mend", outcome="fixed"), c.Ended(end="resolved"))
    assert case_of(ended, "C-1", 1).resolved_by == "mend"


def test_what_is_restored_and_not_mended_stays_worked_around_and_nothing_below_is_tried():
    now = climbed(with_spare(), FAILS, WORKS, *OUT, c.Answered(step="mend", outcome="no-change"))
    assert (now.place, now.fixed_by, cured_end(now)) == ("confirm", "ladder.0", "worked-around")
    ended = climbed(
        with_spare(), FAILS, WORKS, *OUT, c.Answered(step="mend", outcome="no-change"), c.Ended(end="worked-around")
    )
    assert case_of(ended, "C-1", 1).resolved_by == "spare"


def test_a_workaround_that_does_not_help_goes_on_below():
    now = climbed(with_spare(), FAILS, c.Answered(step="spare", outcome="no-change"), *OUT)
    assert (now.place, now.step.id) == ("step", "last")


def test_an_answer_taken_back_takes_the_lasting_repair_with_it():
    now = climbed(with_spare(), FAILS, WORKS, c.TakenBack())
    assert (now.place, now.step.id) == ("step", "spare")


UNDO = {"possible": "yes", "after": "always", "how": "Set it back"}


def in_two_footings() -> Playbook:
    first = {"id": "first", "title": "First", "kind": "fix", "undo": {**UNDO, "footing": "panel"}}
    second = {"id": "second", "title": "Second", "kind": "fix", "undo": UNDO, "footing": "lane"}
    ladder = [{"step": "first", "trial": "both"}, {"step": "second", "trial": "both"}, {"step": "last"}]
    return gate(steps=[first, second, LAST], ladder=ladder, footings=FOOTINGS)


def both(outcome: str) -> list[c.Move]:
    done = [c.Answered(step=name, outcome="done") for name in ("first", "second")]
    return [FAILS, *done, c.Answered(step="second", outcome=outcome)]


def test_what_a_trial_changed_is_put_back_last_first_each_in_its_footing():
    failed = climbed(in_two_footings(), *both("no-change"))
    assert [(step.id, footing) for step, footing in failed.puts_back] == [("second", "lane"), ("first", "panel")]
    assert (failed.footing, failed.bound_for) == ("lane", "panel")
    fixed = climbed(in_two_footings(), *both("fixed"))
    assert ids(fixed) == ["put-back:second", "put-back:first", "leave:panel", "leave:lane"]
    one = climbed(in_two_footings(), *both("fixed"), *tied("put-back:second", "put-back:first"))
    assert (one.footing, ids(one)) == ("panel", ["leave:panel", "leave:lane"])


@pytest.mark.parametrize(
    ("key", "place"), [("say", "fact"), ("expect", "step"), ("missing", "step"), ("stuck", "step")]
)
def test_a_name_in_any_text_of_a_step_is_asked_for_and_filled_in(key, place):
    lane = {"id": "lane", "ask": "Which lane?"}
    playbook = one_rung({key: "Lane {lane}", "inputs": [lane]})
    now = climbed(playbook, FAILS)
    assert (now.place, now.asked.id) == (place, "lane")
    assert climbed(playbook, FAILS, rules=1).place == "fact"
    now = climbed(playbook, FAILS, c.FactGiven(fact="lane", value="7"))
    filled = filled_step(now.step, lambda text: text.replace("{lane}", now.known["lane"]))
    assert (now.place, getattr(filled, key)) == ("step", "Lane 7")


def test_what_the_way_to_a_step_waits_for_is_asked_for_on_it():
    footing = {"id": "lane", "title": "Lane {lane} closed", "enter": {"do": [{"text": "Close {lane}"}]}, "leave": {}}
    helper = {"id": "other", "title": "O", "kind": "fix", "inputs": [{"id": "lane", "ask": "Which lane?"}]}
    now = climbed(one_rung({"footing": "lane"}, footings=[footing], steps=[helper]), FAILS)
    assert (now.place, now.asked.id) == ("step", "lane")


# Cases that were guided by the rules of before


def events(*moves: c.Move) -> list[c.ClimbEvent]:
    started = c.Started(facts={"model": "GR4"}, rules=1)
    return [c.ClimbEvent(at=NOON, who=1, move=move) for move in (started, *moves)]


def with_hazard(severity: int, chance: float) -> Playbook:
    return one_rung({"hazards": [{"kind": "service", "severity": severity, "chance": chance}]})


YES, DONE = c.Consented(step="fix", answer="yes"), c.Answered(step="fix", outcome="no-change")


def test_a_yes_that_is_not_asked_for_today_stands():
    mild = with_hazard(1, 1.0)
    assert climbed(mild, FAILS).place == "step"
    now = climb(mild, events(FAILS, YES, DONE))
    assert (now.place, len(now.consents), len(now.attempts)) == ("hand-off", 1, 1)
    no = climb(mild, events(FAILS, c.Consented(step="fix", answer="no")))
    assert no.attempts[0].outcome == "skipped"


def test_a_step_that_was_done_without_a_yes_which_it_needs_today_was_done():
    severe = with_hazard(5, 0.02)
    assert climbed(severe, FAILS).place == "consent"
    now = climb(severe, events(FAILS, DONE))
    assert (now.place, len(now.attempts)) == ("hand-off", 1)
    # A new answer is held to the rules of today.
    with pytest.raises(Conflict):
        apply(climb(severe, events(FAILS)), events(DONE)[1])


def test_a_value_that_was_not_asked_for_before_stays_unknown():
    playbook = one_rung({"expect": "Lane {lane}", "inputs": [{"id": "lane", "ask": "Which lane?"}]})
    now = climb(playbook, events(FAILS, DONE))
    assert (now.place, "lane" in now.unknown) == ("hand-off", True)
    with pytest.raises(Conflict):
        apply(climb(playbook, events(FAILS)), events(DONE)[1])


# A workaround that is taken off again for the lasting repair


def with_bypass(**mend) -> Playbook:
    undo = {"possible": "yes", "how": "Pull the bypass", "after": "restored"}
    after = [{"text": "Tell the crew", "if": "always"}]
    bypass = {"id": "spare", "title": "Bypass it", "kind": "workaround", "do": [{"text": "Plug the bypass in"}]}
    repair = {**MEND, **mend}
    return gate(
        steps=[{**bypass, "fixes": {"bad-setting": 0.9}, "undo": undo, "afterwards": after}, repair, LAST],
        ladder=[{"step": "spare", "on": {"restored": [{"step": "mend"}]}}, {"step": "last"}],
        footings=FOOTINGS,
    )


MENDED = c.Answered(step="mend", outcome="done")
OFF = c.TiedUp(end="put-back:spare")


def test_the_workaround_is_taken_off_between_the_repair_and_its_test():
    now = climbed(with_bypass(), FAILS, WORKS)
    assert answers(now)[0].label == "Done: the workaround off, then try again"
    done = climbed(with_bypass(), FAILS, WORKS, MENDED)
    assert (done.place, done.to_close.title, done.to_close.do[0].text) == (
        "way-out",
        "Put back: Bypass it",
        "Pull the bypass",
    )
    tested = climbed(with_bypass(), FAILS, WORKS, MENDED, OFF)
    assert (tested.place, tested.open_ends) == ("test", tested.open_ends)
    fixed = climbed(with_bypass(), FAILS, WORKS, MENDED, OFF, c.Answered(step="mend", outcome="fixed"))
    assert (ids(fixed), cured_end(fixed)) == (["after:spare:0"], "resolved"), "its afterwards come after the repair"


def test_a_repair_that_does_not_help_needs_the_workaround_again():
    failed = climbed(with_bypass(), FAILS, WORKS, MENDED, OFF, c.Answered(step="mend", outcome="no-change"))
    assert ids(failed) == ["after:spare:0", "after:spare:on"]
    assert failed.open_ends[1].do[0].text == "Plug the bypass in"
    closed = climbed(
        with_bypass(), FAILS, WORKS, MENDED, OFF, c.Answered(step="mend", outcome="no-change"),
        *tied("after:spare:0", "after:spare:on"),
    )  # fmt: skip
    assert (closed.place, cured_end(closed)) == ("confirm", "worked-around")


def test_a_repair_that_is_not_carried_out_leaves_the_workaround_on():
    skipped = climbed(with_bypass(), FAILS, WORKS, c.Answered(step="mend", outcome="could-not"))
    assert ids(skipped) == ["after:spare:0"]


def test_what_must_be_left_for_the_test_is_left_once_the_workaround_is_off():
    playbook = with_bypass(footing="panel", proves="after-leaving")
    done = climbed(playbook, FAILS, WORKS, MENDED)
    assert done.to_close.id == "put-back:spare"
    off = climbed(playbook, FAILS, WORKS, MENDED, OFF)
    assert (off.place, off.footing) == ("test", None), "the panel is shut on the way to the bypass"


def test_only_a_workaround_is_taken_off_for_a_repair():
    undo = {"possible": "yes", "after": "restored"}
    (fault,) = faults(one_rung({"undo": undo}))
    assert (fault.path, "only a workaround" in fault.says) == ("steps.0.undo.after", True)
