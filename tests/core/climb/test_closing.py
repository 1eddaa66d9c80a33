"""Before a case is closed: loose ends, preventions; and while it waits: watches and other pauses, readings, messages."""

from datetime import timedelta
from typing import Any

import pytest

from mildladder.core.climb import machine
from mildladder.core.climb.answers import answers
from mildladder.core.climb.record import case_of, hand_off_text
from mildladder.core.errors import Conflict
from mildladder.core.model import Playbook
from mildladder.core.model import events as c
from tests.samples import GATE, NOON, gate

FAILS = c.BaselineSeen(result="fails")
FIXED = c.Answered(step="fix", outcome="fixed")
NO_CHANGE = c.Answered(step="fix", outcome="no-change")
FOOTINGS = [
    {"id": "lane", "title": "Lane closed", "enter": {}, "leave": {}},
    {"id": "panel", "title": "Panel open", "within": "lane", "enter": {}, "leave": {"do": [{"text": "Shut it"}]}},
]


def one_rung(more: dict[str, Any] | None = None, **changes: Any) -> Playbook:
    """A ladder of one fix, with some of its keys and some of the playbook's replaced."""
    fix = {"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}, **(more or {})}
    others = changes.pop("steps", [])
    return gate(steps=[fix, *others], ladder=[{"step": "fix"}], **changes)


def climbed(
    playbook: Playbook, *moves: c.Move, said: str = "", apart: float = 1, rules: int = c.RULES
) -> machine.Climb:
    """The climb after these moves, so many minutes apart, by these rules."""
    started = c.Started(said=said, facts={"model": "GR4"}, rules=rules)
    events = [
        c.ClimbEvent(at=NOON + timedelta(minutes=n * apart), who=1, move=move)
        for n, move in enumerate([started, *moves])
    ]
    if isinstance(moves[-1], c.TakenBack):
        return machine.climb(playbook, events)
    return machine.apply(machine.climb(playbook, events[:-1]), events[-1])


def ids(now: machine.Climb) -> list[str]:
    return [end.id for end in now.open_ends]


def tied(*names: str) -> list[c.TiedUp]:
    return [c.TiedUp(end=name) for name in names]


# Loose ends


def test_footings_are_left_inside_out_before_the_case_is_closed():
    playbook = one_rung({"footing": "panel"}, footings=FOOTINGS)
    fixed = climbed(playbook, FAILS, FIXED)
    assert (fixed.place, ids(fixed)) == ("loose-end", ["leave:panel", "leave:lane"])
    assert fixed.open_ends[0].do[0].text == "Shut it"
    out = climbed(playbook, FAILS, FIXED, *tied("leave:panel", "leave:lane"))
    assert (out.place, out.footing) == ("confirm", None)


def test_what_did_not_help_is_put_back_when_nothing_follows():
    undo = {"possible": "yes", "how": "Set it to Open", "after": "no-change"}
    failed = climbed(one_rung({"undo": undo}), FAILS, NO_CHANGE)
    assert (failed.place, ids(failed)) == ("loose-end", ["put-back:fix"])
    assert failed.open_ends[0].do[0].text == "Set it to Open"
    assert climbed(one_rung({"undo": undo}), FAILS, NO_CHANGE, *tied("put-back:fix")).place == "hand-off"
    assert climbed(one_rung({"undo": undo}), FAILS, FIXED).place == "confirm"


@pytest.mark.parametrize(
    ("undo", "when_fixed", "when_not"),
    [("never", False, False), ("no-change", False, True), ("always", True, True)],
)
def test_put_back_after_what_the_step_says(undo, when_fixed, when_not):
    playbook = one_rung({"undo": {"possible": "yes", "after": undo}})
    assert bool(ids(climbed(playbook, FAILS, FIXED))) == when_fixed
    assert bool(ids(climbed(playbook, FAILS, NO_CHANGE))) == when_not
    did_not_take = c.Answered(step="fix", outcome="no-change", took="no")
    assert ids(climbed(playbook, FAILS, did_not_take)) == []


@pytest.mark.parametrize(("after", "fixed", "not_fixed"), [("always", 1, 1), ("fixed", 1, 0), ("not-fixed", 0, 1)])
def test_what_a_step_leaves_is_closed_after_the_ends_that_it_names(after, fixed, not_fixed):
    playbook = one_rung({"afterwards": [{"text": "Tell the crew", "if": after}]})
    assert len(ids(climbed(playbook, FAILS, FIXED))) == fixed
    assert len(ids(climbed(playbook, FAILS, NO_CHANGE))) == not_fixed
    assert ids(climbed(playbook, FAILS, c.Answered(step="fix", outcome="could-not"))) == []
    assert ids(climbed(playbook, c.TriedBefore(step="fix"), FAILS)) == []


def test_a_case_does_not_close_over_a_loose_end_without_a_reason():
    playbook = one_rung({"footing": "panel", "afterwards": [{"text": "Tell the crew"}]}, footings=FOOTINGS)
    with pytest.raises(Conflict, match=r"Leave: Panel open; Leave: Lane closed; Tell the crew.*say why"):
        climbed(playbook, FAILS, NO_CHANGE, c.Ended(end="abandoned"))
    left = climbed(playbook, FAILS, NO_CHANGE, c.Ended(end="abandoned", why_left="Nobody there"))
    notes = case_of(left, "G-1", 1).notes
    assert notes.splitlines() == [
        "Left open: Leave: Panel open (Nobody there)",
        "Left open: Leave: Lane closed (Nobody there)",
        "Left open: Tell the crew (Nobody there)",
    ]


def test_a_case_that_was_once_closed_over_a_loose_end_can_still_be_read():
    playbook = one_rung({"footing": "panel"}, footings=FOOTINGS)
    moves = [c.Started(facts={"model": "GR4"}), FAILS, FIXED, c.Ended(end="resolved", confirmed="caller")]
    old = machine.climb(playbook, [c.ClimbEvent(at=NOON, who=1, move=move) for move in moves])
    assert (old.place, old.ended.end) == ("ended", "resolved")
    assert "Leave: Panel open (nobody said why)" in case_of(old, "G-1", 1).notes


def test_what_stays_open_is_told_to_the_next_team():
    playbook = one_rung({"afterwards": [{"text": "Tell the crew"}, {"text": "Lock it"}]})
    left = c.TiedUp(end="after:fix:0", why_left="it cannot be done now")
    text = hand_off_text(climbed(playbook, FAILS, NO_CHANGE, left))
    assert "Left open:\n- Tell the crew (it cannot be done now)\n- Lock it" in text


def test_only_the_next_loose_end_is_closed_and_it_can_be_taken_back():
    playbook = one_rung({"footing": "panel"}, footings=FOOTINGS)
    with pytest.raises(Conflict, match="the next thing to close is “Leave: Panel open”"):
        climbed(playbook, FAILS, FIXED, *tied("leave:lane"))
    back = climbed(playbook, FAILS, FIXED, *tied("leave:panel"), c.TakenBack())
    assert ids(back) == ["leave:panel", "leave:lane"]
    assert [end.id for end in climbed(playbook, FAILS, FIXED, c.TakenBack()).loose_ends] == [
        "leave:panel",
        "leave:lane",
    ]


# Preventions

ROUND = {"id": "round", "title": "Put it on the round", "kind": "prevention", "footing": "panel"}


def with_prevention(when: str | None = None, **more: Any) -> Playbook:
    return one_rung(footings=FOOTINGS, steps=[ROUND], after_fix=[{"step": "round", "when": when}], **more)


def test_a_prevention_is_offered_once_it_is_fixed_and_then_the_case_is_confirmed():
    fixed = climbed(with_prevention(), FAILS, FIXED)
    assert (fixed.place, fixed.step.id) == ("step", "round")
    done = climbed(with_prevention(), FAILS, FIXED, c.Answered(step="round", outcome="done"))
    assert (done.place, ids(done)) == ("loose-end", ["leave:panel", "leave:lane"])
    end = c.Ended(end="resolved", confirmed="caller")
    with pytest.raises(Conflict, match="comes first"):
        climbed(with_prevention(), FAILS, FIXED, end)
    skipped = climbed(with_prevention(), FAILS, FIXED, c.Answered(step="round", outcome="skipped"), end)
    case = case_of(skipped, "G-1", 1)
    assert (case.end, case.resolved_by) == ("resolved", "fix")
    assert [(a.step, a.outcome) for a in case.attempts] == [("fix", "fixed"), ("round", "skipped")]


def test_no_prevention_without_a_fix_nor_where_it_is_not_meant():
    assert climbed(with_prevention(), FAILS, NO_CHANGE).place == "hand-off"
    assert climbed(with_prevention("model is GR6"), FAILS, FIXED).place == "confirm"


def test_a_prevention_is_not_asked_for_in_the_repaired_state_and_says_for_which_units_it_is():
    """Facts of the unit may have changed with the repair: what is told now would be logged for the fault."""
    playbook = with_prevention("every below PT1H", facts=[*GATE["facts"], EVERY])
    now = climbed(playbook, FAILS, FIXED)
    assert (now.place, now.step.id) == ("step", "round")
    before = climbed(playbook, FAILS, FIXED, rules=2)
    assert (before.place, before.asked.id) == ("fact", "every")


def test_what_is_due_days_later_is_left_open_until_then():
    due = {"text": "Remove the copy", "due": "P7D"}
    now = climbed(one_rung({"afterwards": [due]}), FAILS, FIXED)
    later, *others = answers(now)
    assert (later.key, later.label, later.is_rare) == ("1", "Later: due in 7 days", False)
    assert [one.label for one in others][:1] == ["Done already"]
    left = climbed(one_rung({"afterwards": [due]}), FAILS, FIXED, later.move)
    assert "Remove the copy (due in 7 days)" in hand_off_text(left)


# Watches and other pauses

EVERY = {"id": "every", "ask": "How often?", "type": "duration"}
OFTEN = c.FactGiven(fact="every", value="PT2H")


def watched(interval: bool = True, **more: Any) -> Playbook:
    return one_rung({"watch": "PT4H", **more}, facts=[*GATE["facts"], *([EVERY] if interval else [])])


def test_a_watch_is_three_times_the_usual_interval_or_what_the_step_says():
    asked = climbed(watched(), FAILS)
    assert (asked.place, asked.asked.id) == ("fact", "every")
    assert climbed(watched(), FAILS, OFTEN).watch_minutes == 360
    unknown = climbed(watched(), FAILS, c.FactGiven(fact="every", value=None))
    assert unknown.watch_minutes == climbed(watched(False), FAILS).watch_minutes == 240


def test_nothing_counts_as_fixed_at_once_where_only_a_watch_can_tell():
    at_step = climbed(watched(), FAILS, OFTEN)
    first, *others = answers(at_step)
    assert (first.label, first.move) == ("Works now: watch it for 6 hours", c.Paused(reason="watch", minutes=360))
    assert [a.label for a in others if a.is_rare][-1] == "Fixed, without a watch"
    waiting = machine.apply(at_step, c.ClimbEvent(at=NOON + timedelta(minutes=3), who=1, move=first.move))
    assert (waiting.place, waiting.pause.until) == ("paused", NOON + timedelta(minutes=363))
    assert [a.label for a in answers(waiting)][:2] == ["It stayed away", "It came back"]


def test_the_time_of_a_watch_counts_for_no_step_and_not_for_the_case():
    watch = c.Paused(reason="watch", minutes=360)
    ended = climbed(watched(), FAILS, OFTEN, watch, FIXED, c.Ended(end="resolved", confirmed="caller"), apart=10)
    case = case_of(ended, "G-1", 1)
    assert (case.waited, case.minutes(), case.attempts[0].minutes) == (10, 40, 10)


def test_a_watch_taken_up_again_is_not_asked_for_twice():
    now = climbed(watched(), FAILS, OFTEN, c.Paused(reason="watch", minutes=60), c.Resumed())
    assert (now.place, now.watch_minutes) == ("step", None)
    assert [a.label for a in answers(now)][:2] == ["It stayed away", "It came back"]


def test_harm_of_a_watched_step_may_be_told_when_its_watch_ends():
    playbook = watched(False, hazards=[{"kind": "data", "severity": 1, "chance": 0.1}])
    fixed = c.Answered(step="fix", outcome="fixed", harmed=("data",))
    assert climbed(playbook, FAILS, c.Paused(reason="watch", minutes=240), fixed).attempts[0].harmed == ("data",)


def test_a_trial_is_watched_as_long_as_its_longest_watch():
    steps = [{"id": n, "title": n, "kind": "fix", "watch": w} for n, w in (("a", "PT1H"), ("b", "PT3H"))]
    ladder = [{"step": "a", "trial": "t"}, {"step": "b", "trial": "t"}]
    done = [c.Answered(step=step, outcome="done") for step in ("a", "b")]
    tested = climbed(gate(steps=steps, ladder=ladder), FAILS, *done)
    assert (tested.place, tested.watch_minutes) == ("test", 180)
    kept = climbed(
        gate(steps=steps, ladder=ladder),
        FAILS,
        *done,
        c.Paused(reason="watch", minutes=180),
        c.Answered(step="b", outcome="fixed"),
    )
    assert (kept.place, len(kept.attempts)) == ("confirm", 2)


def test_any_case_may_wait_and_goes_on_where_it_stood():
    plain = one_rung()
    before = climbed(plain, FAILS)
    waits = climbed(plain, FAILS, c.Paused(reason="part"))
    assert (waits.place, waits.pause.until) == ("paused", None)
    assert [a.move for a in answers(waits)] == [c.Resumed()]
    on = climbed(plain, FAILS, c.Paused(reason="part"), c.Resumed())
    assert (on.place, on.step, on.waited) == (before.place, before.step, 1)
    assert climbed(plain, FAILS, c.Paused(reason="part"), c.TakenBack()).place == "step"
    assert climbed(plain, FAILS, c.Paused(reason="part"), c.Ended(end="abandoned")).waited == 1


@pytest.mark.parametrize(
    ("playbook", "moves", "says"),
    [
        (one_rung(), [c.Paused(reason="watch", minutes=5)], "nothing is to be watched"),
        (watched(False), [c.Paused(reason="watch")], "say how long"),
        (one_rung({"unbroken": True}), [c.StepBegun(step="fix"), c.Paused(reason="part")], "must not be interrupted"),
        (one_rung(), [c.Paused(reason="part"), FIXED], "take it up again first"),
        (one_rung(), [c.Paused(reason="part"), c.Paused(reason="part")], "waits already"),
        (one_rung(), [c.Resumed()], "does not fit here"),
        (one_rung(), [c.Paused(reason="repair")], "nothing was restored"),
    ],
)
def test_a_pause_that_makes_no_sense_is_refused(playbook, moves, says):
    with pytest.raises(Conflict, match=says):
        climbed(playbook, FAILS, *moves)


# Readings and the changing parts of messages


def volt() -> Playbook:
    findings = [{"id": name, "title": name, "given": {"*": 1}} for name in ("low", "high")]
    look = {
        "id": "look",
        "title": "Read it",
        "kind": "check",
        "findings": findings,
        "reading": {"unit": "V", "bands": [{"below": 1.5, "finding": "low"}, {"finding": "high"}]},
    }
    return gate(steps=[look], ladder=[{"step": "look"}])


@pytest.mark.parametrize(("reading", "finding"), [(1.49, "low"), (1.5, "high"), (-3, "low"), (900, "high")])
def test_a_reading_decides_the_finding_and_is_kept(reading, finding):
    attempt = climbed(volt(), FAILS, c.Answered(step="look", reading=reading)).attempts[0]
    assert (attempt.finding, attempt.reading) == (finding, reading)


def test_a_reading_that_says_otherwise_or_that_nobody_asked_for_is_refused():
    with pytest.raises(Conflict, match="stands for low, not high"):
        climbed(volt(), FAILS, c.Answered(step="look", reading=1, finding="high"))
    with pytest.raises(Conflict, match="takes no reading"):
        climbed(one_rung(), FAILS, c.Answered(step="fix", outcome="fixed", reading=1))


# The unit's history


def had(*cases: tuple[float, str | None]) -> c.Started:
    """A start on a unit with earlier cases: how many days ago, and the step that ended it."""
    earlier = [
        c.EarlierCase(case=f"C-{n}", closed=NOON - timedelta(days=days), resolved_by=step)
        for n, (days, step) in enumerate(cases)
    ]
    return c.Started(facts={"model": "GR4"}, history=tuple(earlier))


@pytest.mark.parametrize(
    ("when", "history", "comes_up"),
    [
        ("earlier resolved by fix within 30 days", [(29.9, "fix")], True),
        ("earlier resolved by fix within 30 days", [(30.1, "fix")], False),
        ("earlier resolved by fix within 30 days", [(1, "other"), (2, None)], False),
        ("not earlier resolved by fix within 30 days", [], True),
        ("earlier cases at least 2 within 30 days", [(3, None), (29, "fix"), (90, "fix")], True),
        ("earlier cases at least 2 within 30 days", [(3, None), (31, "fix")], False),
    ],
)
def test_a_rung_may_hang_on_what_the_unit_had_before(when, history, comes_up):
    playbook = one_rung()
    playbook = playbook.model_copy(update={"ladder": (playbook.ladder[0].model_copy(update={"when": when}),)})
    events = [c.ClimbEvent(at=NOON, who=1, move=move) for move in (had(*history), FAILS)]
    now = machine.climb(playbook, events)
    assert (now.place == "step") == comes_up
    if not comes_up:
        assert now.passed[0][1].why.startswith("only where")
