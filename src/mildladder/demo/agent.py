"""Somebody at the desk who climbs a playbook for a caller, answering as the truth behind the fault would have it."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import NamedTuple, cast

import numpy as np

from mildladder.core.climb import machine
from mildladder.core.climb.wording import way_in_words
from mildladder.core.figures.judgement import elapsed_minutes
from mildladder.core.ladder.causes import all_causes, finding_chances
from mildladder.core.ladder.values import value_in_words
from mildladder.core.model import Fact, HandOffRef, Hazard, HazardKind, Input, Outcome, Playbook, Step
from mildladder.core.model import events as c
from mildladder.demo.faults import Fault, pick

__all__ = ["Agent"]

_TOLD_AT_ONCE = ("site", "model", "firmware")
_SKIPPED_PREVENTIONS = 0.3
_WAY_OUT = timedelta(minutes=0.5)
_BY_LAST_WAY = 7


class _Told(NamedTuple):
    """What is told of carrying out a step beside how it ended: harm, where it was asked about, and ways that worked."""

    harmed: tuple[HazardKind, ...] | None = None
    ways: tuple[str, ...] | None = None


class Agent:
    """Somebody who climbs a playbook for a caller whose unit has one cause behind its fault."""

    def __init__(
        self,
        playbook: Playbook,
        fault: Fault,
        opened: datetime,
        rng: np.random.Generator,
        history: Sequence[c.EarlierCase] = (),
    ) -> None:
        self.truth, self.fault, self.rng = fault.truth, fault, rng
        self.at = opened
        self.is_gone = False
        self.after_watch: c.Answered | None = None
        said = str(rng.choice(list(fault.truth.says)))
        told = {fact: value for fact, value in fault.facts.items() if fact in _TOLD_AT_ONCE}
        started = c.Started(said=said, unit=fault.unit or "", facts=told, history=tuple(history))
        self.climb_by(playbook, started)

    def climb_by(self, playbook: Playbook, started: c.Started) -> None:
        """Begin the case by this ladder; what it does not ask about units is not told."""
        self.playbook, self.causes = playbook, all_causes(playbook)
        self.column = next(i for i, cause in enumerate(self.causes) if cause.id == self.fault.cause)
        asked = {fact.id for fact in playbook.facts}
        facts = {fact: value for fact, value in started.facts.items() if fact in asked}
        self.climb = machine.begin(playbook, self._event(started.model_copy(update={"facts": facts})))

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
                return c.BaselineSeen(result="works" if self.is_gone else pick(shares, self.rng))
            case "works-now":
                return c.Ended(end="self-cleared", confirmed="caller")
            case "fact":
                self._spend(0.4)
                return self._tell(self.climb.asked)
            case "guard":
                return self._answer_guard()
            case "consent":
                answer: dict[str, float] = {"yes": 0.96, "no": 0.04}
                return c.Consented(step=self.climb.step.id, answer=pick(answer, self.rng))
            case "step":
                if self.climb.asked_inside:
                    self._spend(0.4)
                    return self._tell(self.climb.asked)
                return self._carry_out(self.climb.step)
            case "begin":
                return c.StepBegun(step=self.climb.step.id)
            case "way-out":
                self.at += _WAY_OUT
                return c.TiedUp(end=self.climb.to_close.id)
            case "confirm":
                self._spend(0.5)
                seen = pick({"caller": 0.8, "measured": 0.1, "assumed": 0.1}, self.rng)
                return c.Ended(end=machine.cured_end(self.climb), confirmed=seen)
            case "test":
                return self._try_again()
            case "paused":
                return self._take_up()
            case "loose-end":
                return self._tie_up()
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

    def _tie_up(self) -> c.Move:
        self._spend(0.5)
        end = self.climb.open_ends[0]
        why: dict[str, float] = {"": 0.97, "somebody else sees to it": 0.03}
        left = pick(why, self.rng) or (f"due in {value_in_words(end.due)}" if end.due else None)
        return c.TiedUp(end=end.id, why_left=left)

    def _take_up(self) -> c.Move:
        """The watch is over: what was to come of it came."""
        pause, after = self.climb.pause, self.after_watch
        assert pause is not None
        assert pause.until is not None
        assert after is not None
        self.at, self.after_watch = pause.until, None
        return after

    def _carry_out(self, step: Step) -> c.Move:
        if step.kind == "prevention" and self.rng.random() < _SKIPPED_PREVENTIONS:
            return c.Answered(step=step.id, outcome="skipped")
        self._spend(elapsed_minutes(step.effort))
        if self.rng.random() < self.truth.could_not.get(step.id, 1 - step.done):
            return c.Answered(step=step.id, outcome="could-not")
        told = _Told(self._harm(step), self._ways(step))
        if self.climb.waits_for_test:
            return c.Answered(step=step.id, outcome="done", harmed=told.harmed, ways=told.ways)
        if step.is_tested:
            return self._try([step], told)
        if step.findings:
            return c.Answered(step=step.id, finding=self._find(step), harmed=told.harmed, ways=told.ways)
        return c.Answered(step=step.id, outcome="done", harmed=told.harmed, ways=told.ways)

    def _ways(self, step: Step) -> tuple[str, ...] | None:
        """Which of several ways it went by: mostly the last. The minute decides and not chance, which is drawn in turn
        for all else."""
        minute = int(self.at.timestamp()) // 60 % 10
        ways = [one.ways[-1 if minute < _BY_LAST_WAY else 0] for one in step.do if one.ways]
        return tuple(way_in_words(way) for way in ways) or None

    def _harm(self, step: Step) -> tuple[HazardKind, ...] | None:
        """What harm came of it; None where the step names no hazard, so that nobody asks."""
        if not step.hazards:
            return None
        true = self.truth.harms.get(step.id, {})
        return tuple(
            hazard.kind
            for hazard in step.hazards
            if self.rng.random() < true.get(hazard.kind, hazard.chance) * self._ease(hazard)
        )

    def _ease(self, hazard: Hazard) -> float:
        return hazard.eased_to if hazard.eased_by and self.climb.is_done(hazard.eased_by) else 1.0

    def _try_again(self) -> c.Move:
        """The original action, tried once for everything that was done in the trial."""
        return self._try([self.playbook.step(one.step) for one in self.climb.carried], _Told())

    def _try(self, steps: list[Step], told: _Told) -> c.Move:
        self._spend(self.playbook.retest.hands_on if self.playbook.retest else 0.0)
        watch, answer = self.climb.watch_minutes, self._outcome(steps, told)
        if watch is None or (not self.is_gone and self.rng.random() < 0.5):
            return answer
        self.after_watch = answer
        return c.Paused(reason="watch", minutes=watch)

    def _outcome(self, steps: list[Step], told: _Told) -> c.Answered:
        stays = 1 - self.truth.self_clears
        for step in steps:
            stays *= 1 - self.fault.cure_chance(self.playbook, self.climb.on_unit(step))
        self.is_gone = self.rng.random() >= stays
        last = self.climb.step
        if self.is_gone:
            return c.Answered(step=last.id, outcome="fixed", harmed=told.harmed, ways=told.ways)
        if last.findings:
            found = self._find(last)
            return c.Answered(step=last.id, outcome="no-change", finding=found, harmed=told.harmed, ways=told.ways)
        outcome = pick({"no-change": 0.97, "better": 0.02, "worse": 0.01}, self.rng)
        return c.Answered(step=last.id, outcome=cast(Outcome, outcome), harmed=told.harmed, ways=told.ways)

    def _find(self, step: Step) -> str:
        shares = finding_chances(step, self.causes)[:, self.column]
        return pick({finding.id: float(share) for finding, share in zip(step.findings, shares, strict=True)}, self.rng)

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
            if self.fault.guessed_chance(self.playbook, step) < 0.5:
                self._do(c.TriedBefore(step=step.id))

    def _spend(self, minutes: float) -> None:
        """Work takes as long as it takes: right on the whole, with a long tail."""
        self.at += timedelta(minutes=round(minutes * float(self.rng.lognormal(0.0, 0.35)), 2))

    def _event(self, move: c.Move) -> c.ClimbEvent:
        return c.ClimbEvent(at=self.at, who=0, move=move)

    def _do(self, move: c.Move) -> None:
        self.climb = machine.apply(self.climb, self._event(move))
