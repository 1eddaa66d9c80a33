"""Desks of which it is known what a change would save: what is nudged can be held against it."""

from dataclasses import replace

import numpy as np

from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudges import Grounds
from mildladder.core.evidence.estimate import Estimated, estimate
from mildladder.core.evidence.forward import Told
from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.rates import StepEvidence, no_evidence
from mildladder.core.evidence.records import records_of
from mildladder.core.evidence.taught import taught_playbook
from mildladder.core.ladder.causes import chance
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Playbook
from mildladder.core.ordering.best import best_order
from tests.core.evidence.desks import Desk, desk_of, small_desk

A_MONTH = 100.0
_WRONG = 3.0


def best_desk(seed: int, cases: int = 2000, is_flat: bool = True) -> Desk:
    """A desk whose ladder stands in the order that is really best."""
    desk = small_desk(seed, cases=10, is_flat=is_flat)
    known = taught_playbook(desk.model, desk.truth, desk.playbook, Told())
    playbook = reordered(desk.playbook, best_order(known).order)
    return desk_of(playbook, desk.truth, np.random.default_rng(seed + 1), cases)


def with_wrong_guesses(playbook: Playbook, seed: int) -> Playbook:
    """Every guess of the lead off by 3 in odds, one way or the other."""
    rng = np.random.default_rng(seed)

    def off(share: float) -> float:
        odds = share / (1 - share) * (_WRONG if rng.random() < 0.5 else 1 / _WRONG)
        return float(odds / (1 + odds))

    steps = tuple(
        step.model_copy(update={"fixes": {cause: off(chance(one)) for cause, one in step.fixes.items()}})
        for step in playbook.steps
    )
    return playbook.model_copy(update={"steps": steps})


def grounds_of(desk: Desk, draft: Playbook | None = None) -> Grounds:
    """What nudges of a draft rest on: the desk's own, or another of the same causes and steps."""
    draft = draft or desk.playbook
    known = draft if draft.steps != desk.playbook.steps else desk.playbook
    counts = counted(desk)

    def made(playbook: Playbook) -> Estimated:
        records, model = records_of(desk.tallies, learnable(playbook))
        return estimate(records, model, {step: row.tried for step, row in counts.items()}, {})

    return Grounds(made(known), draft, Told(), counts, (), A_MONTH, made)


def counted(desk: Desk) -> dict[str, StepEvidence]:
    """How often each step was tried and resolved."""
    return {
        step: no_evidence(step).model_copy(update={"tried": tried, "resolved": resolved})
        for step, (resolved, tried) in desk.raw.items()
    }


def really(desk: Desk, grounds: Grounds) -> Judge:
    """A judge that knows what is really so."""
    return Judge(replace(grounds.made, chances=desk.truth, model=desk.model), grounds.draft, Told())
