"""Any sequence of moves, over random ladders: what holds of a guided case whatever an agent does."""

from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from mildladder.core.climb import machine
from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of, hand_off_text
from mildladder.core.climb.turns import later_rungs, may_go_off
from mildladder.core.figures.forecast import forecast
from mildladder.core.figures.judgement import risk_grade
from mildladder.core.ladder.shared import undone_by, with_included
from mildladder.core.model import Input, Instruction, Playbook
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
from tests.core.random_ladders import random_playbook
from tests.samples import NOON

VALUES = {"text": "X7", "number": "4", "version": "4.9", "duration": "PT20M", "yes-no": "yes"}


def with_texts(playbook: Playbook) -> Playbook:
    """The same with instructions that wait for values, one of which nobody asks for."""
    steps = tuple(
        step.model_copy(
            update={
                "inputs": (Input(id=f"part-{number % 3}", ask=f"Which part {number % 3}?"),),
                "do": (
                    Instruction(text=f"Turn {{part-{number % 3}}} and {{nobody-knows}}"),
                    Instruction(text="Run", copy=f"run {{part-{number % 3}}}"),  # type: ignore[call-arg]
                ),
                "expect": "It is {part-0}",
                "unbroken": number % 4 == 1,
            }
        )
        for number, step in enumerate(playbook.steps)
    )
    return playbook.model_copy(update={"steps": steps})


@dataclass
class Agent:
    """Somebody who answers by chance, and at times does what the ladder does not ask for."""

    playbook: Playbook
    rng: np.random.Generator

    def next(self, now: Climb) -> c.Move:
        chance = self.rng.random()
        later = later_rungs(now)
        if chance < 0.08 and later:
            return c.TakenOutOfTurn(path=later[int(self.rng.integers(len(later)))][0].path)
        if chance < 0.12 and may_go_off(now):
            outcome = ("no-change", "better", "done")[int(self.rng.integers(3))]
            return c.OffLadder(called=f"Own words {self.rng.integers(5)}", outcome=outcome)
        if chance < 0.2 and now.told:
            name = sorted(now.told)[0]
            return c.FactGiven(fact=name, value=None)
        wanted = now.asked_inside or (now.missing if now.place == "fact" else ())
        if wanted and chance < 0.7 and (asked := now.asks(wanted[0])) and asked.type in VALUES:
            return c.FactGiven(fact=wanted[0], value=VALUES[asked.type])
        choices = answers(now)
        return choices[int(self.rng.integers(len(choices)))].move


def event(now: Climb, move: c.Move, number: int) -> c.ClimbEvent:
    return c.ClimbEvent(at=NOON + timedelta(minutes=number), who=1, move=move)


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


def carried_out_twice(playbook: Playbook, steps: list[str]) -> list[str]:
    """Those that were done once more although nothing had undone them."""
    standing: set[str] = set()
    twice = []
    for name in steps:
        twice += [name] if name in standing else []
        standing = (standing - undone_by(playbook, name)) | with_included(playbook, name)
    return twice


@settings(max_examples=60, deadline=None)
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
        made = event(now, move, len(log))
        after = machine.apply(now, made)
        if isinstance(move, c.TAKEN_BACK) and len(log) % 3 == 0:
            back = event(now, c.TakenBack(), len(log) + 1)
            assert machine.climb(playbook, [*log, made, back]) == now, "taking it back is exact"
        log.append(made)
        now = after
    assert now.ended is not None, "it comes to an end"
    assert machine.climb(playbook, log) == now, "the events say all"
    assert {end.id for end in now.loose_ends} <= set(now.tied), "nothing stays open unsaid"
    if now.footing is not None:
        assert any(why for end, why in now.tied.items() if end.startswith("leave:")), "left, or said why not"
    done = [a for a in now.attempts if a.outcome not in DO_NOT_ENTER and a.took != "no" and a.step not in now.called]
    assert not carried_out_twice(playbook, [a.step for a in done]), "nothing is carried out twice unasked"
    case_of(now, "G-1", edition=1)
