"""What a draft would come to by what the cases have taught, though they taught it of an edition (evidence, section 6).

What the draft has anew (a step, a cause, a guess that was changed since) stays as the lead says.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

from mildladder.core.evidence.carried import Carried
from mildladder.core.evidence.counts import DoneCount, HarmCount
from mildladder.core.evidence.estimate import Estimated, spaced, span
from mildladder.core.evidence.histories import with_histories
from mildladder.core.evidence.learned import taking
from mildladder.core.evidence.rates import StepEvidence
from mildladder.core.figures.drawn import DrawnForecast, drawn_forecast
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.model import Hazard, Playbook, Shape, Step

__all__ = [
    "LearnedFigures",
    "Span",
    "Told",
    "drawn_of",
    "learned_figures",
    "span_of",
    "told_of",
    "with_all_learned",
    "with_learned",
]

_DONE_CASES, _HARM_TRIES = 4, 20


@dataclass(frozen=True)
class Told:
    """What was counted of steps and units.

    done: how often each step was carried out, and could not be; harms: asked and seen; minutes: the median on the
    clock, of steps with enough tries to say; histories: how often each test of a unit's history held.
    """

    done: Mapping[str, DoneCount] = field(default_factory=dict)
    harms: Mapping[str, HarmCount] = field(default_factory=dict)
    minutes: Mapping[str, float] = field(default_factory=dict)
    histories: Mapping[str, float] = field(default_factory=dict)


def told_of(
    counts: Mapping[str, StepEvidence],
    harms: Mapping[str, HarmCount],
    minutes: Mapping[str, float] | None = None,
    histories: Mapping[str, float] | None = None,
) -> Told:
    """What is counted of the steps of a log, and of its units; without minutes and histories both stay as judged."""
    done = {
        step: DoneCount(row.tried + row.together + row.done + row.took_unknown, row.could_not)
        for step, row in counts.items()
    }
    return Told(done, harms, minutes or {}, histories or {})


class Span(Shape):
    """A figure with its 95 % interval."""

    mean: float
    low: float
    high: float


class LearnedFigures(Shape):
    """Figures of a ladder a case by what the cases have taught, and what they differ by from the edition's under the
    same chances, draft less edition; None where there is no edition. cases: that taught it."""

    cases: int
    effort: Span
    harm: Span
    resolved: Span
    handed_off: Span
    less_effort: Span | None
    less_harm: Span | None
    more_resolved: Span | None


def learned_figures(made: Estimated, now: DrawnForecast, before: DrawnForecast | None) -> LearnedFigures:
    """The figures of a draft, and of an edition beside it, each as `drawn_of` has it."""
    return LearnedFigures(
        cases=made.estimate.cases,
        effort=span_of(now.effort),
        harm=span_of(now.harm),
        resolved=span_of(now.resolved + now.worked_around),
        handed_off=span_of(now.handed_off),
        less_effort=span_of(now.effort - before.effort) if before else None,
        less_harm=span_of(now.harm - before.harm) if before else None,
        more_resolved=span_of(now.resolved + now.worked_around - before.resolved - before.worked_around)
        if before
        else None,
    )


def span_of(figure: FloatArray) -> Span:
    """Mean and 95 % interval over draws."""
    rate = span(figure)
    return Span(mean=rate.mean or 0.0, low=rate.low or 0.0, high=rate.high or 0.0)


def drawn_of(made: Estimated, playbook: Playbook, told: Told) -> DrawnForecast:
    """A ladder over 64 draws of what the cases have taught. Raises BadInput as `forecast` does."""
    learned = with_all_learned(playbook, told)
    return drawn_forecast(learned, Carried(made.model, spaced(made.chances), learned).units())


def with_all_learned(playbook: Playbook, told: Told) -> Playbook:
    """The playbook that a forecast is made of: besides, with the minutes of its steps, and how often units have had
    what its conditions ask. A step that takes longer on some units keeps the lead's minutes: a log has them mixed."""
    learned = with_learned(with_histories(playbook, told.histories), told)
    steps = tuple(
        taking(step, told.minutes[step.id], playbook.retest)
        if step.id in told.minutes and not any(variant.effort for variant in step.varies)
        else step
        for step in learned.steps
    )
    return learned.model_copy(update={"steps": steps})


def with_learned(playbook: Playbook, told: Told) -> Playbook:
    """The playbook with how often its steps can be carried out, and their chances of harm, as the cases have it."""
    steps = tuple(
        step.model_copy(
            update={
                "done": _done(step, told.done.get(step.id)),
                "hazards": tuple(_hazard(one, told.harms.get(step.id)) for one in step.hazards),
            }
        )
        for step in playbook.steps
    )
    return playbook.model_copy(update={"steps": steps})


def _done(step: Step, counted: DoneCount | None) -> float:
    if counted is None:
        return step.done
    return (_DONE_CASES * step.done + counted.carried) / (_DONE_CASES + counted.carried + counted.could_not)


def _hazard(hazard: Hazard, told: HarmCount | None) -> Hazard:
    if told is None:
        return hazard
    seen = told.seen.get(hazard.kind, 0)
    # A try under the safeguard counts as the part of one that the safeguard leaves.
    chance_of = (_HARM_TRIES * hazard.chance + seen) / (_HARM_TRIES + told.asked * told.ease(hazard))
    return hazard.model_copy(update={"chance": min(1.0, chance_of)})
