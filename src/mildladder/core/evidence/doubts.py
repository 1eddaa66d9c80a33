"""What a log may hide: signs that figures rest on uneven logging (evidence, section 8)."""

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Literal

import numpy as np
from scipy.special import chdtrc, ndtr

from mildladder.core.evidence.differences import by_hochberg
from mildladder.core.evidence.expected import Expected
from mildladder.core.evidence.posterior import Chances, Posterior
from mildladder.core.evidence.records import KeyedTally, Records, is_informative, records_of
from mildladder.core.ladder.conditions import World, evaluate, parse
from mildladder.core.ladder.units import fact_types
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Playbook, Rung, Shape
from mildladder.core.model.outcomes import CURED

__all__ = ["Doubt", "doubts"]

DoubtCode = Literal["double", "better", "last-only", "gaps", "credit", "one-order", "mix", "no-baseline"]
_LEAST_CASES = 20
_LAST_ONLY, _GAPS, _LEAST_BASELINES = 0.10, 0.15, 0.10
_CREDIT, _MIX = 0.01, 0.001
_LEAST_LEARNED = 0.5
_HOST = 3
_ROUNDS = 30


class Doubt(Shape):
    """Something about the cases that touches the figures. cases: how many it is about; is_guided: of which origin they
    are, None: of either."""

    code: DoubtCode
    says: str
    cases: int
    is_guided: bool | None = None


def doubts(
    tallies: Sequence[KeyedTally],
    records: Records,
    posterior: Posterior,
    chances: Chances,
    found: Expected,
    learned: Iterable[float],
    ladders: Mapping[int, Playbook] | None = None,
    check: Callable[[], None] = lambda: None,
) -> tuple[Doubt, ...]:
    """All of them, in the order of the table. learned: of each step that was tried; ladders: by which cases were
    climbed, by edition; of cases of none, the one that is looked at."""
    made = [*_left_out(records)]
    playbook = posterior.model.playbook
    climbed = {edition: _Climbed(one) for edition, one in {**(ladders or {}), 0: playbook}.items()}
    for is_guided in (True, False):
        own = [one for one in tallies if one.is_guided is is_guided and is_informative(one)]
        made += _uneven(climbed, own, is_guided)
    made += _credit(playbook, found)
    low = [one < _LEAST_LEARNED for one in learned]
    if low and sum(low) * 2 >= len(low):
        says = (
            f"For {sum(low)} of {len(low)} steps the cases teach little: agents always climb in one order, or there are"
            " few cases. Figures with a hollow whisker are mostly the lead's judgement."
        )
        made.append(Doubt(code="one-order", says=says, cases=records.cases))
    check()
    made += _mix(tallies, posterior, chances)
    if records.cases and records.baselines < _LEAST_BASELINES * records.cases:
        says = (
            f"Only {records.baselines} of {records.cases} cases were tried at the start of the call, so how often the"
            " fault clears by itself rests mostly on the assumption of 1 in 100."
        )
        made.append(Doubt(code="no-baseline", says=says, cases=records.cases - records.baselines))
    return tuple(made)


def _left_out(records: Records) -> list[Doubt]:
    better, double = records.left_out
    made = []
    if double:
        says = (
            f"{double} cases look logged twice: the same unit, within an hour, with the same attempts. The later ones"
            " are left out."
        )
        made.append(Doubt(code="double", says=says, cases=double))
    if better:
        says = f"{better} cases are left out, as perhaps two faults: something in them got better and was not gone."
        made.append(Doubt(code="better", says=says, cases=better))
    return made


class _Climbed:
    """A ladder as far as one can tell from a case where on it it ended."""

    def __init__(self, playbook: Playbook) -> None:
        self.ladder, self.types = playbook.ladder, fact_types(playbook)
        often = Counter(rung.step for rung in rungs_of(playbook.ladder))
        # Of a step that stands on a rail as well, nobody can tell which rung it was.
        self.places = {entry.step: place for place, entry in enumerate(playbook.ladder) if often[entry.step] == 1}

    def has_unlogged_rung(self, tally: KeyedTally, place: int) -> bool:
        """Whether some rung above that place applied, and nothing is said of it."""
        sign = tally.signature
        told = {one.step for one in sign.attempts} | set(sign.passed)
        findings = {one.step: one.finding for one in sign.attempts if one.finding is not None}
        world = World(facts=tally.facts, findings=findings, types=self.types)
        return any(entry.step not in told and _applied(entry, world) for entry in self.ladder[:place])


def _uneven(climbed: Mapping[int, _Climbed], tallies: Sequence[KeyedTally], is_guided: bool) -> list[Doubt]:
    """Of the cases that a low rung ended: those with a single attempt, and those with a hole above."""
    whole = alone = holed = 0
    for tally in tallies:
        ladder = climbed.get(tally.edition, climbed[0])
        place = ladder.places.get(tally.signature.resolved_by or "", -1)
        if place + 1 < _HOST or tally.signature.end not in CURED:
            continue
        whole += tally.count
        alone += tally.count * (len(tally.signature.attempts) == 1)
        holed += tally.count * ladder.has_unlogged_rung(tally, place)
    if whole < _LEAST_CASES:
        return []
    origin = "guided here" if is_guided else "brought in"
    made = []
    if alone > _LAST_ONLY * whole:
        says = (
            f"Of {whole} cases {origin} that a rung from {_HOST} on ended, {alone} have that attempt alone: what was"
            " tried before it was perhaps never written down."
        )
        made.append(Doubt(code="last-only", says=says, cases=alone, is_guided=is_guided))
    if holed > _GAPS * whole:
        says = (
            f"Of {whole} cases {origin} that a rung from {_HOST} on ended, {holed} say nothing of some rung above it"
            " that applied."
        )
        made.append(Doubt(code="gaps", says=says, cases=holed, is_guided=is_guided))
    return made


def _applied(rung: Rung, world: World) -> bool:
    return rung.when is None or evaluate(parse(rung.when), world) is not False


def _credit(playbook: Playbook, found: Expected) -> list[Doubt]:
    """Steps that do better on cases that were brought in than all that was known before explains."""
    titles = {step.id: step.title for step in playbook.steps}
    cells = [
        (step, cell)
        for (step, is_guided), cell in sorted(found.by_origin.items())
        if not is_guided and 0 < cell.variance < found.whole[step].variance
    ]
    scores = [cell.score(found.whole[step]) for step, cell in cells]
    standing = by_hochberg([float(2 * ndtr(-abs(score))) for score in scores], _CREDIT)
    return [
        Doubt(
            code="credit",
            says=f"“{titles[step]}” ended {round(cell.resolved)} of {round(cell.tries)} brought-in cases, where"
            f" {cell.expected:.0f} were to be expected: perhaps it is given the credit of others.",
            cases=round(cell.tries),
            is_guided=False,
        )
        for (step, cell), score, stands in zip(cells, scores, standing, strict=True)
        if stands and score > 0
    ]


def _mix(tallies: Sequence[KeyedTally], posterior: Posterior, chances: Chances) -> list[Doubt]:
    """Whether the causes were shared otherwise in some months: a likelihood ratio against one mix for all."""
    by_month: dict[str, list[KeyedTally]] = {}
    for tally in tallies:
        by_month.setdefault(tally.month, []).append(tally)
    months = sorted(month for month in by_month if month)
    gain, counted = -_gain(posterior, chances), 0
    for month in months:
        records, _ = records_of(by_month[month], posterior.model, is_part=True)
        if records.records:
            gain += _gain(Posterior(posterior.model, records), chances)
            counted += 1
    degrees = (counted - 1) * (len(posterior.model.causes) - 1)
    if degrees < 1 or float(chdtrc(degrees, max(gain, 0.0))) >= _MIX:
        return []
    says = "The causes were not shared alike in all months: the figures speak over all months together."
    return [Doubt(code="mix", says=says, cases=sum(one.count for one in tallies))]


def _gain(month: Posterior, chances: Chances) -> float:
    """Twice the log likelihood that a mix of causes of its own gains over the posterior mean's; records of negative
    count, which speak of no case, left out."""
    logs, shares = month.explained(chances)
    likely = np.add.reduceat(shares, month.starts, axis=0) * np.exp(logs)[:, None]
    weight = np.ones(likely.shape[1])
    cases = np.maximum(month.counts, 0.0)
    pooled = (chances.shares[:, None] * chances.causes).sum(axis=0)[:, 0]
    before = float(cases @ np.log(likely.sum(axis=1)))
    for _ in range(_ROUNDS):
        mixed = likely * weight
        counts = np.maximum(cases @ (mixed / mixed.sum(axis=1, keepdims=True)), 1e-9)
        weight = counts / counts.sum() / pooled
    return 2 * (float(cases @ np.log((likely * weight).sum(axis=1))) - before)
