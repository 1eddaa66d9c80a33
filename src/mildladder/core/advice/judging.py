"""What a change of a draft would save a case, under every set of chances that the cases leave open (evidence, 9)."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from mildladder.core.errors import BadInput, Stopped
from mildladder.core.evidence.carried import Carried
from mildladder.core.evidence.estimate import Estimated, spaced
from mildladder.core.evidence.forward import Span, Told, span_of, with_learned
from mildladder.core.evidence.posterior import Chances
from mildladder.core.figures.drawn import DrawnForecast, drawn_forecast
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ladder.soundness import faults
from mildladder.core.model import Person, Playbook, Weights
from mildladder.core.ordering.blocks import Ladder

__all__ = ["Judge"]

# Sets of chances by which many changes are screened, and the best of them judged.
FEW, MANY = 64, 400
PERSONS: tuple[Person, ...] = ("caller", "desk", "visit")
_NOTHING = {"caller": 0.0, "desk": 0.0, "visit": 0.0, "wait": 0.0, "travel": 0.0, "parts": 0.0}


@dataclass(frozen=True)
class Spared:
    """What a change spares a case. people: minutes of people, journeys included; by_person: their means, journeys left
    out; waiting: minutes; parts: money; harm: points; resolved: shares before and after, at the means. arriving: by
    rung of the main line, the share of cases that comes to it, before and after."""

    people: Span
    by_person: dict[Person, float]
    waiting: Span
    parts: Span
    harm: Span
    resolved: tuple[float, float]
    arriving: tuple[tuple[float, ...], tuple[float, ...]]


class Judge:
    """Judges changes of one draft. draft: with what was counted of its steps in place of its guesses; kept: shares of
    its cures that hold, where some do not."""

    def __init__(
        self,
        made: Estimated,
        draft: Playbook,
        told: Told,
        is_stopped: Callable[[], bool] = lambda: False,
        kept: dict[str, float] | None = None,
    ) -> None:
        self.made, self.is_stopped, self.kept = made, is_stopped, kept or {}
        self.draft = with_learned(draft, told)
        self.rate = draft.policy.rate
        self.few, self.many = spaced(made.chances, FEW), spaced(made.chances, MANY)
        self.broken = _broken(self.draft)

    @cached_property
    def now(self) -> FloatArray:
        """Effort and harm of the draft in one figure, by set, (64,)."""
        return self._objective(self.draft, self.few)

    @cached_property
    def now_over_draws(self) -> FloatArray:
        """The same over many sets, (400,)."""
        return self._objective(self.draft, self.many)

    def may_be(self, changed: Playbook) -> bool:
        """Whether a changed draft is sound, and keeps every rule that the draft keeps."""
        return next(faults(changed), None) is None and _broken(changed) <= self.broken

    def worth(self, changed: Playbook) -> float | None:
        """What a change saves a case in the mean of few sets; None where the draft cannot be so. Raises Stopped."""
        if self.is_stopped():
            raise Stopped
        try:
            return float((self.now - self._objective(changed, self.few)).mean())
        except BadInput:
            return None

    def saving(self, changed: Playbook) -> FloatArray:
        """What a change saves a case in effort and harm, by each of many sets, (400,)."""
        return self.now_over_draws - self._objective(changed, self.many)

    def share_lost(self, changed: Playbook) -> float:
        """The share of cases that a change leaves unresolved, at its 97.5 % point."""
        before, after = self.figures(self.draft, self.many), self.figures(changed, self.many)
        lost = before.resolved + before.worked_around - after.resolved - after.worked_around
        return float(np.quantile(lost, 0.975))

    def spared(self, changed: Playbook) -> Spared:
        """What exactly a change spares, apart."""

        def less(chances: Chances, **weights: float) -> FloatArray:
            return self._effort(self.draft, chances, weights) - self._effort(changed, chances, weights)

        means = self.few.mean()
        before, after = self.figures(self.draft, self.few), self.figures(changed, self.few)
        at_means = self.figures(self.draft, means), self.figures(changed, means)
        return Spared(
            people=span_of(less(self.few, caller=1, desk=1, visit=1, travel=1)),
            by_person={person: float(less(means, **{person: 1})[0]) for person in PERSONS},
            waiting=span_of(less(self.few, wait=1)),
            parts=span_of(less(self.few, parts=1)),
            harm=span_of(before.harm - after.harm),
            resolved=(_ended(at_means[0]), _ended(at_means[1])),
            arriving=(_arriving(self.draft, at_means[0]), _arriving(changed, at_means[1])),
        )

    def figures(self, playbook: Playbook, chances: Chances) -> DrawnForecast:
        """The forecast of a draft under each set."""
        units = Carried(self.made.model, chances, playbook).units()
        for unit in units:
            for step, share in self.kept.items():
                if step in unit.cures:
                    unit.cures[step][...] *= share
        return drawn_forecast(playbook, units)

    def _objective(self, playbook: Playbook, chances: Chances) -> FloatArray:
        made = self.figures(playbook, chances)
        return made.effort + self.rate * made.harm

    def _effort(self, playbook: Playbook, chances: Chances, weights: dict[str, float]) -> FloatArray:
        """Effort where only these sorts of it count."""
        counted = Weights(**{**_NOTHING, **weights})
        policy = playbook.policy.model_copy(update={"weights": counted})
        return self.figures(playbook.model_copy(update={"policy": policy}), chances).effort


def _ended(figures: DrawnForecast) -> float:
    return float(figures.resolved[0] + figures.worked_around[0])


def _arriving(playbook: Playbook, figures: DrawnForecast) -> tuple[float, ...]:
    return tuple(float(figures.arriving[f"ladder.{number}"][0]) for number in range(len(playbook.ladder)))


def _broken(playbook: Playbook) -> set[str]:
    ladder = Ladder(playbook, "balanced")
    return {rule.says for rule in ladder.broken(range(len(ladder.blocks)))}
