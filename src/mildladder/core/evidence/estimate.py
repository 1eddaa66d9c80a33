"""What actually resolves faults: each step's chance if tried first, and how sure the cases make one of it (evidence,
sections 3 and 4)."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from mildladder.core.evidence.chains import FULL, MORE, QUICK, Diagnosis, Run, diagnose, draws
from mildladder.core.evidence.learnable import Learnable
from mildladder.core.evidence.mode import metric, mode, start
from mildladder.core.evidence.posterior import Chances, Posterior
from mildladder.core.evidence.rates import Rate
from mildladder.core.evidence.records import Records
from mildladder.core.figures.drawn import OnUnit, drawn_forecast
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.model import Shape
from mildladder.core.model.base import Id

__all__ = ["Estimate", "Estimated", "StepEstimate", "estimate", "first", "on_units", "spaced", "span"]

MOST_CASES = 20_000
_LEAST_RECORDS, _LEAST_TRIES, _LEAST_LEARNED = 30, 10, 0.5
_PRIOR_DRAWS, _PRIOR_SEED = 1000, 0
_PART_CASES = 20
SETS = 64

Refused = Literal["too-few", "unsettled"]
_NONE = Rate(mean=None, low=None, high=None)


class StepEstimate(Shape):
    """How often a step ends the fault: `first`, as the very first thing on units that it is for; `here`, where it
    stands on the ladder; `lasting`, first and for good.

    learned: share of the prior doubt that the cases took away; units: share of units that it is for; refused: why no
    figure is given; rhat, size: how well the chains agree on `first`.
    """

    step: Id
    first: Rate
    here: Rate
    lasting: Rate
    learned: float
    units: float
    refused: Refused | None
    rhat: float
    size: float


class CauseEstimate(Shape):
    """How often a cause is behind the symptom, over all logged cases; judged: by the lead's weights."""

    cause: Id
    title: str
    judged: float
    share: Rate
    learned: float


class Estimate(Shape):
    """Everything estimated of one symptom. cases: that speak; better, double: that were left out, as perhaps two faults
    or as logged twice; baselines: cases that were tried at the start; rhat, size: the worst of all figures."""

    cases: int
    better: int
    double: int
    baselines: int
    seed: int
    steps: tuple[StepEstimate, ...]
    causes: tuple[CauseEstimate, ...]
    clears: Rate
    rhat: float
    size: float
    refused: Refused | None


@dataclass(frozen=True)
class Estimated:
    """An estimate with what it rests on: the model, the mode as a vector, and the draws."""

    estimate: Estimate
    model: Learnable
    posterior: Posterior
    mode: FloatArray
    chances: Chances


def first(model: Learnable, step: str, chances: Chances) -> FloatArray:
    """The share of the units that a step is for which it ends as the very first thing, of each set, (D,)."""
    groups = list(model.groups_of(step))
    cures = np.stack([chances.cures[model.source(step, group, {})] for group in groups])
    shares = chances.shares[groups]
    ended = (shares[:, None] * chances.causes[groups] * cures).sum(axis=(0, 1))
    return np.asarray(ended / shares.sum(axis=0), dtype=float)


def span(figure: FloatArray) -> Rate:
    """Mean and equal-tailed 95 % interval over draws."""
    low, high = np.quantile(figure, [0.025, 0.975])
    return Rate(mean=float(figure.mean()), low=float(low), high=float(high))


def estimate(
    records: Records,
    model: Learnable,
    tried: Mapping[str, int],
    held: Mapping[str, tuple[int, int]],
    seed: int = 1,
    check: Callable[[], None] = lambda: None,
    whole: Estimated | None = None,
    by_fact: bool = False,
) -> Estimated:
    """The estimate of one symptom.

    tried: how often each step was; held: how many of its cures held, and of how many that is known. check: is called
    now and then, and may raise to leave off. whole: of all cases, where these are a part of them; by_fact: that differs
    from the rest by a fact, so that its causes may be shared otherwise.
    """
    if records.cases > MOST_CASES:
        records = records.scaled(MOST_CASES / records.cases)
    posterior = Posterior(model, records, _PART_CASES * whole.chances.pooled.mean(-1) if whole and by_fact else None)
    place = mode(posterior, whole.mode if whole else start(posterior))
    scales = metric(posterior, place)
    check()
    run, more = (QUICK, FULL) if whole else (FULL, MORE)
    chances, watched = _drawn(posterior, place, scales, seed, run)
    if not all(one.is_good for one in watched.values()):
        check()
        chances, watched = _drawn(posterior, place, scales, seed + 1, more)
    before = posterior.prior_draws(_PRIOR_DRAWS, _PRIOR_SEED)
    here = _here(posterior, chances)
    rng = np.random.default_rng(seed)
    is_few = records.cases < _LEAST_RECORDS
    steps = []
    for step in model.steps:
        figure = first(model, step, chances)
        learned = share_learned(figure, first(model, step, before))
        refused = _refused(is_few, learned, tried.get(step, 0), watched[step])
        lasting = figure * _lasting(rng, *held.get(step, (0, 0)), size=len(figure))
        steps.append(
            StepEstimate(
                step=step,
                first=_NONE if refused else span(figure),
                here=_NONE if refused or step not in here else span(here[step]),
                lasting=_NONE if refused or step not in held else span(lasting),
                learned=learned,
                units=float(model.shares[list(model.groups_of(step))].sum()),
                refused=refused,
                rhat=watched[step].rhat,
                size=watched[step].size,
            )
        )
    refused = "too-few" if is_few else None if watched[_CLEARS].is_good else "unsettled"
    made = Estimate(
        cases=records.cases,
        better=records.left_out.better,
        double=records.left_out.double,
        baselines=records.baselines,
        seed=seed,
        steps=tuple(steps),
        causes=_causes(model, chances, before, is_few),
        clears=_NONE if refused else span(chances.clears),
        rhat=max(one.rhat for one in watched.values()),
        size=min(one.size for one in watched.values()),
        refused="too-few" if is_few else None,
    )
    return Estimated(made, model, posterior, place, chances)


_CLEARS = ""


def _drawn(
    posterior: Posterior, place: FloatArray, scales: FloatArray, seed: int, run: Run
) -> tuple[Chances, dict[str, Diagnosis]]:
    """Draws, and how well the chains agree on `first` of every step and on clearing by itself."""
    chances = posterior.chances(draws(posterior, place, scales, seed, run))
    watched = {step: diagnose(first(posterior.model, step, chances)) for step in posterior.model.steps}
    return chances, {**watched, _CLEARS: diagnose(chances.clears)}


def _refused(is_few: bool, learned: float, tries: int, watched: Diagnosis) -> Refused | None:
    if is_few or (tries < _LEAST_TRIES and learned < _LEAST_LEARNED):
        return "too-few"
    return None if watched.is_good else "unsettled"


def share_learned(figure: FloatArray, before: FloatArray) -> float:
    """The share of the prior doubt of a figure that the cases took away: draws of both."""
    prior = float(before.var())
    return max(0.0, 1 - float(figure.var()) / prior) if prior > 0 else 0.0


def _lasting(rng: np.random.Generator, held: int, judged: int, size: int) -> FloatArray:
    return rng.beta(held + 0.5, judged - held + 0.5, size)


def _causes(model: Learnable, chances: Chances, before: Chances, is_few: bool) -> tuple[CauseEstimate, ...]:
    shares = (chances.shares[:, None] * chances.causes).sum(axis=0)
    prior = (before.shares[:, None] * before.causes).sum(axis=0)
    judged = (model.shares[:, None] * _on_groups(model)).sum(axis=0)
    return tuple(
        CauseEstimate(
            cause=cause.id,
            title=cause.title,
            judged=float(judged[number]),
            share=_NONE if is_few else span(shares[number]),
            learned=share_learned(shares[number], prior[number]),
        )
        for number, cause in enumerate(model.causes)
    )


def _on_groups(model: Learnable) -> FloatArray:
    likely = model.weights * model.times
    return np.asarray(likely / likely.sum(axis=1, keepdims=True), dtype=float)


def spaced(chances: Chances, sets: int = SETS) -> Chances:
    """So many of the draws, evenly spaced."""
    count = chances.clears.shape[-1]
    which = np.linspace(0, count - 1, min(sets, count)).round().astype(int)
    return chances.at(which)


def on_units(model: Learnable, chances: Chances) -> list[OnUnit]:
    """What a forecast needs of each sort of unit, for each set."""
    found = {
        step.id: {
            one.id: chances.findings[place][at]
            for one in step.findings
            if (step.id, one.id) in model.found_at
            for place, at in [model.found_at[step.id, one.id]]
        }
        for step in model.playbook.steps
    }
    return [
        OnUnit(
            group=group,
            mass=chances.shares[number] * chances.causes[number],
            cures={step: chances.cures[model.source(step, number, {})] for step in model.steps},
            findings=found,
        )
        for number, group in enumerate(model.groups)
    ]


def _here(posterior: Posterior, chances: Chances) -> dict[str, FloatArray]:
    """Of each step on the ladder, the share that it ends of what comes to its rungs, of 64 draws."""
    model = posterior.model
    figures = drawn_forecast(model.playbook, on_units(model, spaced(chances)))
    found: dict[str, FloatArray] = {}
    for step in model.steps:
        paths = [path for path, name in figures.steps.items() if name == step]
        reach = sum((figures.reach[path] for path in paths), np.zeros(1))
        if paths and np.all(reach > 0):
            found[step] = sum((figures.ended[path] for path in paths), np.zeros(1)) / reach
    return found
