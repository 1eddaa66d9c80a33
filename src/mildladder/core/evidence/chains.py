"""Draws of chances given records: many short chains at once, and whether they can be trusted (evidence, section 4).

Neal 2011 (Hamiltonian sampling); Margossian et al. 2024 (many short chains).
"""

from typing import NamedTuple

import numpy as np

from mildladder.core.evidence.posterior import Posterior
from mildladder.core.ladder.causes import FloatArray

__all__ = ["FULL", "MORE", "QUICK", "Diagnosis", "Run", "diagnose", "draws"]

CHAINS = 64
_GROUPS = 8
_WORST_RHAT, _LEAST_SIZE = 1.1, 100.0
_START, _MOST, _AIM = 0.55, 1.2, 0.8


class Run(NamedTuple):
    """How long chains run: steps to warm up, steps that are kept, leapfrogs a step."""

    warm: int
    kept: int
    leapfrogs: int = 8


FULL, MORE, QUICK = Run(36, 36), Run(72, 144), Run(8, 16, 6)


class Diagnosis(NamedTuple):
    """How well chains agree on a figure: rhat near 1, and how many independent draws they are worth."""

    rhat: float
    size: float

    @property
    def is_good(self) -> bool:
        """Whether the figure may be shown."""
        return self.rhat <= _WORST_RHAT and self.size >= _LEAST_SIZE


def draws(posterior: Posterior, mode: FloatArray, scales: FloatArray, seed: int, run: Run) -> FloatArray:
    """Vectors (P, kept * 64), the chains of one step side by side."""
    rng = np.random.default_rng(seed)
    size = len(mode)

    # A chain that runs off is thrown back, whatever numbers it met.
    def look(place: FloatArray) -> tuple[FloatArray, FloatArray]:
        with np.errstate(all="ignore"):
            value, gradient = posterior.density(mode[:, None] + scales @ place)
            return value, scales.T @ gradient

    def slope(place: FloatArray) -> FloatArray:
        with np.errstate(all="ignore"):
            return np.asarray(scales.T @ posterior.slope(mode[:, None] + scales @ place), dtype=float)

    place = np.sqrt(0.5) * rng.standard_normal((size, CHAINS))
    value, gradient = look(place)
    length = _START
    kept = np.empty((run.kept, size, CHAINS))
    for step in range(run.warm + run.kept):
        push = rng.standard_normal((size, CHAINS))
        pace = length * rng.uniform(0.8, 1.2, CHAINS)
        before = value - 0.5 * (push**2).sum(axis=0)
        there, there_gradient, there_value = place, gradient, value
        for left in reversed(range(run.leapfrogs)):
            push = push + 0.5 * pace * there_gradient
            there = there + pace * push
            if left:
                there_gradient = slope(there)
            else:
                there_value, there_gradient = look(there)
            push = push + 0.5 * pace * there_gradient
        with np.errstate(invalid="ignore", over="ignore"):
            ratio = there_value - 0.5 * (push**2).sum(axis=0) - before
        ratio = np.where(np.isfinite(ratio), ratio, -np.inf)
        chance = np.exp(np.minimum(ratio, 0.0))
        is_taken = rng.random(CHAINS) < chance
        place = np.where(is_taken, there, place)
        gradient = np.where(is_taken, there_gradient, gradient)
        value = np.where(is_taken, there_value, value)
        if step < run.warm:
            length = min(_MOST, length * float(np.exp(0.6 * (chance.mean() - _AIM))))
        else:
            kept[step - run.warm] = place
    found = mode[:, None] + scales @ kept.transpose(1, 0, 2).reshape(size, -1)
    return np.asarray(found, dtype=float)


def diagnose(figure: FloatArray) -> Diagnosis:
    """How well the chains agree on a figure of each draw, (kept * 64,)."""
    by_chain = figure.reshape(-1, CHAINS)
    whole = float(by_chain.var(ddof=1))
    if whole < 1e-24:
        return Diagnosis(1.0, float(figure.size))
    groups = by_chain.reshape(len(by_chain), _GROUPS, -1).transpose(1, 0, 2).reshape(_GROUPS, -1)
    within = float(groups.var(axis=1, ddof=1).mean())
    between = float(groups.mean(axis=1).var(ddof=1))
    rhat = float(np.sqrt(1 + between / within)) if within > 0 else float("inf")
    spread = float(by_chain.mean(axis=0).var(ddof=1))
    size = min(float(figure.size), CHAINS * whole / spread) if spread > 0 else float(figure.size)
    return Diagnosis(rhat, size)
