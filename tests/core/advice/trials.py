"""Trials of two editions whose costs are drawn: what is really so is known."""

from dataclasses import dataclass

import numpy as np

from mildladder.core.advice.side_by_side import Closed, Ground, Running, coin, ground_of, plan_of, running

GROUPS = {"K1": 20.0, "K2": 30.0, "K3": 60.0}
MOST = 2000
_LOGGED = 2000


@dataclass(frozen=True)
class Trials:
    """Many runs of one kind. decided: how many said that there is a difference; rightly: in favour of the one that is
    cheaper; no_difference: how many said that there is none of that size; cases: of those that decided, in the median."""

    runs: int
    decided: int
    rightly: int
    no_difference: int
    cases: float


def costs(rng: np.random.Generator, count: int, shape: float, times: float = 1.0) -> list[tuple[str, float]]:
    """Gamma costs in three sorts of units."""
    names = rng.choice(list(GROUPS), count)
    return [(str(name), float(rng.gamma(shape, GROUPS[str(name)] * times / shape))) for name in names]


def a_trial(seed: int, shape: float, times: float, most: int = MOST) -> tuple[Running, Ground]:
    """One trial in which a case by b costs so many times one by a; a fifth is looked for."""
    rng = np.random.default_rng(seed)
    ground = ground_of(costs(rng, _LOGGED, shape))
    assert ground is not None
    difference = 0.2 * ground.mean
    planned = plan_of(ground, difference, 100).cases
    closed = []
    for number, (group, cost) in enumerate(costs(rng, most, shape)):
        arm = coin(f"seed {seed}", f"case {number}")
        closed.append(Closed(arm, group, cost * (times if arm == "b" else 1.0), is_severe=False))
    return running(ground, difference, planned, closed), ground


def trials(seeds: range, shape: float, times: float) -> Trials:
    """So many of them."""
    made = [a_trial(seed, shape, times)[0] for seed in seeds]
    decided = [one for one in made if one.stopped == "decided"]
    return Trials(
        runs=len(made),
        decided=len(decided),
        rightly=sum(one.better == "b" for one in decided),
        no_difference=sum(one.stopped == "no-difference" for one in made),
        cases=float(np.median([one.count_a + one.count_b for one in decided])) if decided else float("nan"),
    )
