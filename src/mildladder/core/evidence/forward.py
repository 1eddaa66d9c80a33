"""What a draft would come to by what the cases have taught, though they taught it of an edition (evidence, section 6).

What the draft has anew (a step, a cause, a guess that was changed since) stays as the lead says.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from mildladder.core.evidence.counts import DoneCount, HarmCount
from mildladder.core.evidence.estimate import Estimated, spaced, span
from mildladder.core.evidence.histories import with_histories
from mildladder.core.evidence.learnable import Learnable, Source
from mildladder.core.evidence.learned import taking
from mildladder.core.evidence.posterior import Chances
from mildladder.core.evidence.rates import StepEvidence
from mildladder.core.figures.drawn import DrawnForecast, OnUnit, drawn_forecast
from mildladder.core.ladder.causes import FloatArray, all_causes, chance, finding_chances, priors_on
from mildladder.core.ladder.units import UnitGroup, fact_types, unit_groups, variant_on
from mildladder.core.model import Cause, Chance, Hazard, Playbook, Shape, Step

__all__ = [
    "Carried", "LearnedFigures", "Span", "Told", "learned_figures", "span_of", "told_of", "with_all_learned",
    "with_learned",
]  # fmt: skip

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


def learned_figures(
    made: Estimated,
    draft: Playbook,
    edition: Playbook | None,
    told: Told,
) -> LearnedFigures:
    """The figures of a draft, and of an edition beside it, over 64 draws. Raises BadInput as `forecast` does."""
    chances = spaced(made.chances)
    now = _drawn(made, chances, draft, told)
    before = _drawn(made, chances, edition, told) if edition else None
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


def _drawn(
    made: Estimated,
    chances: Chances,
    playbook: Playbook,
    told: Told,
) -> DrawnForecast:
    learned = with_all_learned(playbook, told)
    carried = Carried(made.model, chances, learned)
    return drawn_forecast(learned, [carried.on(group) for group in unit_groups(learned)])


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
    chance_of = (_HARM_TRIES * hazard.chance + seen) / (_HARM_TRIES + told.asked)
    return hazard.model_copy(update={"chance": chance_of})


class _Part(NamedTuple):
    """A sort of unit within one that the cases knew. share: of that; tilt: how much likelier each cause is, (K,)."""

    share: float
    tilt: FloatArray


class _Parts:
    """Sorts of units of a playbook as parts of those that a model knows; none where some are no such parts."""

    def __init__(self, model: Learnable, playbook: Playbook, causes: Sequence[Cause], types: Mapping[str, str]) -> None:
        self.model, self.causes, self.types = model, causes, types
        groups = unit_groups(playbook)
        matched = [model.groups_like(group) for group in groups]
        are_parts = {one for many in matched for one in many} == set(range(len(model.groups)))
        self.are_parts = are_parts and all(len(many) == 1 for many in matched)
        self.share = np.zeros(len(model.groups))
        self.judged = np.zeros((len(model.groups), len(causes)))
        if self.are_parts:
            for group, (number,) in zip(groups, matched, strict=True):
                self.share[number] += group.share
                self.judged[number] += group.share * priors_on(causes, group.facts, types)

    def of(self, group: UnitGroup) -> _Part | None:
        """The part that a sort of unit is."""
        if not self.are_parts:
            return None
        (number,) = self.model.groups_like(group)
        judged, mean = priors_on(self.causes, group.facts, self.types), self.judged[number] / self.share[number]
        return _Part(group.share / self.share[number], np.divide(judged, mean, out=np.ones_like(mean), where=mean > 0))


class Carried:
    """Chances that were drawn for one playbook, carried over to another by the ids of causes, steps and findings."""

    def __init__(self, model: Learnable, chances: Chances, playbook: Playbook) -> None:
        self.model, self.chances, self.playbook = model, chances, playbook
        self.causes, self.types = all_causes(playbook), fact_types(playbook)
        self.sets = chances.clears.shape[-1]
        there = {cause.id: number for number, cause in enumerate(model.causes)}
        self.place = [there.get(cause.id) for cause in self.causes]
        self.steps = {step.id: step for step in model.playbook.steps}
        self.parts = _Parts(model, playbook, self.causes, self.types)

    def on(self, group: UnitGroup) -> OnUnit:
        """What holds on one sort of unit of the other playbook."""
        matched = self.model.groups_like(group)
        part = self.parts.of(group)
        share = np.full(self.sets, group.share) if part is None else self.chances.shares[matched[0]] * part.share
        return OnUnit(
            group=group,
            mass=share * self._causes(group, matched, part),
            cures={step.id: self._cures(step, group, matched[0]) for step in self.playbook.steps if step.is_tested},
            findings={step.id: found for step in self.playbook.steps if (found := self._findings(step))},
        )

    def _causes(self, group: UnitGroup, matched: tuple[int, ...], part: "_Part | None") -> FloatArray:
        """The causes there, (K, D): those that the cases know in their shares, new ones in the lead's. What tells this
        sort from others that the cases knew as one tilts them as the lead says."""
        weights = self.chances.shares[list(matched)]
        drawn = (weights[:, None] * self.chances.causes[list(matched)]).sum(axis=0) / weights.sum(axis=0)
        judged = priors_on(self.causes, group.facts, self.types)
        known = np.array([place is not None for place in self.place])
        mass = np.repeat(judged[:, None], self.sets, axis=1)
        mine = np.array([drawn[place] for place in self.place if place is not None])
        if part is not None:
            mine = mine * part.tilt[known, None]
        mass[known] = mine / mine.sum(axis=0) * judged[known].sum()
        return mass

    def _cures(self, step: Step, group: UnitGroup, there: int) -> FloatArray:
        """The chances of a step to end each cause, (K, D)."""
        variant = variant_on(step, group.facts, self.types)
        own = step.varies[variant].fixes if variant is not None else None
        fixes = step.fixes if own is None else own
        judged = np.array([chance(fixes.get(cause.id, 0.0)) for cause in self.causes])
        found = np.repeat(judged[:, None], self.sets, axis=1)
        if step.id not in self.model.steps:
            return found
        number = self.model.source(step.id, there, {})
        listed = self._listed(self.model.sources[number])
        for at, (cause, place) in enumerate(zip(self.causes, self.place, strict=True)):
            if place is not None and _said(fixes, cause) == _said(listed, cause):
                found[at] = self.chances.cures[number, place]
        return found

    def _listed(self, source: Source) -> Mapping[str, Chance]:
        step = self.steps[source.step]
        return step.fixes if source.variant is None else step.varies[source.variant].fixes or {}

    def _findings(self, step: Step) -> dict[str, FloatArray]:
        """The chances of each finding, (K, D); nothing where the draft judges them otherwise than the edition did."""
        before = self.steps.get(step.id)
        if before is None or before.findings != step.findings or len(step.findings) < 2:
            return {}
        judged = finding_chances(step, self.causes)
        made = {}
        for row, finding in enumerate(step.findings):
            table = np.repeat(judged[row][:, None], self.sets, axis=1)
            place, at = self.model.found_at[step.id, finding.id]
            for number, there in enumerate(self.place):
                if there is not None:
                    table[number] = self.chances.findings[place][at, there]
            made[finding.id] = table
        return made


def _said(fixes: Mapping[str, Chance], cause: Cause) -> float | None:
    """What is said of a cause; None where nothing is."""
    return chance(fixes[cause.id]) if cause.id in fixes else None
