"""What cases can teach about a playbook: its causes, sorts of units, and the chances of its steps and findings.

Sources are the chances to end causes that are learned apart: those of a step, and of each of its variants that names
its own (evidence, section 2).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import NamedTuple

import numpy as np

from mildladder.core.errors import BadInput
from mildladder.core.ladder.causes import FloatArray, all_causes, chance, finding_chances, priors
from mildladder.core.ladder.conditions import (
    Condition,
    EarlierCases,
    EarlierResolved,
    Ended,
    Found,
    Known,
    World,
    evaluate,
    facts_of,
    mapped,
    parse,
    partly,
)
from mildladder.core.ladder.units import UnitGroup, conditions_of, fact_types, telling_facts, unit_groups, variant_on
from mildladder.core.model import SOMETHING_ELSE, Cause, Playbook, RailEntry, Rung, Step

__all__ = ["NOTHING", "SOMETHING", "Learnable", "Source", "learnable"]

# What a step with many an outcome `nothing-to-do` finds, beside its own findings.
NOTHING, SOMETHING = "nothing to do", "something to do"
_LEAST = 0.01


class Source(NamedTuple):
    """Chances of a tested step to end causes: its own (variant None), or those of a variant that names its own."""

    step: str
    variant: int | None


@dataclass(frozen=True)
class Findings:
    """What a step may find, and how likely that is for each cause by the lead's word. table: (F, K), columns sum to 1;
    strength: in cases."""

    step: str
    ids: tuple[str, ...]
    table: FloatArray
    strength: float = 4.0


@dataclass(frozen=True)
class Learnable:
    """The parts of a playbook that cases teach about, in fixed orders.

    weights: P(cause) by the lead, shape (K,), none below 0.01 of the whole. times: (G, K), how much likelier each cause
    is on each sort of unit. listed: (S, K), the lead's chance that a source ends a cause, NaN where it names none.
    """

    playbook: Playbook
    causes: tuple[Cause, ...]
    groups: tuple[UnitGroup, ...]
    weights: FloatArray
    times: FloatArray
    sources: tuple[Source, ...]
    listed: FloatArray
    findings: tuple[Findings, ...]

    @cached_property
    def types(self) -> dict[str, str]:
        """The type of every fact."""
        return fact_types(self.playbook)

    @cached_property
    def steps(self) -> dict[str, Step]:
        """The tested steps, by id."""
        return {step.id: step for step in self.playbook.steps if step.is_tested}

    @cached_property
    def number_of(self) -> dict[Source, int]:
        """Where each source stands."""
        return {source: number for number, source in enumerate(self.sources)}

    @cached_property
    def found_at(self) -> dict[tuple[str, str], tuple[int, int]]:
        """Where a finding of a step stands: in `findings`, and among its ids."""
        return {
            (one.step, finding): (place, at)
            for place, one in enumerate(self.findings)
            for at, finding in enumerate(one.ids)
        }

    @cached_property
    def conditions(self) -> dict[str, list[Condition]]:
        """By each fact that tells units apart, the conditions that look at it."""
        found: dict[str, list[Condition]] = {fact.id: [] for fact in telling_facts(self.playbook)}
        for condition in conditions_of(self.playbook):
            for fact in facts_of(condition):
                if fact in found:
                    found[fact].append(condition)
        return found

    @property
    def shares(self) -> FloatArray:
        """The share of each sort of unit by the facts, shape (G,)."""
        return np.array([group.share for group in self.groups])

    def judged_spread(self, fact: str) -> dict[str, float]:
        """The shares of a fact's values by the lead."""
        return next((one.spread for one in self.playbook.facts if one.id == fact), {})

    def spread_under(self, fact: str, shares: FloatArray) -> dict[str, FloatArray] | None:
        """The shares of a fact's values under shares (G, D) of the sorts of units, each (D,); None for a fact that
        tells no units apart. Within a sort its values stay as common as the lead says."""
        if fact not in self.conditions:
            return None
        found = {value: np.zeros(shares.shape[1]) for value, share in self.judged_spread(fact).items() if share > 0}
        for number, group in enumerate(self.groups):
            for member in group.members:
                part = math.prod(self.judged_spread(name)[value] for name, value in member.items()) / group.share
                found[member[fact]] += part * shares[number]
        return found

    def source(self, step: str, group: int, known: Mapping[str, str]) -> int:
        """Which source holds on a sort of unit. known: facts of the case that have no shares."""
        facts = {**known, **self.groups[group].facts}
        variant = variant_on(self.steps[step], facts, self.types)
        names_own = variant is not None and self.steps[step].varies[variant].fixes is not None
        return self.number_of[Source(step, variant if names_own else None)]

    def open_groups(self, known: Mapping[str, str]) -> tuple[int, ...]:
        """The sorts of units that a case's known facts leave open."""
        alike = {fact: self._alike(fact, known[fact]) for fact in self.conditions if fact in known}
        return tuple(
            number
            for number, group in enumerate(self.groups)
            if any(all(member[fact] in values for fact, values in alike.items()) for member in group.members)
        )

    def groups_like(self, unit: UnitGroup) -> tuple[int, ...]:
        """The sorts of units that one of another ladder may be of, that ladder telling others apart."""
        members = unit.members or (unit.facts,)
        return tuple(sorted({number for member in members for number in self.open_groups(member)}))

    def _alike(self, fact: str, value: str) -> frozenset[str]:
        """The values with a share that a value may stand for: itself; one without a share, those on which every
        condition that looks at the fact comes out as it does for that value; none such: all."""
        spread = next(one.spread for one in self.playbook.facts if one.id == fact)
        usual = frozenset(one for one, share in spread.items() if share > 0)
        if value in usual:
            return frozenset([value])
        mine = self._comes_out(fact, value)
        return frozenset(one for one in usual if self._comes_out(fact, one) == mine) or usual

    def _comes_out(self, fact: str, value: str) -> tuple[Condition | None, ...]:
        world = World(facts={fact: value}, types=self.types)
        return tuple(partly(condition, world) for condition in self.conditions[fact])

    def groups_of(self, step: str) -> tuple[int, ...]:
        """The sorts of units on which some rung of the step can come up; all where it stands on no rung."""
        lines = list(_ways_to(self.playbook.ladder, step, ()))
        if not lines:
            return tuple(range(len(self.groups)))
        return tuple(
            number
            for number, group in enumerate(self.groups)
            if any(all(self._may_hold(one, group) for one in line) for line in lines)
        )

    def _may_hold(self, condition: Condition, group: UnitGroup) -> bool:
        return evaluate(mapped(condition, _unknown), World(facts=group.facts, types=self.types)) is not False

    def with_findings(self, more: Sequence[Findings]) -> "Learnable":
        """The same with findings that the log alone names."""
        return replace(self, findings=(*self.findings, *more))

    def nothing_to_do(self, step: str, share: float) -> Findings:
        """That there was nothing to do for a step, which was so for this share of the cases that came to it: likelier
        for causes that it does not end (evidence, section 1.8)."""
        share = min(share, 0.9)
        own = [number for number, source in enumerate(self.sources) if source.step == step]
        ends = np.isfinite(self.listed[own]).any(axis=0) if own else np.zeros(len(self.causes), dtype=bool)
        ends = ends & np.array([cause.id != SOMETHING_ELSE for cause in self.causes])
        nothing = np.where(ends, share / 10, share)
        return Findings(step, (NOTHING, SOMETHING), np.array([nothing, 1 - nothing]))


def _unknown(test: Condition) -> Condition:
    """A finding and a unit's history are not known before a case begins."""
    return Known("") if isinstance(test, Found | Ended | EarlierResolved | EarlierCases) else test


def _ways_to(entries: Sequence[RailEntry], step: str, above: tuple[Condition, ...]) -> list[tuple[Condition, ...]]:
    """For each rung of the step, its condition and those of all that its rail hangs on."""
    found = []
    for entry in entries:
        if isinstance(entry, Rung):
            line = (*above, parse(entry.when)) if entry.when else above
            if entry.step == step:
                found.append(line)
            for rail in entry.on.values():
                found += _ways_to(rail, step, line)
    return found


def learnable(playbook: Playbook) -> Learnable:
    """What cases can teach about this playbook.

    A cause that the lead gives no weight, or rules out on some units, still has a chance of 0.01 of the whole, or of
    its own: a prior of nothing could never be learned away. Raises BadInput for weights or findings that sum to 0.
    """
    causes = all_causes(playbook)
    groups = tuple(unit_groups(playbook))
    if not groups:
        raise BadInput("no sort of unit has a share; give the facts shares that sum to 1", path="facts")
    types = fact_types(playbook)
    sources = [
        Source(step.id, variant)
        for step in playbook.steps
        if step.is_tested
        for variant in (None, *(at for at, one in enumerate(step.varies) if one.fixes is not None))
    ]
    return Learnable(
        playbook=playbook,
        causes=causes,
        groups=groups,
        weights=_at_least(priors(causes)),
        times=np.array([[max(_LEAST, _times(cause, group, types)) for cause in causes] for group in groups]),
        sources=tuple(sources),
        listed=np.array([_listed(playbook, source, causes) for source in sources]).reshape(len(sources), len(causes)),
        findings=tuple(
            Findings(step.id, tuple(one.id for one in step.findings), _at_least(finding_chances(step, causes)))
            for step in playbook.steps
            if len(step.findings) > 1
        ),
    )


def _times(cause: Cause, group: UnitGroup, types: Mapping[str, str]) -> float:
    world = World(facts=group.facts, types=types)
    return float(np.prod([one.times for one in cause.likelier if evaluate(parse(one.when), world)]))


def _listed(playbook: Playbook, source: Source, causes: Sequence[Cause]) -> list[float]:
    step = playbook.step(source.step)
    fixes = step.fixes if source.variant is None else step.varies[source.variant].fixes or {}
    chances = [chance(fixes[cause.id]) if cause.id in fixes else 0.0 for cause in causes]
    return [one if one > 0 else np.nan for one in chances]


def _at_least(shares: FloatArray) -> FloatArray:
    """Shares along the first axis, none below 0.01 of the whole."""
    raised = np.maximum(shares, _LEAST)
    return np.asarray(raised / raised.sum(axis=0), dtype=float)
