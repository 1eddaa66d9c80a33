"""Make the cases of 18 months against a known truth; the same seed gives the same cases."""

import heapq
from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import numpy as np

from mildladder.core.climb.record import case_of
from mildladder.core.model import Case, Playbook
from mildladder.core.model.events import EarlierCase
from mildladder.demo.agent import Agent
from mildladder.demo.elsewhere import Office
from mildladder.demo.faults import Fault, Fleet, new_fault
from mildladder.demo.truth import Truth

__all__ = ["PERIOD", "Simulated", "return_of", "simulate", "working_hour"]

PERIOD = timedelta(days=540)
_LONGEST_RETURN = 12.0
_LONGEST_CASE = timedelta(days=4)
_FIRST_NUMBER = 10001

Followed = Callable[[str, datetime], tuple[Playbook, int | None]]


@dataclass(frozen=True)
class Simulated:
    """A case with its truth: the cause behind it, and the step that really ended it (None: none did).

    is_elsewhere: the harbour office logged it, in its own words. is_return: the fault of an earlier case, come back.
    """

    case: Case
    cause: str
    cured_by: str | None
    is_elsewhere: bool
    is_return: bool = False


def simulate(
    playbooks: Mapping[str, Playbook],
    truths: Mapping[str, Truth],
    count: int,
    until: datetime,
    seed: int,
    followed: Followed | None = None,
    elsewhere: float = 0.0,
) -> Iterator[Simulated]:
    """`count` cases, oldest first, over the 18 months before the day of `until`; that day only shifts their dates.

    followed: which playbook was climbed for a symptom at a moment, and as which edition (None: nothing was published
    yet, agents had it on paper); left out, every playbook as its edition 1. elsewhere: the share of cases that the
    harbour office takes, without any playbook.
    """
    until = until.replace(hour=0, minute=0, second=0, microsecond=0)
    followed = followed or (lambda name, _: (playbooks[name], 1))
    rng = np.random.default_rng(seed)
    fleets = {name: Fleet(truth) for name, truth in truths.items()}
    waiting: list[tuple[datetime, int, Fault | None]] = [
        (working_hour(until - _LONGEST_CASE - (PERIOD - _LONGEST_CASE) * float(share), rng), number, None)
        for number, share in enumerate(rng.random(count))
    ]
    heapq.heapify(waiting)
    had: dict[tuple[str, str | None], list[EarlierCase]] = defaultdict(list)
    made = 0
    while waiting:
        opened, _, fault = heapq.heappop(waiting)
        is_return = fault is not None
        fault = fault or new_fault(playbooks, fleets, until - PERIOD, opened, rng)
        made += 1
        number = _FIRST_NUMBER + made
        if rng.random() < elsewhere:
            one = _logged_elsewhere(playbooks[fault.playbook], fault, opened, number, rng)
        else:
            before = [earlier for earlier in had[fault.playbook, fault.unit] if earlier.closed <= opened]
            one = _guided(followed(fault.playbook, opened), fault, opened, number, before, rng)
        yield replace(one, is_return=is_return)
        if one.case.unit is not None:
            known = EarlierCase(case=one.case.case, closed=one.case.closed, resolved_by=one.case.resolved_by)
            had[fault.playbook, one.case.unit].insert(0, known)
        again = return_of(fault, one.case.unit, one.cured_by, one.case.closed, rng)
        if again is not None and again < until - _LONGEST_CASE:
            _give_way(waiting, rng)
            heapq.heappush(waiting, (again, count + made, replace(fault, unit=one.case.unit)))


def _guided(
    followed: tuple[Playbook, int | None],
    fault: Fault,
    opened: datetime,
    number: int,
    before: Sequence[EarlierCase],
    rng: np.random.Generator,
) -> Simulated:
    playbook, edition = followed
    case = case_of(Agent(playbook, fault, opened, rng, before).run(), f"OF-{number}", edition=edition or 1)
    if edition is None:
        case = case.model_copy(update={"playbook": None, "edition": None})
    return Simulated(case, fault.cause, case.resolved_by, is_elsewhere=False)


def _logged_elsewhere(
    playbook: Playbook, fault: Fault, opened: datetime, number: int, rng: np.random.Generator
) -> Simulated:
    case, cured_by = Office(playbook, fault, opened, rng).log(f"HO-{number}")
    return Simulated(case, fault.cause, cured_by, is_elsewhere=True)


def _give_way(waiting: list[tuple[datetime, int, Fault | None]], rng: np.random.Generator) -> None:
    """Take one fault out that has not happened yet, so that returns do not add to the number of cases."""
    fresh = [place for place, (_, _, fault) in enumerate(waiting) if fault is None]
    if fresh:
        waiting.pop(int(rng.choice(fresh)))
        heapq.heapify(waiting)


def return_of(
    fault: Fault, unit: str | None, cured_by: str | None, closed: datetime, rng: np.random.Generator
) -> datetime | None:
    """When the fault shows again that a step seemed to have ended; None when it does not, or the unit is not known."""
    chance = fault.truth.comes_back.get(cured_by or "", 0.0)
    if unit is None or rng.random() >= chance:
        return None
    return working_hour(closed + timedelta(days=1 + float(rng.random()) * _LONGEST_RETURN), rng)


def working_hour(at: datetime, rng: np.random.Generator) -> datetime:
    """The same day at an hour when ships sail."""
    minutes = int(rng.integers(5 * 60 + 30, 21 * 60))
    return at.replace(hour=0, minute=0, second=0, microsecond=0) + timedelta(minutes=minutes)
