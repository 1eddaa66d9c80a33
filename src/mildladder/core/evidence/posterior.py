"""How well chances explain the records: the log density and its gradient, for many sets of chances at once.

The causes are summed out of the likelihood of each record, so that no case's cause is ever guessed at (evidence,
sections 2 and 4; Dempster, Laird & Rubin 1977 for the expected counts; MacKay 1998 for the scales).
"""

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from scipy.special import expit, gammaln, log_expit, psi

from mildladder.core.evidence.learnable import Learnable
from mildladder.core.evidence.records import Records
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.model import SOMETHING_ELSE

__all__ = ["CLEARS", "Chances", "Posterior"]

_WEIGHT, _LIKE_POOLED, _LIKE_SHARES = 5.0, 20.0, 20.0
_CURE = 2.0
_UNLISTED = (0.4, 19.6)
# The prior of clearing by itself at a look.
CLEARS = (0.5, 50.0)
_CLIP = 0.02
# Far out, where no draw is ever kept, shares come to nothing; their logs stay numbers.
_TINY = 1e-300


@dataclass(frozen=True)
class Chances:
    """Sets of chances, the last axis counting the sets (D).

    shares: of the sorts of units, (G, D). pooled: of causes over all of them, (K, D). causes: on each, (G, K, D).
    cures: that a source ends a cause, (S, K, D), 0 where nobody lists it. findings: one array (F, K, D) a step with
    findings. clears: that the fault clears by itself at a look, (D,).
    """

    shares: FloatArray
    pooled: FloatArray
    causes: FloatArray
    cures: FloatArray
    findings: tuple[FloatArray, ...]
    clears: FloatArray

    def at(self, which: FloatArray) -> "Chances":
        """Some of the sets, by number."""
        return Chances(
            self.shares[..., which],
            self.pooled[..., which],
            self.causes[..., which],
            self.cures[..., which],
            tuple(one[..., which] for one in self.findings),
            self.clears[..., which],
        )

    def mean(self) -> "Chances":
        """The mean of each, as one set."""
        return Chances(
            self.shares.mean(-1, keepdims=True),
            self.pooled.mean(-1, keepdims=True),
            self.causes.mean(-1, keepdims=True),
            self.cures.mean(-1, keepdims=True),
            tuple(one.mean(-1, keepdims=True) for one in self.findings),
            self.clears.mean(-1, keepdims=True),
        )

    def alike(self, times: FloatArray) -> "Chances":
        """The same with the pooled causes on all sorts of units, so many times likelier as the lead says, (G, K)."""
        likely = self.pooled[None] * times[..., None]
        return replace(self, causes=likely / likely.sum(axis=1, keepdims=True))


class Posterior:
    """The density of chances given records, on scales without bounds: logits of cures and of clearing, log ratios to
    the last entry of shares. A vector holds cures, clearing, pooled causes, causes of each sort of unit, shares of
    these, findings; `size` of them.

    prior_causes: pseudo-cases of the pooled causes, (K,); left out, five by the lead's weights.
    """

    def __init__(self, model: Learnable, records: Records, prior_causes: FloatArray | None = None) -> None:
        self.model, self.records = model, records
        self.sorts, self.kinds = len(model.groups), len(model.causes)
        self._lay_out()
        self._set_priors(prior_causes)
        self._set_columns()

    # Layout

    def _lay_out(self) -> None:
        model, kinds, sorts = self.model, self.kinds, self.sorts
        else_at = [number for number, cause in enumerate(model.causes) if cause.id == SOMETHING_ELSE]
        is_free = np.isfinite(model.listed)
        is_free[:, else_at] = True
        self.free = np.nonzero(is_free)
        self.most = max((len(one.ids) for one in model.findings), default=1)
        sizes = {
            "cures": len(self.free[0]),
            "clears": 1,
            "pooled": kinds - 1,
            "causes": sorts * (kinds - 1) if sorts > 1 else 0,
            "shares": sorts - 1,
            "findings": len(model.findings) * (self.most - 1) * kinds,
        }
        self.at: dict[str, slice] = {}
        start = 0
        for name, size in sizes.items():
            self.at[name] = slice(start, start + size)
            start += size
        self.size = start

    def _set_priors(self, prior_causes: FloatArray | None) -> None:
        model = self.model
        listed = model.listed[self.free]
        mean = np.clip(np.nan_to_num(listed, nan=0.5), _CLIP, 1 - _CLIP)
        is_listed = np.isfinite(listed)
        self.cure_a = np.where(is_listed, _CURE * mean, _UNLISTED[0])
        self.cure_b = np.where(is_listed, _CURE * (1 - mean), _UNLISTED[1])
        self.pooled_a = _WEIGHT * model.weights if prior_causes is None else prior_causes
        self.share_a = _LIKE_SHARES * model.shares
        # (C, F, K): log ratios run over the first F - 1 findings of each step; the missing ones of steps with fewer
        # have no chance.
        self.found_a = np.zeros((len(model.findings), self.most, self.kinds))
        for place, one in enumerate(model.findings):
            self.found_a[place, : len(one.ids) - 1] = one.strength * one.table[:-1]
            self.found_a[place, -1] = one.strength * one.table[-1]
        self.is_found = self.found_a > 0
        self.is_had = self.is_found[:, :-1].reshape(-1, 1)
        # A cause that a fact rules out has no times.
        with np.errstate(divide="ignore"):
            self.log_times = np.log(model.times)

    # What the records look like

    def _set_columns(self) -> None:
        """One matrix, records by columns: failed steps, findings, events, open sorts of units."""
        rows = [(number, row) for number, one in enumerate(self.records.records) for row in one.rows]
        opens = {row.groups: 0 for _, row in rows} if rows else {tuple(range(self.sorts)): 0}
        events = {event: 0 for _, row in rows for event in row.events}
        for table in (opens, events):
            table.update({key: number for number, key in enumerate(sorted(table))})
        sources = len(self.model.sources)
        ways = len(self.model.findings) * self.most
        self.parts = np.cumsum([sources, ways, len(events), len(opens)])
        matrix = np.zeros((len(rows), int(self.parts[-1])))
        for place, (number, row) in enumerate(rows):
            matrix[place, list(row.failed)] = 1.0
            matrix[place, list(row.before)] = 0.5
            for check, finding in self.records.records[number].findings:
                last = len(self.model.findings[check].ids) - 1
                matrix[place, sources + check * self.most + (self.most - 1 if finding == last else finding)] = 1.0
            for event in row.events:
                matrix[place, self.parts[1] + events[event]] += 1.0
            matrix[place, self.parts[2] + opens[row.groups]] = 1.0
        self.matrix, self.turned = matrix, np.ascontiguousarray(matrix.T)
        self.counts = np.array([one.count for one in self.records.records])
        sizes = [len(one.rows) for one in self.records.records]
        self.starts = np.concatenate([[0], np.cumsum(sizes)[:-1]]).astype(int) if sizes else np.zeros(0, dtype=int)
        self.owner = np.repeat(np.arange(len(sizes)), sizes)
        self.is_single = len(rows) == len(sizes)
        self.in_event = np.zeros((len(events), sources))
        for event, number in events.items():
            for source in event:
                self.in_event[number, source] += 1.0
        self.is_open = np.zeros((len(opens), self.sorts))
        for groups, number in opens.items():
            self.is_open[number, list(groups)] = 1.0
        self.events = sorted(events)

    # From vectors to chances

    def chances(self, theta: FloatArray) -> Chances:
        """The chances that vectors (P, D) stand for."""
        cures = np.zeros((len(self.model.sources), self.kinds, theta.shape[1]))
        cures[self.free] = expit(theta[self.at["cures"]])
        pooled = np.exp(_log_shares(theta[self.at["pooled"]]))
        found = np.exp(self._log_findings(theta))
        return Chances(
            shares=np.exp(_log_shares(theta[self.at["shares"]])),
            pooled=pooled,
            causes=np.exp(self._log_causes(theta, np.log(pooled))),
            cures=cures,
            findings=tuple(self._own(found[place], len(one.ids)) for place, one in enumerate(self.model.findings)),
            clears=expit(theta[self.at["clears"]])[0],
        )

    def vector(self, chances: Chances) -> FloatArray:
        """Inverse of `chances`: vectors (P, D)."""
        sets = chances.clears.shape[-1]
        theta = np.zeros((self.size, sets))
        theta[self.at["cures"]] = _logit(chances.cures[self.free])
        theta[self.at["clears"]] = _logit(chances.clears[None])
        theta[self.at["pooled"]] = _log_ratios(chances.pooled)
        if self.sorts > 1:
            ratios = np.log(chances.causes[:, :-1]) - np.log(chances.causes[:, -1:])
            theta[self.at["causes"]] = ratios.reshape(-1, sets)
            theta[self.at["shares"]] = _log_ratios(chances.shares)
        if self.model.findings:
            ratios = np.zeros((len(self.model.findings), self.most - 1, self.kinds, sets))
            for place, one in enumerate(chances.findings):
                ratios[place, : one.shape[0] - 1] = np.log(one[:-1]) - np.log(one[-1:])
            theta[self.at["findings"]] = ratios.reshape(-1, sets)
        return theta

    def _own(self, found: FloatArray, count: int) -> FloatArray:
        return np.concatenate([found[: count - 1], found[-1:]])

    def _log_causes(self, theta: FloatArray, log_pooled: FloatArray) -> FloatArray:
        if self.sorts == 1:
            return log_pooled[None]
        sets = theta.shape[1]
        return _log_shares(theta[self.at["causes"]].reshape(self.sorts, self.kinds - 1, sets), axis=1)

    def _log_findings(self, theta: FloatArray) -> FloatArray:
        if not self.model.findings:
            return np.zeros((0, self.most, self.kinds, theta.shape[1]))
        shape = (len(self.model.findings), self.most - 1, self.kinds, theta.shape[1])
        ratios = theta[self.at["findings"]].reshape(shape)
        whole = np.concatenate([ratios, np.zeros((shape[0], 1, *shape[2:]))], axis=1)
        whole[~self.is_found] = -np.inf
        return np.asarray(whole - _logsum(whole, axis=1), dtype=float)

    # Density

    def density(self, theta: FloatArray) -> tuple[FloatArray, FloatArray]:
        """The log density of vectors (P, D) up to a constant, shape (D,), and its gradient, (P, D)."""
        value = np.zeros(theta.shape[1])
        gradient = self._slope(theta, value)
        return value, gradient

    def slope(self, theta: FloatArray) -> FloatArray:
        """The gradient alone, in less time."""
        return self._slope(theta, None)

    def _slope(self, theta: FloatArray, value: FloatArray | None) -> FloatArray:
        """The gradient. value: what the log density is added to, part by part; None where nobody asks for it."""
        sets = theta.shape[1]
        cure_theta = theta[self.at["cures"]]
        cure = expit(cure_theta)
        log_not = np.zeros((len(self.model.sources), self.kinds, sets))
        log_not[self.free] = log_expit(-cure_theta)
        clear_theta = theta[self.at["clears"]][0]
        clear = expit(clear_theta)
        log_pooled = _log_shares(theta[self.at["pooled"]])
        pooled = np.exp(log_pooled)
        log_causes = self._log_causes(theta, log_pooled)
        log_shares = _log_shares(theta[self.at["shares"]])
        log_found = self._log_findings(theta)
        both = np.exp(log_shares[:, None] + log_causes)
        # P(not ended, nor clearing by itself | cause) of each event.
        not_ended = (1 - clear) * np.exp(_times(self.in_event, log_not))
        ended = np.maximum(1 - not_ended, _TINY)
        open_mass = np.maximum(_times(self.is_open, both), _TINY)
        seen_found = np.where(self.is_found[..., None], log_found, 0.0)
        columns = np.concatenate([log_not, seen_found.reshape(-1, self.kinds, sets), np.log(ended), np.log(open_mass)])
        pulled = self._likelihood(columns, value)
        records = self.records
        gradient = np.empty_like(theta)

        towards = pulled[self.parts[1] : self.parts[2]] * (not_ended / ended)
        counts = (_times(self.in_event.T, towards) - pulled[: self.parts[0]])[self.free]
        gradient[self.at["cures"]] = cure * counts + self.cure_a[:, None] - (self.cure_a + self.cure_b)[:, None] * cure

        a, b = CLEARS
        gradient[self.at["clears"]] = (
            clear * towards.sum(axis=(0, 1)) + a + records.cleared - (a + b + records.cleared + records.looks) * clear
        )

        by_group = both * _times(self.is_open.T, pulled[self.parts[2] :] / open_mass)
        towards_pooled = self.pooled_a[:, None] - self.pooled_a.sum() * pooled
        if self.sorts == 1:
            seen = by_group[0]
            towards_pooled += seen - seen.sum(axis=0) * pooled
        else:
            self._groups(gradient, value, by_group, log_pooled, log_causes, log_shares, towards_pooled)
        gradient[self.at["pooled"]] = towards_pooled[:-1]

        if self.model.findings:
            seen = pulled[self.parts[0] : self.parts[1]].reshape(log_found.shape) + self.found_a[..., None]
            moved = seen - seen.sum(axis=1, keepdims=True) * np.exp(log_found)
            # The ratio of a finding that a step does not have stays where it is.
            found_theta = theta[self.at["findings"]]
            gradient[self.at["findings"]] = np.where(self.is_had, moved[:, :-1].reshape(-1, sets), -found_theta)

        if value is not None:
            value += records.cleared * log_expit(clear_theta) + records.looks * log_expit(-clear_theta)
            value += self.cure_a @ log_expit(cure_theta) + self.cure_b @ log_expit(-cure_theta)
            value += a * log_expit(clear_theta) + b * log_expit(-clear_theta)
            value += self.pooled_a @ log_pooled
            if self.model.findings:
                value += np.einsum("cfk,cfkd->d", self.found_a, seen_found)
                value -= 0.5 * (np.where(self.is_had, 0.0, found_theta) ** 2).sum(axis=0)
        return gradient

    def _groups(
        self,
        gradient: FloatArray,
        value: FloatArray | None,
        by_group: FloatArray,
        log_pooled: FloatArray,
        log_causes: FloatArray,
        log_shares: FloatArray,
        towards_pooled: FloatArray,
    ) -> None:
        """The part of sorts of units: how their causes scatter about the pooled ones, and their shares."""
        sets = log_pooled.shape[-1]
        likely = np.exp(_normal(log_pooled[None] + self.log_times[..., None], axis=1))
        alpha = _LIKE_POOLED * likely
        if value is not None:
            value += (alpha * log_causes - gammaln(alpha)).sum(axis=(0, 1)) + self.share_a @ log_shares
        pull = log_causes - psi(alpha)
        towards_pooled += (alpha * (pull - (likely * pull).sum(axis=1, keepdims=True))).sum(axis=0)
        counts = by_group + alpha
        moved = counts - counts.sum(axis=1, keepdims=True) * np.exp(log_causes)
        gradient[self.at["causes"]] = moved[:, :-1].reshape(-1, sets)
        seen = by_group.sum(axis=1) + self.share_a[:, None]
        gradient[self.at["shares"]] = (seen - seen.sum(axis=0) * np.exp(log_shares))[:-1]

    def _likelihood(self, columns: FloatArray, value: FloatArray | None) -> FloatArray:
        """Expected counts that pull at each column, (C, K, D). value: what the log likelihood is added to, (D,)."""
        if not len(self.counts):
            return np.zeros_like(columns)
        # Causes first: what is added up over them then lies side by side.
        logs = np.matmul(self.matrix, columns.transpose(1, 0, 2))
        top = logs.max(axis=0)
        if not self.is_single:
            top = np.maximum.reduceat(top, self.starts, axis=0)
        logs -= top if self.is_single else top[self.owner]
        np.exp(logs, out=logs)
        total = logs.sum(axis=0)
        if not self.is_single:
            total = np.add.reduceat(total, self.starts, axis=0)
        if value is not None:
            value += self.counts @ (top + np.log(total))
        weight = self.counts[:, None] / total
        logs *= weight if self.is_single else weight[self.owner]
        return np.asarray(np.matmul(self.turned, logs).transpose(1, 0, 2), dtype=float)

    # Each record by itself

    def explained(self, chances: Chances) -> tuple[FloatArray, FloatArray]:
        """For one set of chances: log likelihood of each record, (R,), and of its rows P(cause | record), (rows, K)."""
        columns = self.columns(chances)
        logs = self.matrix @ columns[..., 0]
        top = np.maximum.reduceat(logs.max(axis=1), self.starts)
        shares = np.exp(logs - top[self.owner, None])
        total = np.add.reduceat(shares.sum(axis=1), self.starts)
        return top + np.log(total), shares / total[self.owner, None]

    def columns(self, chances: Chances) -> FloatArray:
        """What each column of the matrix stands for, in logs, (C, K, D)."""
        sets = chances.clears.shape[-1]
        # Far out a chance comes to exactly 0 or 1, whose log times nothing would be no number.
        with np.errstate(divide="ignore"):
            log_not = np.maximum(np.log1p(-chances.cures), np.log(_TINY))
        ended = np.maximum(1 - (1 - chances.clears) * np.exp(_times(self.in_event, log_not)), _TINY)
        found = np.zeros((len(self.model.findings), self.most, self.kinds, sets))
        for place, one in enumerate(chances.findings):
            found[place, : one.shape[0] - 1] = np.log(np.maximum(one[:-1], _TINY))
            found[place, -1] = np.log(np.maximum(one[-1], _TINY))
        mass = np.maximum(_times(self.is_open, chances.shares[:, None] * chances.causes), _TINY)
        return np.concatenate([log_not, found.reshape(-1, self.kinds, sets), np.log(ended), np.log(mass)])

    # Priors

    @cached_property
    def prior_mean(self) -> Chances:
        """The means of the priors, as one set; sorts of units by the facts, each with the pooled causes."""
        model = self.model
        cures = np.zeros((len(model.sources), self.kinds, 1))
        cures[self.free] = (self.cure_a / (self.cure_a + self.cure_b))[:, None]
        pooled = self.pooled_a / self.pooled_a.sum()
        likely = pooled * model.times
        return Chances(
            shares=model.shares[:, None],
            pooled=pooled[:, None],
            causes=(likely / likely.sum(axis=1, keepdims=True))[..., None],
            cures=cures,
            findings=tuple(one.table[..., None] for one in model.findings),
            clears=np.array([CLEARS[0] / sum(CLEARS)]),
        )

    def prior_draws(self, count: int, seed: int) -> Chances:
        """So many draws of the priors."""
        rng = np.random.default_rng(seed)
        model = self.model
        cures = np.zeros((len(model.sources), self.kinds, count))
        cures[self.free] = rng.beta(self.cure_a[:, None], self.cure_b[:, None], (len(self.cure_a), count))
        pooled = rng.dirichlet(self.pooled_a, count).T
        likely = pooled[None] * model.times[..., None]
        likely = likely / likely.sum(axis=1, keepdims=True)
        causes = pooled[None] if self.sorts == 1 else _dirichlet(rng, _LIKE_POOLED * likely, axis=1)
        return Chances(
            shares=np.ones((1, count)) if self.sorts == 1 else rng.dirichlet(self.share_a, count).T,
            pooled=pooled,
            causes=causes,
            cures=cures,
            findings=tuple(
                _dirichlet(rng, np.repeat((one.strength * one.table)[..., None], count, axis=-1), axis=0)
                for one in model.findings
            ),
            clears=rng.beta(*CLEARS, count),
        )


def _dirichlet(rng: np.random.Generator, alpha: FloatArray, axis: int) -> FloatArray:
    parts = np.maximum(rng.gamma(alpha), 1e-300)
    return np.asarray(parts / parts.sum(axis=axis, keepdims=True), dtype=float)


def _times(matrix: FloatArray, values: FloatArray) -> FloatArray:
    """A matrix times an array over its first axis."""
    flat = values.reshape(len(values), math.prod(values.shape[1:]))
    return np.asarray((matrix @ flat).reshape(len(matrix), *values.shape[1:]), dtype=float)


def _logsum(logs: FloatArray, axis: int) -> FloatArray:
    top = logs.max(axis=axis, keepdims=True)
    return np.asarray(top + np.log(np.exp(logs - top).sum(axis=axis, keepdims=True)), dtype=float)


def _normal(logs: FloatArray, axis: int) -> FloatArray:
    return np.asarray(logs - _logsum(logs, axis), dtype=float)


def _log_shares(ratios: FloatArray, axis: int = 0) -> FloatArray:
    """Log shares from their log ratios to the last entry, along an axis."""
    shape = list(ratios.shape)
    shape[axis] = 1
    return _normal(np.concatenate([ratios, np.zeros(shape)], axis=axis), axis)


def _logit(share: FloatArray) -> FloatArray:
    return np.asarray(np.log(share) - np.log1p(-share), dtype=float)


def _log_ratios(shares: FloatArray) -> FloatArray:
    return np.asarray(np.log(shares[:-1]) - np.log(shares[-1:]), dtype=float)
