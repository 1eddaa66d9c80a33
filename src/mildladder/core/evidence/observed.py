"""Two editions as their cases went, each given the same mix of units, beside what the forecast had promised (evidence,
section 6; Efron 1979 for the resamples)."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from mildladder.core.evidence.estimate import Estimated, span
from mildladder.core.evidence.forward import Span
from mildladder.core.evidence.posterior import Chances, Posterior
from mildladder.core.evidence.records import KeyedTally, is_informative, kinds_of
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ladder.saying import units_in_words
from mildladder.core.model import Shape
from mildladder.core.model.outcomes import CURED

__all__ = ["ObservedEditions", "observed_editions"]

_RESAMPLES, _SEED = 1000, 1
_LEAST_CASES = 20
FIGURES = ("minutes", "resolved", "handed_off")


class Observed(Shape):
    """How cases went. minutes: from opening to closing, waiting left out; resolved, handed_off: shares."""

    minutes: Span
    resolved: Span
    handed_off: Span


class ObservedEditions(Shape):
    """Cases of two editions, weighted to the units of both together; more: the later less the earlier. cases_before,
    cases_after: how many; passed_over: sorts of units, in words, of which one of the two has had too few to compare."""

    cases_before: int
    cases_after: int
    before: Observed
    after: Observed
    more: Observed
    passed_over: tuple[str, ...]


def observed_editions(
    made: Estimated, before: Sequence[KeyedTally], after: Sequence[KeyedTally]
) -> ObservedEditions | None:
    """The cases of two editions compared; None where either has had too few of them on any sort of unit."""
    if not any(is_informative(one) for one in before) or not any(is_informative(one) for one in after):
        return None
    mean = made.chances.mean()
    parts = [_Part.of(made, mean, tallies) for tallies in (before, after)]
    fewest = np.minimum(*(part.units.T @ part.counts for part in parts))
    used = [int(number) for number in np.nonzero(fewest >= _LEAST_CASES)[0]]
    if not used:
        return None
    rng = np.random.default_rng(_SEED)
    drawn = [np.vstack([part.counts, rng.poisson(part.counts, (_RESAMPLES, len(part.counts)))]) for part in parts]
    sizes = [counts @ part.units[:, used] for part, counts in zip(parts, drawn, strict=True)]
    mix = sizes[0] + sizes[1]
    mix = mix / mix.sum(axis=1, keepdims=True)
    figures = [
        {name: part.standardised(name, counts, used, size, mix) for name in FIGURES}
        for part, counts, size in zip(parts, drawn, sizes, strict=True)
    ]
    more = {name: figures[1][name] - figures[0][name] for name in FIGURES}
    groups = made.model.groups
    return ObservedEditions(
        cases_before=int(parts[0].counts.sum()),
        cases_after=int(parts[1].counts.sum()),
        before=_observed(figures[0]),
        after=_observed(figures[1]),
        more=_observed(more),
        passed_over=tuple(
            units_in_words(group.members or (group.facts,), made.model.playbook)
            for number, group in enumerate(groups)
            if number not in used
        ),
    )


@dataclass(frozen=True)
class _Part:
    """The tallies of one edition, (N,). units: how likely the cases of each are of each sort of unit, (N, G); means:
    of each figure, (N,)."""

    counts: FloatArray
    units: FloatArray
    means: dict[str, FloatArray]

    @classmethod
    def of(cls, made: Estimated, mean: Chances, tallies: Sequence[KeyedTally]) -> "_Part":
        """Of the tallies that speak; a case whose sort of unit is open is shared out by what its tries make likely."""
        records, placed = kinds_of(tallies, made.model)
        posterior = Posterior(made.model, records)
        _, causes = posterior.explained(mean)
        mass = (mean.shares[:, None] * mean.causes)[..., 0]
        opens = posterior.is_open[:, :, None] * mass
        within = opens / np.maximum(opens.sum(axis=1, keepdims=True), 1e-300)
        open_of = posterior.matrix[:, posterior.parts[2] :].argmax(axis=1)
        by_row = np.einsum("rk,rgk->rg", causes, within[open_of])
        by_kind = np.add.reduceat(by_row, posterior.starts, axis=0)
        own = [tally for tally, _ in placed]
        counts = np.array([tally.count for tally in own], dtype=float)
        return cls(
            counts,
            by_kind[[kind for _, kind in placed]],
            {
                "minutes": np.array([tally.seconds / 60 for tally in own]) / counts,
                "resolved": np.array([float(tally.signature.end in CURED) for tally in own]),
                "handed_off": np.array([float(tally.signature.end == "handed-off") for tally in own]),
            },
        )

    def standardised(
        self, name: str, counts: FloatArray, used: Sequence[int], sizes: FloatArray, mix: FloatArray
    ) -> FloatArray:
        """A figure of each resample, (R,), as if the units were mixed so."""
        sums = (counts * self.means[name]) @ self.units[:, used]
        return np.asarray((mix * sums / np.maximum(sizes, 1e-300)).sum(axis=1), dtype=float)


def _observed(figures: dict[str, FloatArray]) -> Observed:
    return Observed(**{name: _span(figure) for name, figure in figures.items()})


def _span(figure: FloatArray) -> Span:
    """What was seen, and the interval of the resamples about it."""
    rate = span(figure[1:])
    return Span(mean=float(figure[0]), low=rate.low or 0.0, high=rate.high or 0.0)
