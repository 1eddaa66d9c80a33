"""Desks whose agents have no ladder yet: each tries what comes to mind, and what is really so is known."""

from collections import Counter
from dataclasses import dataclass

import numpy as np

from mildladder.core.advice.first_ladder import first_ladder, tried_in_log
from mildladder.core.evidence.forward import Told
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.evidence.taught import taught_playbook
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Playbook
from mildladder.core.ordering.best import best_order
from mildladder.core.tally.signature import AttemptSign, Signature
from tests.core.evidence.desks import Desk, desk_of, small_desk

_MOST_TRIES = 6


@dataclass(frozen=True)
class WithoutLadder:
    """A desk, what is really so as a playbook, and what its agents have logged."""

    desk: Desk
    truth: Playbook
    tallies: list[KeyedTally]

    def dearer(self, order: list[str]) -> float:
        """By what share a ladder of these steps costs more than the best would, really; steps it lacks stand last."""
        steps = [rung.step for rung in self.truth.ladder]
        whole = [*order, *(step for step in steps if step not in order)]
        cost = forecast(reordered(self.truth, [steps.index(step) for step in whole])).effort
        return cost / forecast(reordered(self.truth, best_order(self.truth).order)).effort - 1


def without_ladder(seed: int, cases: int) -> WithoutLadder:
    """Eight fixes of one to fifteen minutes, four causes, agents who favour some steps over others."""
    plain = small_desk(seed, cases=1, is_flat=True)
    rng = np.random.default_rng(seed + 99)
    steps = tuple(
        step.model_copy(
            update={"effort": step.effort.model_copy(update={"hands_on": float(rng.choice((1, 2, 4, 8, 15)))})}
        )
        for step in plain.playbook.steps
    )
    desk = desk_of(plain.playbook.model_copy(update={"steps": steps}), plain.truth, rng, 1)
    truth = taught_playbook(desk.model, desk.truth, desk.playbook, Told())
    return WithoutLadder(desk, truth, _logged(desk, rng, cases))


def _logged(desk: Desk, rng: np.random.Generator, cases: int) -> list[KeyedTally]:
    ids = [step.id for step in desk.playbook.steps]
    favoured = rng.dirichlet(np.full(len(ids), 3.0))
    signs = Counter(_case(desk, rng, ids, favoured) for _ in range(cases))
    return [KeyedTally(sign, {}, False, count) for sign, count in signs.items()]


def _case(desk: Desk, rng: np.random.Generator, ids: list[str], favoured: np.ndarray) -> Signature:
    cause = int(rng.choice(len(desk.model.causes), p=desk.truth.causes[0, :, 0]))
    attempts = []
    for step in rng.choice(ids, size=_MOST_TRIES, replace=False, p=favoured):
        if rng.random() > desk.playbook.step(step).done:
            attempts.append(AttemptSign(step=step, result="could-not"))
            continue
        is_fixed = rng.random() < desk.truth.cures[desk.model.source(step, 0, {}), cause, 0]
        attempts.append(AttemptSign(step=step, result="fixed" if is_fixed else "no-change"))
        if is_fixed:
            return Signature(attempts=tuple(attempts), end="resolved", resolved_by=step)
    return Signature(attempts=tuple(attempts), end="handed-off", resolved_by=None)


def proposed(one: WithoutLadder) -> Playbook:
    """The first ladder that its log gives."""
    minutes = {step.id: step.effort.hands_on for step in one.desk.playbook.steps}
    tried = tried_in_log(one.tallies, minutes, lambda step: step.replace("-", " ").capitalize())
    return first_ladder("small", "Small", "It is small", one.tallies, tried)
