"""The share resolved against the effort spent, rung by rung: as forecast, and as the cases went."""

from collections.abc import Mapping

from mildladder.core.evidence.rates import StepEvidence
from mildladder.core.figures.forecast import Forecast
from mildladder.core.figures.judgement import effort_minutes
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Playbook, Shape

__all__ = ["SpentCurves", "observed_curve", "spent_curve"]


class Spent(Shape):
    """Down to a rung of the main line, rails included: effort minutes spent and share ended, a case."""

    effort: float
    ended: float


class SpentCurves(Shape):
    """The curves of a ladder. best: in the best balanced order, None where there is none; observed: None without
    cases."""

    forecast: tuple[Spent, ...]
    best: tuple[Spent, ...] | None
    observed: tuple[Spent, ...] | None


def spent_curve(figures: Forecast) -> tuple[Spent, ...]:
    """From nothing spent, after each rung."""
    effort = ended = 0.0
    made = [Spent(effort=0, ended=0)]
    for rung in figures.rungs:
        effort += rung.effort
        ended += rung.resolved + rung.worked_around
        made.append(Spent(effort=effort, ended=ended))
    return tuple(made)


def observed_curve(playbook: Playbook, counts: Mapping[str, StepEvidence], cases: int) -> tuple[Spent, ...] | None:
    """As the cases went: each step that was carried out at its judged effort, at the first rung on which it stands.

    Changing over between states and testing again are in no log, so this lies left of a forecast by what they cost.
    """
    if cases == 0:
        return None
    effort = ended = 0.0
    seen: set[str] = set()
    made = [Spent(effort=0, ended=0)]
    for entry in playbook.ladder:
        for rung in rungs_of((entry,)):
            row = counts.get(rung.step)
            if rung.step in seen or row is None:
                continue
            seen.add(rung.step)
            times = row.tried + row.done + row.together + row.took_unknown
            effort += times / cases * effort_minutes(playbook.step(rung.step).effort, playbook.policy.weights)
            ended += row.resolved / cases
        made.append(Spent(effort=effort, ended=ended))
    return tuple(made)
