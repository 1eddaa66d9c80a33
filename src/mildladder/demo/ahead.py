"""Let the made-up desk's months go on: cases that its agents guide by whatever edition is newest, against the same
truth, so that what came of a change can be seen."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, Protocol

import numpy as np

from mildladder.core.model import Playbook
from mildladder.core.model.events import EarlierCase, Move
from mildladder.core.model.outcomes import CURED
from mildladder.demo.agent import Agent
from mildladder.demo.faults import Fault, Fleet, new_fault
from mildladder.demo.simulate import PERIOD, return_of, working_hour
from mildladder.demo.truth import Truth

__all__ = ["Ahead", "go_ahead"]

# Agents see an open case to its end within days.
_LONGEST_CASE = timedelta(days=4)


class Guiding(Protocol):
    """Whoever guides a case by an edition of a symptom."""

    def start(self, playbook: str, started: Mapping[str, Any], at: datetime) -> tuple[str, int, Playbook]:
        """The case that was opened, the number of its last event, and the ladder that it is guided by."""

    def move(self, climb: str, after: int, move: Mapping[str, Any], at: datetime) -> int:
        """The number of the event that the move became."""


class _Guided(Agent):
    """An agent each of whose answers goes to the desk."""

    def __init__(self, desk: Guiding, *about: Any) -> None:
        super().__init__(*about)
        self.desk = desk
        started = self.climb.started.model_dump(mode="json", exclude_defaults=True)
        self.case, self.number, ladder = desk.start(self.playbook.id, started, self.at)
        if ladder != self.playbook:
            self.climb_by(ladder, self.climb.started)

    def _do(self, move: Move) -> None:
        self.number = self.desk.move(self.case, self.number, move.model_dump(mode="json"), self.at)
        super()._do(move)


@dataclass(frozen=True)
class Ahead:
    """Months that are to come. playbooks: the newest editions; history: of a unit, as the log knows it."""

    playbooks: Mapping[str, Playbook]
    truths: Mapping[str, Truth]
    history: Callable[[str, str | None], Sequence[EarlierCase]]
    began: datetime
    until: datetime


def go_ahead(ahead: Ahead, cases: int, desk: Guiding, seed: int) -> Iterator[datetime]:
    """Guide so many cases, one after the other; when each began. A fault that comes back is reported within that
    number. Raises Conflict where the desk guides otherwise than its editions say."""
    rng = np.random.default_rng(seed)
    fleets = {name: Fleet(ahead.truths[name]) for name in ahead.playbooks}
    span = ahead.until - ahead.began - _LONGEST_CASE
    waiting: list[tuple[datetime, Fault | None]] = [
        (working_hour(ahead.began + span * float(share), rng), None) for share in rng.random(cases)
    ]
    while waiting:
        waiting.sort(key=lambda one: one[0])
        opened, fault = waiting.pop(0)
        fault = fault or new_fault(ahead.playbooks, fleets, ahead.began - PERIOD, opened, rng)
        known = ahead.history(fault.playbook, fault.unit)
        agent = _Guided(desk, ahead.playbooks[fault.playbook], fault, opened, rng, known)
        ended = agent.run()
        yield opened
        cured_by = ended.fixed_step if ended.ended and ended.ended.end in CURED else None
        again = return_of(fault, fault.unit, cured_by, agent.at, rng)
        fresh = [place for place, (_, one) in enumerate(waiting) if one is None]
        if again is not None and again < ahead.until - _LONGEST_CASE and fresh:
            waiting.pop(int(rng.choice(fresh)))
            waiting.append((again, fault))
