"""The guided case: what it asks, what it refuses, what is taken back, and what reaches the log."""

from dataclasses import dataclass
from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mildladder.core.climb import machine
from mildladder.core.climb.answers import answers
from mildladder.core.climb.record import case_of, hand_off_text
from mildladder.core.errors import Conflict
from mildladder.core.model import events as c
from tests.core.climb.chance import carried_out_twice
from tests.core.random_ladders import random_playbook
from tests.samples import NOON, gate, gate_with_step

SOME = {"number": "4", "version": "4.10", "text": "V-1", "duration": "PT4H"}


@dataclass(frozen=True)
class Given:
    """A value typed in, beside the answers that have keys."""

    move: c.Move


def events(*moves: c.Move) -> list[c.ClimbEvent]:
    """The moves as events a minute apart, after a start on a GR4."""
    started = c.Started(said="It is up", unit="GR4-0117", facts={"model": "GR4"})
    return [c.ClimbEvent(at=NOON + timedelta(minutes=n), who=1, move=move) for n, move in enumerate([started, *moves])]


def climbed(*moves: c.Move) -> machine.Climb:
    return machine.climb(gate(), events(*moves))


FAILS = c.BaselineSeen(result="fails")
LOOKED = c.Answered(step="sensor-look", finding="blocked")
NO_CHANGE = c.Answered(step="clear-hold", outcome="no-change")
SAVED = c.Answered(step="save-counts", outcome="done")


def test_a_case_goes_from_the_baseline_down_the_ladder_to_its_end():
    now = climbed(FAILS, LOOKED, c.Answered(step="clear-hold", outcome="fixed"))
    assert now.place == "confirm"
    ended = climbed(
        FAILS, LOOKED, c.Answered(step="clear-hold", outcome="fixed"), c.Ended(end="resolved", confirmed="caller")
    )
    case = case_of(ended, "G-1", edition=2)
    assert (case.end, case.resolved_by, case.confirmed, case.edition) == ("resolved", "clear-hold", "caller", 2)
    assert [(a.step, a.outcome, a.finding, a.minutes) for a in case.attempts] == [
        ("sensor-look", None, "blocked", 1),
        ("clear-hold", "fixed", None, 1),
    ]


def test_a_rough_step_asks_its_guard_and_then_consent():
    before = climbed(FAILS, LOOKED, NO_CHANGE, SAVED)
    assert (before.place, before.step.id) == ("guard", "reload-program")
    guarded = climbed(FAILS, LOOKED, NO_CHANGE, SAVED, c.GuardAnswered(step="reload-program", number=0, answer="yes"))
    assert guarded.place == "consent"
    yes = c.Consented(step="reload-program", answer="yes")
    agreed = machine.apply(guarded, events(yes)[1])
    assert (agreed.place, agreed.consents[0].step) == ("step", "reload-program")


def test_no_consent_passes_the_step_as_skipped():
    guard = c.GuardAnswered(step="reload-program", number=0, answer="yes")
    now = climbed(FAILS, LOOKED, NO_CHANGE, SAVED, guard, c.Consented(step="reload-program", answer="no"))
    assert now.attempts[-1].outcome == "skipped"
    assert now.step.id == "wave-through"


def test_a_guard_answered_otherwise_ends_the_step_as_it_says():
    guard = c.GuardAnswered(step="reload-program", number=0, answer="no")
    assert climbed(FAILS, LOOKED, NO_CHANGE, SAVED, guard).attempts[-1].outcome == "skipped"


def test_a_fact_is_asked_when_a_condition_first_needs_it():
    start = c.ClimbEvent(at=NOON, who=1, move=c.Started())
    rest = events(FAILS, LOOKED, NO_CHANGE, SAVED)[1:]
    plain = gate_with_step("clear-hold", do=[])
    asked = machine.climb(plain, [start, *rest])
    assert (asked.place, asked.asked.id) == ("fact", "model")
    other = machine.apply(asked, events(c.FactGiven(fact="model", value="GR6"))[1])
    assert other.step.id == "wave-through"
    assert other.passed[0][1].why == "only where “Which model?” is GR4, and it is GR6"
    unknown = machine.apply(asked, events(c.FactGiven(fact="model", value=None))[1])
    assert unknown.step.id == "reload-program"


def test_a_value_that_a_command_needs_is_asked_for_inside_the_step():
    start = c.ClimbEvent(at=NOON, who=1, move=c.Started())
    asked = machine.climb(gate(), [start, *events(FAILS, LOOKED)[1:]])
    assert (asked.place, asked.asked.id) == ("step", "model")
    told = machine.apply(asked, events(c.FactGiven(fact="model", value="GR6"))[1])
    assert (told.place, told.step.id, told.asked_inside) == ("step", "clear-hold", ())


def test_what_was_tried_before_the_call_is_never_offered():
    now = climbed(c.TriedBefore(step="clear-hold"), FAILS, LOOKED)
    assert now.step.id == "save-counts"
    assert now.passed[0][1].why == "tried before the desk was called"
    with pytest.raises(Conflict, match="on record already"):
        machine.apply(now, events(c.TriedBefore(step="clear-hold"))[1])


def test_a_step_that_could_not_be_done_may_come_up_again_and_one_that_was_done_may_not():
    twice = gate(ladder=[{"step": "clear-hold"}, {"step": "clear-hold"}, {"step": "clear-hold"}])
    could_not = c.Answered(step="clear-hold", outcome="could-not")
    now = machine.climb(twice, events(FAILS, could_not))
    assert (now.place, now.task.path) == ("step", "ladder.1")
    assert machine.climb(twice, events(FAILS, could_not, NO_CHANGE)).place == "hand-off"


def test_what_a_check_finds_within_a_trial_is_acted_upon_after_the_test():
    rail = {"blocked": [{"step": "reload-program"}]}
    ladder = [{"step": "clear-hold", "trial": "both"}, {"step": "sensor-look", "trial": "both", "on": rail}]
    playbook = gate(
        ladder=ladder,
        steps=[{**step, "guard": []} for step in gate().model_dump(by_alias=True, exclude_none=True)["steps"]],
    )
    done = c.Answered(step="clear-hold", outcome="done")
    tested = machine.climb(playbook, events(FAILS, done, LOOKED))
    assert tested.place == "test"
    after = machine.apply(tested, events(NO_CHANGE)[1])
    assert after.task.path == "ladder.1.on.blocked.0"
    clear = machine.climb(playbook, events(FAILS, done, c.Answered(step="sensor-look", finding="clear"), NO_CHANGE))
    assert clear.place == "hand-off"


def test_taking_back_leads_to_where_one_stood():
    there = climbed(FAILS, LOOKED)
    back = climbed(FAILS, LOOKED, NO_CHANGE, c.TakenBack())
    assert (back.agenda, back.attempts) == (there.agenda, there.attempts)
    assert climbed(FAILS, LOOKED, c.TakenBack(), c.TakenBack()).place == "baseline"
    with pytest.raises(Conflict, match="no answer to take back"):
        climbed(c.TakenBack())


def test_a_note_stays_when_the_answer_before_it_is_taken_back():
    assert climbed(FAILS, c.Noted(text="Lamp blinks"), c.TakenBack()).notes == ("Lamp blinks",)


def test_a_fault_that_is_not_there_can_be_closed_or_gone_on_with():
    works = climbed(c.BaselineSeen(result="works"))
    assert works.place == "works-now"
    assert climbed(c.BaselineSeen(result="works"), c.WentOn()).step.id == "sensor-look"


@pytest.mark.parametrize(
    "move",
    [
        c.Answered(step="clear-hold", outcome="fixed"),
        c.Answered(step="sensor-look", outcome="fixed"),
        c.Answered(step="sensor-look", finding="nonsense"),
        c.Answered(step="sensor-look"),
        c.GuardAnswered(step="sensor-look", number=0, answer="yes"),
        c.Ended(end="resolved"),
        c.Ended(end="handed-off", hand_off="nobody"),
        c.FactGiven(fact="lane", value="3"),
        FAILS,
    ],
)
def test_a_move_that_does_not_fit_is_refused(move):
    with pytest.raises(Conflict):
        climbed(FAILS, move)


def test_nothing_follows_the_end():
    with pytest.raises(Conflict, match="closed"):
        climbed(FAILS, c.Ended(end="abandoned"), LOOKED)


def test_the_hand_off_text_tells_all():
    text = hand_off_text(climbed(FAILS, LOOKED, NO_CHANGE, c.Noted(text="Lamp blinks twice")))
    for said in ("GR4-0117", "It is up", "Reads blocked", "no change", "Lamp blinks twice", "Still likely"):
        assert said in text


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000))
def test_any_legal_walk_ends_never_repeats_and_gives_a_sound_case(seed):
    rng = np.random.default_rng(seed)
    playbook = random_playbook(seed, rungs=6)
    log = [c.ClimbEvent(at=NOON, who=1, move=c.Started())]
    now = machine.begin(playbook, log[0])
    while now.ended is None:
        choices = answers(now)
        assert choices, f"nothing to answer at {now.place}"
        if now.place == "fact" and rng.random() < 0.7 and now.asked.type in SOME:
            choices = [Given(c.FactGiven(fact=now.asked.id, value=SOME[now.asked.type]))]
        keys = [(answer.is_rare, answer.key) for answer in answers(now) if answer.key]
        assert len(keys) == len(set(keys))
        move = choices[int(rng.integers(len(choices)))].move
        log.append(c.ClimbEvent(at=NOON + timedelta(minutes=len(log)), who=1, move=move))
        now = machine.apply(now, log[-1])
        assert len(log) < 200
    assert machine.climb(playbook, log) == now
    case = case_of(now, "G-1", edition=1)
    carried_out = [
        a.step for a in case.attempts if a.outcome not in ("could-not", "not-available", "skipped") and a.took != "no"
    ]
    assert not carried_out_twice(playbook, carried_out)


TO_RELOAD = (FAILS, LOOKED, NO_CHANGE, SAVED, c.GuardAnswered(step="reload-program", number=0, answer="yes"))
AGREED = c.Consented(step="reload-program", answer="yes")


def reloaded(**changes) -> machine.Climb:
    return climbed(*TO_RELOAD, AGREED, c.Answered(**{"step": "reload-program", "outcome": "no-change", **changes}))


def test_harm_that_was_seen_is_in_the_attempt_and_in_what_the_next_team_reads():
    assert reloaded().attempts[-1].harmed is None
    assert reloaded(harmed=()).attempts[-1].harmed == ()
    harmed = reloaded(harmed=("data",))
    assert harmed.attempts[-1].harmed == ("data",)
    assert "no change, something stored was lost" in hand_off_text(harmed)


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"harmed": ("injury",)}, "names no hazard of the kind injury"),
        ({"harmed": ("data",), "outcome": "could-not"}, "where the step is carried out"),
        ({"harmed": (), "outcome": "skipped"}, "where the step is carried out"),
    ],
)
def test_harm_is_only_taken_from_a_step_that_names_it_and_was_carried_out(changes, says):
    with pytest.raises(Conflict, match=says):
        reloaded(**changes)


WAYS = ({"text": "Stand by"}, {"ways": [[{"text": "By the page"}], [{"text": "By hand"}, {"text": "Mind the arm"}]]})


def with_ways(**changes):
    steps = [
        {**step, "do": WAYS} if step["id"] == "clear-hold" else step
        for step in gate().model_dump(by_alias=True)["steps"]
    ]
    return gate(steps=steps, **changes)


def test_the_way_that_worked_is_in_the_attempt():
    told = c.Answered(step="clear-hold", outcome="no-change", ways=("By hand",))
    now = machine.climb(with_ways(), events(FAILS, LOOKED, told))
    assert [(one.step, one.ways) for one in now.attempts] == [("sensor-look", None), ("clear-hold", ("By hand",))]


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"ways": ("By magic",)}, "has no way that begins with “By magic”"),
        ({"ways": ("Mind the arm",)}, "has no way"),
        ({"ways": ("By hand",), "outcome": "could-not"}, "where the step is carried out"),
    ],
)
def test_a_way_that_worked_is_one_of_the_step_that_was_carried_out(changes, says):
    told = c.Answered(**{"step": "clear-hold", "outcome": "no-change", **changes})
    with pytest.raises(Conflict, match=says):
        machine.climb(with_ways(), events(FAILS, LOOKED, told))


def test_in_a_trial_the_way_is_noted_at_the_step_that_went_by_it():
    ladder = [{"step": "clear-hold", "trial": "both"}, {"step": "wave-through", "trial": "both"}]
    moves = (
        FAILS,
        c.Answered(step="clear-hold", outcome="done", ways=("By the page",)),
        c.Answered(step="wave-through", outcome="done"),
        c.Answered(step="wave-through", outcome="no-change"),
    )
    now = machine.climb(with_ways(ladder=ladder), events(*moves))
    assert [(one.step, one.ways) for one in now.attempts] == [("clear-hold", ("By the page",)), ("wave-through", None)]


def test_attempts_of_a_trial_stand_in_the_order_in_which_they_were_carried_out():
    ladder = [{"step": one, "trial": "all"} for one in ("clear-hold", "sensor-look", "reload-program")]
    moves = (
        FAILS,
        c.Answered(step="clear-hold", outcome="done"),
        LOOKED,
        c.GuardAnswered(step="reload-program", number=0, answer="yes"),
        c.Consented(step="reload-program", answer="yes"),
        c.Answered(step="reload-program", outcome="done"),
        c.TriedBefore(step="wave-through"),
        c.Answered(step="reload-program", outcome="no-change"),
    )
    now = machine.climb(gate(ladder=ladder), events(*moves))
    assert [(one.step, one.trial) for one in now.attempts] == [
        ("wave-through", None),
        ("clear-hold", 2),
        ("sensor-look", 1),
        ("reload-program", 2),
    ]
    assert now.tried_at == (None, "ladder.0", "ladder.1", "ladder.2")


def test_in_a_trial_harm_is_noted_at_the_step_that_did_it_and_not_at_the_test():
    ladder = [{"step": "reload-program", "trial": "both"}, {"step": "clear-hold", "trial": "both"}]
    steps = [{k: v for k, v in step.items() if k != "guard"} for step in gate().model_dump(by_alias=True)["steps"]]
    moves = (
        FAILS,
        AGREED,
        c.Answered(step="reload-program", outcome="done", harmed=("data",)),
        c.Answered(step="clear-hold", outcome="done"),
    )
    both = machine.climb(gate(ladder=ladder, steps=steps), events(*moves))
    assert both.place == "test"
    with pytest.raises(Conflict, match="where the step is carried out"):
        test = c.Answered(step="clear-hold", outcome="no-change", harmed=())
        machine.apply(both, events(*moves, test)[-1])
    after = machine.apply(both, events(*moves, c.Answered(step="clear-hold", outcome="no-change"))[-1])
    assert [(a.step, a.harmed) for a in after.attempts] == [("reload-program", ("data",)), ("clear-hold", None)]


def test_a_case_may_be_sent_on_to_the_playbook_of_a_look_alike_and_to_no_other():
    playbook = gate(symptom={"says": "It is up", "see_also": [{"sign": "It is dark", "playbook": "gate-no-power"}]})
    sent = machine.climb(playbook, events(c.Ended(end="handed-off", sent_on="gate-no-power")))
    assert case_of(sent, "G-1", edition=1).end == "handed-off"
    with pytest.raises(Conflict, match="does not go on in 'elsewhere'"):
        machine.climb(playbook, events(c.Ended(end="handed-off", sent_on="elsewhere")))
