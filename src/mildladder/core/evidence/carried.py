"""Chances that the cases taught of one ladder, carried over to another (evidence, section 6).

What the other has anew (a step, a cause, a guess that was changed since) stays as the lead says.
"""

from collections.abc import Mapping
from functools import cached_property
from typing import NamedTuple

import numpy as np

from mildladder.core.evidence.learnable import Learnable, Source
from mildladder.core.evidence.posterior import Chances
from mildladder.core.figures.drawn import OnUnit
from mildladder.core.ladder.causes import FloatArray, all_causes, chance, finding_chances, priors_on
from mildladder.core.ladder.units import UnitGroup, fact_types, unit_groups, variant_on
from mildladder.core.model import Cause, Chance, Playbook, Step

__all__ = ["Carried"]


class _Sort(NamedTuple):
    """A sort of unit of the other playbook. matched: those of the model that its units may be; judged: its causes by
    the lead, (K,)."""

    group: UnitGroup
    matched: tuple[int, ...]
    judged: FloatArray


class Carried:
    """Chances that were drawn for one playbook, carried over to another by the ids of causes, steps and findings."""

    def __init__(self, model: Learnable, chances: Chances, playbook: Playbook) -> None:
        self.model, self.chances, self.playbook = model, chances, playbook
        self.causes, self.types = all_causes(playbook), fact_types(playbook)
        self.sets = chances.clears.shape[-1]
        there = {cause.id: number for number, cause in enumerate(model.causes)}
        self.place = [there.get(cause.id) for cause in self.causes]
        self.steps = {step.id: step for step in model.playbook.steps}
        self.sorts = [
            _Sort(group, model.groups_like(group), priors_on(self.causes, group.facts, self.types))
            for group in unit_groups(playbook)
        ]

    @property
    def groups(self) -> list[UnitGroup]:
        """The sorts of units of the other playbook."""
        return [sort.group for sort in self.sorts]

    def units(self) -> list[OnUnit]:
        """What holds on each sort of unit of the other playbook."""
        findings = {step.id: found for step in self.playbook.steps if (found := self._findings(step))}
        return [
            OnUnit(
                group=sort.group,
                mass=self._share(sort) * self._causes(sort),
                cures={
                    step.id: self._cures(step, sort.group, sort.matched[0])
                    for step in self.playbook.steps
                    if step.is_tested
                },
                findings=findings,
            )
            for sort in self.sorts
        ]

    @cached_property
    def wholes(self) -> dict[int, tuple[float, FloatArray]] | None:
        """By sort of unit of the model, the share and the mean causes, by the lead, of the sorts that are parts of it;
        None where they are no such parts, since some may be of several, or of some there is none."""
        found: dict[int, tuple[float, FloatArray]] = {}
        for group, matched, judged in self.sorts:
            if len(matched) != 1:
                return None
            share, causes = found.get(matched[0], (0.0, np.zeros(len(self.causes))))
            found[matched[0]] = share + group.share, causes + group.share * judged
        if len(found) < len(self.model.groups):
            return None
        return {number: (share, causes / share) for number, (share, causes) in found.items()}

    def _share(self, sort: _Sort) -> FloatArray:
        """Its share of all cases, (D,)."""
        if self.wholes is None:
            return np.full(self.sets, sort.group.share)
        number = sort.matched[0]
        part = sort.group.share / self.wholes[number][0]
        return np.asarray(part * self.chances.shares[number], dtype=float)

    def _causes(self, sort: _Sort) -> FloatArray:
        """The causes there, (K, D): those that the cases know in their shares, new ones in the lead's. What tells this
        sort from others that the cases knew as one tilts them as the lead says."""
        matched, judged = list(sort.matched), sort.judged
        weights = self.chances.shares[matched]
        drawn = (weights[:, None] * self.chances.causes[matched]).sum(axis=0) / weights.sum(axis=0)
        known = np.array([place is not None for place in self.place])
        mass = np.repeat(judged[:, None], self.sets, axis=1)
        mine = np.array([drawn[place] for place in self.place if place is not None])
        if self.wholes is not None:
            mean = self.wholes[sort.matched[0]][1]
            mine = mine * np.divide(judged, mean, out=np.ones_like(mean), where=mean > 0)[known, None]
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
