"""What the cases of a symptom teach a draft, small enough to be kept and taught in a moment (evidence, section 6)."""

from dataclasses import dataclass

import numpy as np

from mildladder.core.evidence.counts import DoneCount, HarmCount
from mildladder.core.evidence.estimate import Estimated, spaced
from mildladder.core.evidence.forward import Told
from mildladder.core.evidence.learnable import Learnable
from mildladder.core.evidence.posterior import Chances
from mildladder.core.evidence.taught import taught_playbook, with_units
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.model import Playbook, Shape
from mildladder.core.model.base import Id

__all__ = ["Lesson", "Teaching", "lesson_of"]

_Row = tuple[float, ...]


class Lesson(Shape):
    """Posterior means, laid out as `Chances` are for the ladder that was estimated: shares of sorts of units, (G,);
    causes on each, (G, K); cures by source, (S, K); findings, (F, K) a step with findings. done: how often each step
    was carried out, and could not be; harms: how often each was asked about and seen; minutes: medians on the clock;
    histories: how often each test of a unit's history held.

    Of what the cases say little the mean stays near the lead's guess by itself: putting the guess there outright would
    set figures side by side that the cases rule out together, and a total outside its own interval. cases: that taught.
    """

    cases: int
    shares: _Row
    causes: tuple[_Row, ...]
    cures: tuple[_Row, ...]
    findings: tuple[tuple[_Row, ...], ...]
    done: dict[Id, DoneCount]
    harms: dict[Id, HarmCount]
    minutes: dict[Id, float] = {}
    histories: dict[str, float] = {}

    @property
    def told(self) -> Told:
        """What was counted of steps."""
        return Told(self.done, self.harms, self.minutes, self.histories)

    @property
    def chances(self) -> Chances:
        """The means as one set."""
        pooled = np.array(self.shares) @ np.array(self.causes)
        return Chances(
            _set(self.shares),
            pooled[:, None],
            _set(self.causes),
            _set(self.cures),
            tuple(_set(one) for one in self.findings),
            np.zeros(1),
        )


def _set(values: object) -> FloatArray:
    return np.array(values, dtype=float)[..., None]


@dataclass(frozen=True)
class Teaching:
    """A lesson with the ladder that it was estimated of. name: of the estimate that it is from, and of no other."""

    name: str
    model: Learnable
    lesson: Lesson

    def taught(self, draft: Playbook) -> Playbook:
        """The draft as the cases have it; to be looked at and thrown away."""
        means = self.lesson.chances
        return with_units(self.model, means, taught_playbook(self.model, means, draft, self.lesson.told))


def lesson_of(made: Estimated, told: Told) -> Lesson | None:
    """The lesson of an estimate; None where too few cases speak or it could not be settled."""
    if made.estimate.refused:
        return None
    means = spaced(made.chances).mean()
    # A log knows steps by other names too, of which nothing is taught.
    steps = {step.id for step in made.model.playbook.steps}
    return Lesson(
        cases=made.estimate.cases,
        shares=tuple(means.shares[:, 0].tolist()),
        causes=_rows(means.causes[..., 0]),
        cures=_rows(means.cures[..., 0]),
        findings=tuple(_rows(one[..., 0]) for one in means.findings),
        done={step: one for step, one in told.done.items() if step in steps},
        harms={step: one for step, one in told.harms.items() if step in steps},
        minutes={step: one for step, one in told.minutes.items() if step in steps},
        histories=dict(told.histories),
    )


def _rows(table: FloatArray) -> tuple[_Row, ...]:
    return tuple(tuple(row) for row in table.tolist())
