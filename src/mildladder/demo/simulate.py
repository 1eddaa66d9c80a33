"""Make cases by climbing the playbooks as agents do, against a known truth; the same seed gives the same cases."""

import heapq
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import cast

import numpy as np

from mildladder.core import climb as machine
from mildladder.core import moves as c
from mildladder.core.agenda import RungTask
from mildladder.core.case_record import case_of
from mildladder.core.causes import all_causes, cure_chances, finding_chances
from mildladder.core.judgement import elapsed_minutes
from mildladder.core.model import Case, Fact, HandOffRef, Input, Outcome, Playbook, Step
from mildladder.demo.truth import Truth

__all__ = ["PERIOD", "Followed", "simulate"]

PERIOD = timedelta(days=540)
_LONGEST_RETURN = 12.0
_LONGEST_CASE = timedelta(days=1)
_SPACING = timedelta(days=20)
_FIRST_NUMBER = 10001
_TOLD_AT_ONCE = ("site", "model")


@dataclass(frozen=True)
class _Fault:
    """A fault that is about to be reported. `unit` is set, with the facts, when it has come back."""

    playbook: str
    cause: str
    facts: Mapping[str, str]
    unit: str | None


class _Fleet:
    """The units of one symptom: which are free to fail afresh, so that only real returns look like returns."""

    def __init__(self, truth: Truth) -> None:
        self.truth = truth
        self.last: dict[int, datetime] = {}

    def take(self, at: datetime, facts: Mapping[str, str], rng: np.random.Generator) -> str | None:
        """A unit that has been quiet for some weeks; None, nobody having noted it, when there is none."""
        quiet = [n for n in range(self.truth.units) if n not in self.last or self.last[n] + _SPACING < at]
        if not quiet:
            return None
        number = int(rng.choice(quiet))
        self.last[number] = at
        return f"{self.truth.prefix or facts['model']}-{1001 + number * 7}"


Followed = Callable[[str, datetime], tuple[Playbook, int | None]]


def simulate(
    playbooks: Mapping[str, Playbook],
    truths: Mapping[str, Truth],
    count: int,
    until: datetime,
    seed: int,
    followed: Followed | None = None,
) -> Iterator[tuple[Case, str]]:
    """`count` cases, oldest first, over the 18 months before `until`; each with its truth: the id of the cause that was
    behind it.

    followed: which playbook was climbed for a symptom at a moment, and as which edition (None: nothing was published
    yet, agents had it on paper); left out, every playbook as its edition 1.
    """
    followed = followed or (lambda name, _: (playbooks[name], 1))
    rng = np.random.default_rng(seed)
    fleets = {name: _Fleet(truth) for name, truth in truths.items()}
    waiting: list[tuple[datetime, int, _Fault | None]] = [
        (_working_hour(until - _LONGEST_CASE - PERIOD * float(share), rng), number, None)
        for number, share in enumerate(rng.random(count))
    ]
    heapq.heapify(waiting)
    made = 0
    while waiting:
        opened, _, fault = heapq.heappop(waiting)
        fault = fault or _new_fault(playbooks, truths, fleets, opened, rng)
        made += 1
        playbook, edition = followed(fault.playbook, opened)
        agent = _Agent(playbook, truths[fault.playbook], fault, opened, rng)
        case = case_of(agent.run(), f"OF-{_FIRST_NUMBER + made}", edition=edition or 1)
        if edition is None:
            case = case.model_copy(update={"playbook": None, "edition": None})
        yield case, fault.cause
        again = _return_of(case, truths[fault.playbook], rng)
        if again is not None and again < until - _LONGEST_CASE:
            returned = _Fault(fault.playbook, fault.cause, fault.facts, case.unit)
            _give_way(waiting, rng)
            heapq.heappush(waiting, (again, count + made, returned))


def _give_way(waiting: list[tuple[datetime, int, _Fault | None]], rng: np.random.Generator) -> None:
    """Take one fault out that has not happened yet, so that returns do not add to the number of cases."""
    fresh = [place for place, (_, _, fault) in enumerate(waiting) if fault is None]
    if fresh:
        waiting.pop(int(rng.choice(fresh)))
        heapq.heapify(waiting)


def _new_fault(
    playbooks: Mapping[str, Playbook],
    truths: Mapping[str, Truth],
    fleets: Mapping[str, _Fleet],
    opened: datetime,
    rng: np.random.Generator,
) -> _Fault:
    name = _pick({name: truth.share for name, truth in truths.items()}, rng)
    truth = truths[name]
    cause = _pick(truth.causes, rng)
    facts = {}
    for fact in playbooks[name].facts:
        shares: Mapping[str, float] = fact.spread
        if not shares:
            continue
        if fact.id in truth.given_cause:
            table = truth.given_cause[fact.id]
            shares = table.get(cause, table["*"])
        facts[fact.id] = _pick(shares, rng)
    return _Fault(name, cause, facts, fleets[name].take(opened, facts, rng))


def _return_of(case: Case, truth: Truth, rng: np.random.Generator) -> datetime | None:
    chance = truth.comes_back.get(case.resolved_by or "", 0.0)
    if case.unit is None or rng.random() >= chance:
        return None
    return _working_hour(case.closed + timedelta(days=1 + float(rng.random()) * _LONGEST_RETURN), rng)


class _Agent:
    """Somebody who climbs a playbook for a caller whose unit has one cause behind its fault."""

    def __init__(
        self, playbook: Playbook, truth: Truth, fault: _Fault, opened: datetime, rng: np.random.Generator
    ) -> None:
        self.playbook, self.truth, self.fault, self.rng = playbook, truth, fault, rng
        self.causes = all_causes(playbook)
        self.column = next(i for i, cause in enumerate(self.causes) if cause.id == fault.cause)
        self.at = opened
        self.is_gone = False
        said = str(rng.choice(list(truth.says)))
        told = {fact: value for fact, value in fault.facts.items() if fact in _TOLD_AT_ONCE}
        self.climb = machine.begin(playbook, self._event(c.Started(said=said, unit=fault.unit or "", facts=told)))

    def run(self) -> machine.Climb:
        """Climb until the case has ended."""
        self._tell_of_earlier_try()
        while self.climb.ended is None:
            self._do(self._next())
        return self.climb

    def _next(self) -> c.Move:
        match self.climb.place:
            case "baseline":
                if self.rng.random() < self.truth.self_clears:
                    self.is_gone = True
                shares = {"fails": 0.9, "cannot-try": 0.1}
                self._spend(1.0)
                return c.BaselineSeen(result="works" if self.is_gone else _pick(shares, self.rng))
            case "works-now":
                return c.Ended(end="self-cleared", confirmed="caller")
            case "fact":
                self._spend(0.4)
                return self._tell(self.climb.asked)
            case "guard":
                return self._answer_guard()
            case "consent":
                answer: dict[str, float] = {"yes": 0.96, "no": 0.04}
                return c.Consented(step=self.climb.step.id, answer=_pick(answer, self.rng))
            case "step":
                return self._carry_out(self.climb.step)
            case "confirm":
                self._spend(0.5)
                seen = _pick({"caller": 0.8, "measured": 0.1, "assumed": 0.1}, self.rng)
                return c.Ended(end=machine.cured_end(self.climb), confirmed=seen)
            case "test":
                return self._try_again()
            case "sent-on":
                return c.Ended(end="handed-off", sent_on=self.climb.agenda[0].playbook)  # type: ignore[union-attr]
        default = self.playbook.default_hand_off
        if self.rng.random() < 0.04 or default is None:
            return c.Ended(end="abandoned")
        self._spend(2.0)
        return c.Ended(end="handed-off", hand_off=self.climb.team or default.id)

    def _answer_guard(self) -> c.Move:
        guard = self.climb.guard
        is_hand_off = isinstance(guard.else_, HandOffRef)
        as_it_must = is_hand_off or self.rng.random() < 0.97
        answer = guard.must if as_it_must else ("no" if guard.must == "yes" else "yes")
        return c.GuardAnswered(step=self.climb.step.id, number=self.climb.guards, answer=answer)

    def _carry_out(self, step: Step) -> c.Move:
        self._spend(elapsed_minutes(step.effort))
        if self.rng.random() < self.truth.could_not.get(step.id, 1 - step.done):
            return c.Answered(step=step.id, outcome="could-not")
        task = self.climb.task
        if step.is_tested and isinstance(task, RungTask) and task.in_trial:
            return c.Answered(step=step.id, outcome="done")
        if step.is_tested:
            return self._try([step])
        if step.findings:
            return c.Answered(step=step.id, finding=self._find(step))
        return c.Answered(step=step.id, outcome="done")

    def _try_again(self) -> c.Move:
        """The original action, tried once for everything that was done in the trial."""
        return self._try([self.playbook.step(step) for _, step, _ in self.climb.carried])

    def _try(self, steps: list[Step]) -> c.Move:
        self._spend(self.playbook.retest.hands_on if self.playbook.retest else 0.0)
        stays = 1 - self.truth.self_clears
        for step in steps:
            stays *= 1 - self._cure_chance(self.climb.on_unit(step))
        self.is_gone = self.rng.random() >= stays
        last = self.climb.step
        if self.is_gone:
            return c.Answered(step=last.id, outcome="fixed")
        if last.findings:
            return c.Answered(step=last.id, outcome="no-change", finding=self._find(last))
        outcome = _pick({"no-change": 0.97, "better": 0.02, "worse": 0.01}, self.rng)
        return c.Answered(step=last.id, outcome=cast(Outcome, outcome))

    def _cure_chance(self, step: Step) -> float:
        """The true chance that a step ends the fault here; `step@fact=value` speaks of one sort of unit alone."""
        guessed = float(cure_chances(step, self.causes)[self.column])
        for name, chances in self.truth.cures.items():
            wanted, _, where = name.partition("@")
            fact, _, value = where.partition("=")
            if wanted == step.id and (not where or self.fault.facts.get(fact) == value):
                return chances.get(self.fault.cause, 0.0)
        return guessed

    def _find(self, step: Step) -> str:
        shares = finding_chances(step, self.causes)[:, self.column]
        return _pick({finding.id: float(share) for finding, share in zip(step.findings, shares, strict=True)}, self.rng)

    def _tell(self, asked: Fact | Input) -> c.Move:
        """A fact as it is, or some value of the form that an input asks for."""
        if asked.id in self.fault.facts:
            return c.FactGiven(fact=asked.id, value=self.fault.facts[asked.id])
        if isinstance(asked, Input) and asked.options:
            return c.FactGiven(fact=asked.id, value=str(self.rng.choice(list(asked.options))))
        values = {"number": str(int(self.rng.integers(1, 13))), "text": f"V-{int(self.rng.integers(100, 999))}"}
        return c.FactGiven(fact=asked.id, value=values.get(asked.type))

    def _tell_of_earlier_try(self) -> None:
        """Callers have often tried the easy things themselves; what would have worked then, they never call about."""
        easy = [step for step in self.playbook.steps if step.kind == "fix" and step.effort.by == "caller"]
        if easy and self.rng.random() < 0.08:
            step = easy[int(self.rng.integers(len(easy)))]
            if float(cure_chances(step, self.causes)[self.column]) < 0.5:
                self._do(c.TriedBefore(step=step.id))

    def _spend(self, minutes: float) -> None:
        """Work takes as long as it takes: right on the whole, with a long tail."""
        self.at += timedelta(minutes=round(minutes * float(self.rng.lognormal(0.0, 0.35)), 2))

    def _event(self, move: c.Move) -> c.ClimbEvent:
        return c.ClimbEvent(at=self.at, who="demo", move=move)

    def _do(self, move: c.Move) -> None:
        self.climb = machine.apply(self.climb, self._event(move))


def _working_hour(at: datetime, rng: np.random.Generator) -> datetime:
    """The same day at an hour when ships sail."""
    minutes = int(rng.integers(5 * 60 + 30, 21 * 60))
    return at.replace(hour=0, minute=0, second=0, microsecond=0) + timedelta(minutes=minutes)


def _pick(weights: Mapping[str, float], rng: np.random.Generator) -> str:
    left = float(rng.random()) * sum(weights.values())
    for name, weight in weights.items():
        left -= weight
        if left < 0:
            return name
    return next(reversed(list(weights)))
