"""What a ladder would have cost on the cases already logged: a draft, an edition, or one against the other (evidence,
section 6)."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from mildladder.core.errors import BadInput
from mildladder.core.evidence.carried import Carried
from mildladder.core.evidence.estimate import Estimated, spaced
from mildladder.core.evidence.forward import Span, Told, span_of, with_learned
from mildladder.core.evidence.learnable import Learnable
from mildladder.core.evidence.posterior import Chances, Posterior
from mildladder.core.evidence.records import KeyedTally, kinds_of
from mildladder.core.figures.drawn import Paid, cost_by_cause
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ladder.saying import units_in_words
from mildladder.core.model import SOMETHING_ELSE, Playbook, Shape

__all__ = ["Replay", "replay"]

ASSUMES = (
    "Each logged case keeps the causes and the sort of unit that its own tries and findings make likely. The ladder is"
    " climbed as it stands, by agents who do as it says and callers who stay; a step takes the minutes that the"
    " playbook names, and works as often as the cases have taught. This speaks of the logged cases, not of the next"
    " ones: where causes or units change, so does what the ladder costs."
)
_LEAST_CASES = 30
# So many sets of chances at a time: enough for quick products, little enough for any log.
_AT_ONCE = 16


class Replayed(Shape):
    """What a case would have come to. effort: minutes; harm: points; handed_off: a share."""

    effort: Span
    harm: Span
    handed_off: Span


class ReplayedPart(Shape):
    """Some of the cases. says: a month, as 2026-03, or a sort of unit in words; cases: how many of them, of a sort of
    unit those that are likely of it. less: what `ladder` would have spared against the other; None without one."""

    says: str
    cases: float
    ladder: Replayed
    less: Replayed | None


class Replay(Shape):
    """A ladder on the logged cases. cases: that speak; against: what the other ladder comes to, None without one; less:
    what is spared against it."""

    cases: int
    ladder: Replayed
    against: Replayed | None
    less: Replayed | None
    months: tuple[ReplayedPart, ...]
    units: tuple[ReplayedPart, ...]
    assumes: str


def replay(
    made: Estimated, tallies: Iterable[KeyedTally], ladder: Playbook, against: Playbook | None, told: Told
) -> Replay:
    """Climb the logged cases again, over 64 draws. Raises BadInput for what the forecast refuses, and for too few cases
    to know what was behind them."""
    if made.estimate.refused:
        raise BadInput(f"fewer than {_LEAST_CASES} of its cases speak, so nobody knows what was behind them")
    chances = spaced(made.chances)
    log = _Log(made, tallies, chances)
    ours = log.parts(_paid(made.model, chances, with_learned(ladder, told)))
    theirs = log.parts(_paid(made.model, chances, with_learned(against, told))) if against else None
    whole, other = ours.whole(), theirs.whole() if theirs else None
    less = whole - other if other else None
    return Replay(
        cases=log.cases,
        assumes=ASSUMES,
        ladder=_replayed(whole),
        against=_replayed(other) if other else None,
        less=_replayed(less, sign=-1) if less else None,
        months=tuple(_parts(log.months, log.by_month(), ours.by_month(), theirs.by_month() if theirs else None)),
        units=tuple(_parts(_words(made.model), log.by_group(), ours.by_group(), theirs.by_group() if theirs else None)),
    )


class _Log:
    """The logged cases by month, by what sorts of units they leave open, and by cause.

    causes: how many are likely of each, (M, O, K, D). within: of a cause among those open sorts, the share of each
    sort of unit, (O, G, K, D).
    """

    def __init__(self, made: Estimated, tallies: Iterable[KeyedTally], chances: Chances) -> None:
        records, placed = kinds_of(tallies, made.model)
        self.cases = records.cases
        self.months = sorted({tally.month for tally, _ in placed})
        posterior = Posterior(made.model, records)
        counts = np.zeros((len(self.months), len(records.records)))
        month_at = {month: number for number, month in enumerate(self.months)}
        for tally, kind in placed:
            counts[month_at[tally.month], kind] += tally.count
        opens = posterior.is_open
        of_open = posterior.matrix[:, posterior.parts[2] :]
        sets = chances.clears.shape[-1]
        self.causes = np.concatenate(
            [
                _causes_of(posterior, counts, of_open, chances.at(np.arange(start, min(start + _AT_ONCE, sets))))
                for start in range(0, sets, _AT_ONCE)
            ],
            axis=-1,
        )
        mass = chances.shares[:, None] * chances.causes
        open_mass = opens[:, :, None, None] * mass
        self.within = open_mass / np.maximum(open_mass.sum(axis=1, keepdims=True), 1e-300)

    def parts(self, paid: Sequence[Paid]) -> "_Costs":
        """What the cases would have come to on a ladder. paid: by sort of unit."""
        return _Costs(self, *(np.stack([getattr(one, name) for one in paid]) for name in _FIGURES))

    def by_month(self) -> FloatArray:
        """How many cases, (M, D)."""
        return np.asarray(self.causes.sum(axis=(1, 2)), dtype=float)

    def by_group(self) -> FloatArray:
        """How many cases are likely of each sort of unit, (G, D)."""
        return np.asarray(np.einsum("mokd,ogkd->gd", self.causes, self.within, optimize=True), dtype=float)


_FIGURES = ("effort", "harm", "handed_off")


@dataclass(frozen=True)
class _Sum:
    """Figures a case of a part of the log, each by set, (D,)."""

    effort: FloatArray
    harm: FloatArray
    handed_off: FloatArray

    def __sub__(self, other: "_Sum") -> "_Sum":
        return _Sum(self.effort - other.effort, self.harm - other.harm, self.handed_off - other.handed_off)


@dataclass(frozen=True)
class _Costs:
    """What a ladder costs the cases of a log, by sort of unit and cause, each (G, K, D)."""

    log: _Log
    effort: FloatArray
    harm: FloatArray
    handed_off: FloatArray

    def whole(self) -> _Sum:
        """A case of all."""
        cases = self.log.by_month().sum(axis=0)
        return _Sum(*(self._of("d", name) / cases for name in _FIGURES))

    def by_month(self) -> list[_Sum]:
        """A case of each month."""
        return self._each("md", self.log.by_month())

    def by_group(self) -> list[_Sum]:
        """A case of each sort of unit."""
        return self._each("gd", self.log.by_group())

    def _each(self, kept: str, cases: FloatArray) -> list[_Sum]:
        figures = [self._of(kept, name) / np.maximum(cases, 1e-300) for name in _FIGURES]
        return [_Sum(*(figure[number] for figure in figures)) for number in range(len(cases))]

    def _of(self, kept: str, name: str) -> FloatArray:
        costs = getattr(self, name)
        log = self.log
        added = np.einsum(f"mokd,ogkd,gkd->{kept}", log.causes, log.within, costs, optimize=True)
        return np.asarray(added, dtype=float)


def _causes_of(posterior: Posterior, counts: FloatArray, of_open: FloatArray, chances: Chances) -> FloatArray:
    """How many cases of each month and open sorts of units are likely of each cause, (M, O, K, D)."""
    columns = posterior.columns(chances)
    logs = np.einsum("rc,ckd->rkd", posterior.matrix, columns, optimize=True)
    top = np.maximum.reduceat(logs.max(axis=1), posterior.starts, axis=0)
    shares = np.exp(logs - top[posterior.owner][:, None])
    total = np.add.reduceat(shares.sum(axis=1), posterior.starts, axis=0)
    shares /= total[posterior.owner][:, None]
    added = np.einsum("mr,ro,rkd->mokd", counts[:, posterior.owner], of_open, shares, optimize=True)
    return np.asarray(added, dtype=float)


def _paid(model: Learnable, chances: Chances, ladder: Playbook) -> list[Paid]:
    """What a case comes to on another ladder, by the sorts of units and causes that the cases are told apart by."""
    carried = Carried(model, chances, ladder)
    there = [cost_by_cause(ladder, unit) for unit in carried.units()]
    causes = {cause.id: number for number, cause in enumerate(carried.causes)}
    # A cause that the ladder does not know is to it like one that nobody has named.
    which = [causes.get(cause.id, causes[SOMETHING_ELSE]) for cause in model.causes]
    found = []
    for number in range(len(model.groups)):
        own = [
            (one, sort.group.share) for one, sort in zip(there, carried.sorts, strict=True) if number in sort.matched
        ]
        weights = np.array([share for _, share in own])
        weights = weights / weights.sum() if weights.sum() > 0 else np.full(len(own), 1 / max(len(own), 1))
        found.append(
            Paid(
                *(
                    np.tensordot(weights, np.stack([getattr(one, name)[which] for one, _ in own]), axes=1)
                    for name in _FIGURES
                )
            )
        )
    return found


def _words(model: Learnable) -> list[str]:
    return [units_in_words(group.members or (group.facts,), model.playbook) for group in model.groups]


def _parts(
    names: Sequence[str], cases: FloatArray, ours: Sequence[_Sum], theirs: Sequence[_Sum] | None
) -> Iterator[ReplayedPart]:
    for number, name in enumerate(names):
        less = _replayed(ours[number] - theirs[number], sign=-1) if theirs else None
        yield ReplayedPart(says=name, cases=float(cases[number].mean()), ladder=_replayed(ours[number]), less=less)


def _replayed(figures: _Sum, sign: int = 1) -> Replayed:
    return Replayed(**{name: span_of(sign * getattr(figures, name)) for name in _FIGURES})
