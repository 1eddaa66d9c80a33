"""The chances that explain the records best: a start by expected counts, then Newton's steps (evidence, section 4)."""

from dataclasses import replace

import numpy as np

from mildladder.core.evidence.posterior import CLEARS, Chances, Posterior
from mildladder.core.ladder.causes import FloatArray

__all__ = ["metric", "mode", "start"]

_ROUNDS = 15
_STEP, _LEAST, _MOST_MOVE = 1e-4, 0.01, 2.0
_GAIN, _MOST_STEPS, _TRIES = 1e-4, 25, 8
_LEAST_CURVE = 0.05


def start(posterior: Posterior) -> FloatArray:
    """A vector (P,) near the mode: rounds of expectation and maximisation (Dempster, Laird & Rubin 1977) with one set
    of causes for all sorts of units, records of negative count left out."""
    chances = posterior.prior_mean
    weights = posterior.pooled_a / posterior.pooled_a.sum()
    times = posterior.model.times
    for _ in range(_ROUNDS if len(posterior.counts) else 0):
        chances = _round(posterior, _one_for_all(chances, weights))
        weights = chances.pooled[:, 0]
    likely = chances.pooled[:, 0] * times
    causes = (likely / likely.sum(axis=1, keepdims=True))[..., None] if posterior.sorts > 1 else chances.pooled[None]
    return posterior.vector(replace(chances, causes=causes))[:, 0]


def _one_for_all(chances: Chances, weights: FloatArray) -> Chances:
    causes = np.broadcast_to(weights[None, :, None], chances.causes.shape)
    return replace(chances, pooled=weights[:, None], causes=causes)


def _round(posterior: Posterior, chances: Chances) -> Chances:
    """One round: expected counts by the chances, then the chances by (prior count + expected count) / total."""
    _, shares = posterior.explained(chances)
    weight = np.maximum(posterior.counts, 0.0)[posterior.owner, None] * shares
    pulled = posterior.turned @ weight
    cut = posterior.parts
    cures = chances.cures[..., 0]
    ended = pulled[cut[1] : cut[2]]
    tried = pulled[: cut[0]].copy()
    credit = np.zeros_like(cures)
    cleared = 0.0
    clears = float(chances.clears[0])
    for number, event in enumerate(posterior.events):
        left = ended[number]
        rest = [1 - (1 - clears) * np.prod(1 - cures[list(event[place:])], axis=0) for place in range(len(event))]
        for place, source in enumerate(event):
            mine = left * cures[source] / rest[place]
            credit[source] += mine
            tried[source] += left
            left = left - mine
        cleared += float(left.sum())
    records = posterior.records
    new = np.zeros_like(chances.cures)
    a, b = posterior.cure_a, posterior.cure_b
    new[posterior.free] = ((a + credit[posterior.free]) / (a + b + tried[posterior.free]))[:, None]
    seen = pulled[cut[2] :].sum(axis=0)
    pooled = (posterior.pooled_a + seen) / (posterior.pooled_a.sum() + seen.sum())
    looks = records.looks + records.cleared + float(ended.sum())
    gone, stays = CLEARS
    total = (gone + records.cleared + cleared) / (gone + stays + looks)
    return Chances(
        shares=chances.shares,
        pooled=pooled[:, None],
        causes=chances.causes,
        cures=np.clip(new, 0.0, 1 - 1e-9),
        findings=_findings(posterior, pulled[cut[0] : cut[1]]),
        clears=np.array([total]),
    )


def _findings(posterior: Posterior, seen: FloatArray) -> tuple[FloatArray, ...]:
    shape = (len(posterior.model.findings), posterior.most, posterior.kinds)
    counts = seen.reshape(shape) + posterior.found_a
    made = []
    for place, one in enumerate(posterior.model.findings):
        own = np.concatenate([counts[place, : len(one.ids) - 1], counts[place, -1:]])
        made.append((own / own.sum(axis=0))[..., None])
    return tuple(made)


def hessian(posterior: Posterior, theta: FloatArray) -> FloatArray:
    """Second derivatives at a vector, (P, P), by central differences of the gradient."""
    size = len(theta)
    moved = theta[:, None] + _STEP * np.concatenate([np.eye(size), -np.eye(size)], axis=1)
    gradient = posterior.slope(moved)
    made = (gradient[:, :size] - gradient[:, size:]) / (2 * _STEP)
    return np.asarray((made + made.T) / 2, dtype=float)


def mode(posterior: Posterior, theta: FloatArray) -> FloatArray:
    """The vector of greatest density near a vector, by damped Newton steps."""
    damping = 1e-3
    value, gradient = _at(posterior, theta)
    for _ in range(_MOST_STEPS):
        values, vectors = np.linalg.eigh(-hessian(posterior, theta))
        curve = np.maximum(np.abs(values), _LEAST)
        gain = 0.0
        for _ in range(_TRIES):
            step = vectors @ ((vectors.T @ gradient) / (curve + damping))
            step *= min(1.0, _MOST_MOVE / max(float(np.abs(step).max()), 1e-300))
            new_value, new_gradient = _at(posterior, theta + step)
            gain = new_value - value
            if gain >= 0:
                theta, value, gradient = theta + step, new_value, new_gradient
                damping /= 5
                break
            damping = damping * 10 + 0.01
        if gain < _GAIN:
            break
    return theta


def _at(posterior: Posterior, theta: FloatArray) -> tuple[float, FloatArray]:
    value, gradient = posterior.density(theta[:, None])
    return float(value[0]), gradient[:, 0]


def metric(posterior: Posterior, theta: FloatArray) -> FloatArray:
    """The scales of the draws about the mode, (P, P): eigenvectors of the curvature over the roots of its values."""
    values, vectors = np.linalg.eigh(-hessian(posterior, theta))
    return np.asarray(vectors / np.sqrt(np.maximum(values, _LEAST_CURVE)), dtype=float)
