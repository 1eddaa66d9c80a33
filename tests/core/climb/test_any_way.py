"""Any sequence of moves, over random ladders: what holds of a guided case whatever an agent does."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from mildladder.core.climb import machine
from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of, hand_off_text
from mildladder.core.figures.forecast import forecast
from mildladder.core.figures.judgement import risk_grade
from mildladder.core.model import Playbook
from mildladder.core.model import events as c
from mildladder.core.model.outcomes import DO_NOT_ENTER
from mildladder.desk.guiding.climb_steps import (
    current_step,
    filler_of,
    loose_end_views,
    search_view,
    trial_test,
    way_out,
)
from tests.core.climb.chance import Agent, carried_out_twice, event, walk, with_texts
from tests.core.random_ladders import random_playbook
from tests.samples import NOON


def texts_of(now: Climb, playbook: Playbook) -> str:
    """All that the screen says of what is to be done now."""
    filler = filler_of(now, {})
    shown: list[object] = [
        loose_end_views(now, filler),
        way_out(now, filler),
        search_view(now, filler),
        trial_test(now, filler),
    ]
    if now.place in ("guard", "consent", "begin", "step"):
        view = current_step(now, forecast(playbook), filler)
        shown += [view.model_copy(update={"step": view.step.model_copy(update={"do": (), "inputs": (), "undo": None})})]
    return " ".join(str(one) for one in (*shown, hand_off_text(now)))


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 100_000))
def test_whatever_an_agent_does_a_case_stays_sound(seed):
    playbook = with_texts(random_playbook(seed, rungs=5))
    agent = Agent(playbook, np.random.default_rng(seed))
    log = [c.ClimbEvent(at=NOON, who=1, move=c.Started())]
    now = machine.begin(playbook, log[0])
    while now.ended is None and len(log) < 400:
        if len(log) % 5 == 0:
            said = texts_of(now, playbook)
            for name in ("{part", "{nobody"):
                assert name not in said
        if now.place == "step":
            said_yes = now.has_consent and now.step.id in {one.step for one in now.consents}
            assert said_yes or (risk_grade(now.step) < 3 and not now.lacks), "a rough step has its yes"
        move = agent.next(now)
        made = event(move, len(log))
        after = machine.apply(now, made)
        if isinstance(move, c.TAKEN_BACK) and len(log) % 3 == 0:
            back = event(c.TakenBack(), len(log) + 1)
            assert machine.climb(playbook, [*log, made, back]) == now, "taking it back is exact"
        log.append(made)
        now = after
    assert now.ended is not None, "it comes to an end"
    assert machine.climb(playbook, log) == now, "the events say all"
    assert {end.id for end in now.loose_ends} <= set(now.tied), "nothing stays open unsaid"
    if now.footing is not None:
        assert any(why for end, why in now.tied.items() if end.startswith("leave:")), "left, or said why not"
    done = [
        a.step
        for a in now.attempts
        if a.by != "before" and a.outcome not in DO_NOT_ENTER and a.took != "no" and a.step not in now.called
    ]
    assert not carried_out_twice(playbook, done), "nothing is carried out twice unasked"
    case_of(now, "G-1", edition=1)


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 100_000))
def test_what_stands_on_the_unit_is_what_was_told_and_the_log_is_what_was_made(seed):
    walk(seed)
