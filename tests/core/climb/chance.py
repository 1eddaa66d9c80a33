"""A case guided by chance, with a model of the unit beside it that knows only what its agent was told and did."""

from collections import Counter
from dataclasses import dataclass, field
from datetime import timedelta

import numpy as np

from mildladder.core.climb import machine
from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb
from mildladder.core.climb.record import case_of
from mildladder.core.climb.turns import later_rungs, may_go_off
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.figures.judgement import risk_grade
from mildladder.core.ladder.footings import chain, footings_of
from mildladder.core.ladder.shared import undone_by, with_included
from mildladder.core.model import Input, Instruction, Playbook, Step
from mildladder.core.model import events as c
from mildladder.core.model.outcomes import DO_NOT_ENTER, TESTED
from mildladder.desk.guiding.climb_steps import current_step, filler_of, trial_test
from tests.core.random_ladders import random_playbook
from tests.samples import NOON

VALUES = {"text": "X7", "number": "4", "version": "4.9", "duration": "PT20M", "yes-no": "yes"}
_MOST = 400


def with_texts(playbook: Playbook) -> Playbook:
    """The same with instructions that wait for values, one of which nobody asks for, and steps that run by themselves."""
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
        """Any move that the screen offers."""
        chance = self.rng.random()
        later = later_rungs(now)
        if chance < 0.08 and later:
            return c.TakenOutOfTurn(path=self._pick(later)[0].path)
        if chance < 0.12 and may_go_off(now):
            called = f"Own words {self.rng.integers(5)}"
            return c.OffLadder(called=called, outcome=self._pick(("no-change", "better", "done")))
        if chance < 0.2 and now.told:
            return self._correction(now)
        if chance < 0.22:
            return c.TakenOver()
        if chance < 0.25 and now.unattended is not None:
            return c.Paused(reason="runs")
        if chance < 0.28 and now.place in ("fact", "guard", "consent", "begin", "hand-off", "way-out"):
            return c.Paused(reason=self._pick(("call-back", "part", "answer")))
        if chance < 0.3 and now.place in ("baseline", "step", "fact") and not now.fixed_by:
            under_way = now.step.id if now.agenda and now.is_try_begun else ""
            untried = [
                step.id
                for step in self.playbook.steps
                if step.id != under_way and not now.is_done(step.id) and not step.findings
            ]
            if untried:
                return c.TriedBefore(step=self._pick(untried))
        wanted = now.asked_inside or (now.missing if now.place == "fact" else ())
        if wanted and chance < 0.7 and (asked := now.asks(wanted[0])) and asked.type in VALUES:
            return c.FactGiven(fact=wanted[0], value=VALUES[asked.type])
        return self._pick(answers(now)).move

    def _correction(self, now: Climb) -> c.FactGiven:
        name = self._pick(sorted(now.told))
        asked = now.asks(name)
        options = tuple(getattr(asked, "choices", None) or ())
        return c.FactGiven(fact=name, value=self._pick((None, *options)))

    def _pick(self, some):
        return some[int(self.rng.integers(len(some)))]


@dataclass
class Unit:
    """What really stands on the unit, by what the agent was told and did. states: that it is in; stuck: those that could
    not be left, and somebody was told; changed: steps whose change is still on it; open: those that stay so, told.
    made: attempts as they were made, by step and outcome; waiting: carried out, not tested; agreed: the rung for which
    there is a yes; is_begun: the agent has done something for it."""

    playbook: Playbook
    figures: Forecast
    states: set[str] = field(default_factory=set)
    stuck: set[str] = field(default_factory=set)
    changed: set[str] = field(default_factory=set)
    open: set[str] = field(default_factory=set)
    made: list[tuple[str, str | None]] = field(default_factory=list)
    waiting: list[str] = field(default_factory=list)
    rung: str | None = None
    is_begun: bool = False
    base: set[str] = field(default_factory=set)
    agreed: bool = False

    def see(self, now: Climb, move: c.Move, after: Climb) -> None:
        """Take in one move: what was told before it, and what it does."""
        at_rung = now.place in ("begin", "step", "guard", "consent", "paused") and now.agenda
        rung = getattr(now.agenda[0], "path", None) if at_rung else None
        if rung != self.rung:
            self.rung, self.base, self.agreed, self.is_begun = rung, set(self.states), False, False
        if isinstance(move, c.Consented) and move.answer == "yes":
            self.agreed = True
        if self._acts(now, move):
            self._enter(now)
        match move:
            case c.Answered():
                self._answered(now, move)
            case c.TiedUp():
                self._closed(now, move)
            case c.Searched() if not after.carried:
                self.waiting = []
            case c.OffLadder():
                self._tries_noted(now, after)
                self.made.append((move.called, move.outcome))
            case c.TriedBefore(step=step) if step is not None:
                self.made.append((step, "no-change" if self.playbook.step(step).is_tested else "done"))
            case c.Consented(answer="no"):
                self.made.append((move.step, "skipped"))
            case c.GuardAnswered() if move.answer != now.guard.must and isinstance(now.guard.else_, str):
                self.made.append((move.step, now.guard.else_))
            case c.TakenOutOfTurn() | c.Ended():
                self._tries_noted(now, after)
        if isinstance(move, c.TakenOutOfTurn):
            self.rung = None
        if isinstance(move, c.FactGiven) and after.footing != now.footing:
            self.base = set(self.states)  # the step is done elsewhere after all, and is gone to from here

    def _tries_noted(self, now: Climb, after: Climb) -> None:
        """Values that were tried in vain are an attempt, however their step is left."""
        if now.tried_with and not after.tried_with:
            self.made.append((now.step.id, "no-change"))
            self._changes(now.step, "no-change")

    def _acts(self, now: Climb, move: c.Move) -> bool:
        """Whether the agent does something to the unit for the step at hand."""
        if now.place == "begin":
            return True  # its state is entered by then
        if now.asks_inside:
            return isinstance(move, c.GuardAnswered)
        if now.place not in ("step", "paused") or not self.rung:
            return False
        if isinstance(move, c.FactGiven):
            return move.value is not None and move.fact in now.asked_inside
        if isinstance(move, c.Paused):
            return move.reason in ("watch", "runs")
        # That it cannot be done, or is not there, is seen where the step is done.
        is_there = isinstance(move, c.Answered) and move.outcome != "skipped"
        return is_there or isinstance(move, c.Searched | c.AnotherValue)

    def _enter(self, now: Climb) -> None:
        """Go where the step is done, by what the screen tells, and see that this is the way there."""
        if now.place == "paused":
            return
        view = current_step(now, self.figures, filler_of(now, {}))
        titles = {footing.title: footing.id for footing in self.playbook.footings}
        told = [one.title for one in view.before]
        reached = set(self.base) if told else set(self.states)
        for title in told:
            what, _, state = title.partition(": ")
            if what == "First":
                reached.add(titles[state])
                self.stuck.discard(titles[state])
                self.open.discard(f"leave:{titles[state]}")
            elif what == "Leave":
                reached.discard(titles[state])
        if now.step.footing != "any":
            wanted = {one.id for one in chain(footings_of(self.playbook), now.step.footing)}
            assert reached - self.stuck == wanted - self.stuck, (told, reached, wanted)
        entered = [one for one in self.playbook.footings if one.id in reached - self.states]
        hazards = (*now.step.hazards, *(hazard for one in entered for hazard in one.enter.hazards))
        is_rough = risk_grade(now.step.model_copy(update={"hazards": hazards})) >= 3
        # What is told of the unit once it is begun makes it no milder, and asks nobody any more.
        assert self.is_begun or self.agreed or now.has_consent or not is_rough, "a rough thing has its yes"
        self.states, self.is_begun = reached, True

    def _answered(self, now: Climb, move: c.Answered) -> None:
        if now.place == "finding":
            return
        if now.place == "test":
            trial = trial_test(now, filler_of(now, {}))
            assert trial is not None
            assert not trial.before, "states are left as steps of their own"
            for step in self.waiting:
                self.made.append((step, move.outcome))
                if move.took != "no":
                    self._changes(self.playbook.step(step), move.outcome)
            self.waiting = []
            return
        is_carried_out = move.outcome not in DO_NOT_ENTER and move.took != "no"
        if is_carried_out and now.waits_for_test:
            self.waiting.append(move.step)
            return
        self.made.append((move.step, move.outcome))
        if is_carried_out and move.outcome in TESTED:
            self._changes(now.step, move.outcome)

    def _changes(self, step: Step, outcome: str | None) -> None:
        after = ("always",) if outcome == "fixed" else ("always", "no-change")
        if step.undo is not None and step.undo.after in after:
            self.changed.add(step.id)

    def _closed(self, now: Climb, move: c.TiedUp) -> None:
        end = now.to_close
        kind, _, what = end.id.partition(":")
        if move.why_left is not None:
            self.open.add(end.id)
            self.stuck |= {what} if kind == "leave" else set()
            return
        if kind == "put-back":
            self.changed.discard(what)
        if kind != "after":
            self.states = {one.id for one in chain(footings_of(self.playbook), end.footing)} | (
                self.states & self.stuck
            )
            self.stuck -= {what} if kind == "leave" else set()
            self.states -= {what} if kind == "leave" else set()

    def ended(self, now: Climb) -> None:
        """Nothing stands on it that nobody was told of, and the log has what was made and nothing else."""
        told = {name for name, why in now.tied.items() if why is not None}
        assert {f"leave:{state}" for state in self.states} <= told | self.open, (self.states, now.tied)
        assert {f"put-back:{step}" for step in self.changed} <= told | self.open, (self.changed, now.tied)
        logged = Counter((one.step, one.outcome) for one in case_of(now, "G-1", 1).attempts)
        assert logged == Counter(self.made), (logged, self.made)


def carried_out_twice(playbook: Playbook, steps: list[str]) -> list[str]:
    """Those that were done once more although nothing had undone them."""
    standing: set[str] = set()
    twice = []
    for name in steps:
        twice += [name] if name in standing else []
        standing = (standing - undone_by(playbook, name)) | with_included(playbook, name)
    return twice


def event(move: c.Move, number: int) -> c.ClimbEvent:
    """That move, so many minutes after noon; people take turns."""
    return c.ClimbEvent(at=NOON + timedelta(minutes=number), who=1 + number % 2, move=move)


def walk(seed: int) -> tuple[Climb, list[c.ClimbEvent]]:
    """A whole case by chance, the unit beside it."""
    playbook = with_texts(random_playbook(seed, rungs=5))
    agent = Agent(playbook, np.random.default_rng(seed))
    unit = Unit(playbook, forecast(playbook))
    log = [c.ClimbEvent(at=NOON, who=1, move=c.Started())]
    now = machine.begin(playbook, log[0])
    while now.ended is None and len(log) < _MOST:
        move = agent.next(now)
        log.append(event(move, len(log)))
        after = machine.apply(now, log[-1])
        unit.see(now, move, after)
        now = after
    assert now.ended is not None, "it comes to an end"
    unit.ended(now)
    return now, log
