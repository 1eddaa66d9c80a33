"""How often each cause is behind a symptom, and what each step says and does about it (method, section 2).

Shared by the forecast, which looks ahead over all causes, and the guided case, which looks back over its answers.
One cause is behind a case; ``something-else`` always exists.
"""

import math
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from mildladder.core.errors import BadInput
from mildladder.core.ladder.conditions import World, evaluate, parse
from mildladder.core.model import SOMETHING_ELSE, Cause, Chance, Playbook, Step

__all__ = ["FloatArray", "all_causes", "chance", "cure_chances", "finding_chances", "priors", "priors_on"]


CHANCES = {"nearly-always": 0.95, "usually": 0.8, "often": 0.6, "sometimes": 0.35, "rarely": 0.1}
FloatArray = np.ndarray[Any, np.dtype[np.float64]]


_SOMETHING_ELSE_SHARE = 0.1


def chance(value: Chance) -> float:
    """The number in [0, 1] behind a chance, which may be one of the five words."""
    return CHANCES[value] if isinstance(value, str) else value


def all_causes(playbook: Playbook) -> tuple[Cause, ...]:
    """The file's causes, with something-else added at 10 % of the resulting total where the file names none."""
    causes = playbook.causes
    if any(cause.id == SOMETHING_ELSE for cause in causes):
        return causes
    weight = sum(cause.weight for cause in causes) * _SOMETHING_ELSE_SHARE / (1 - _SOMETHING_ELSE_SHARE)
    return (*causes, Cause(id=SOMETHING_ELSE, title="Something else", layer="outside", weight=min(weight, 1e6)))


def priors(causes: Sequence[Cause]) -> FloatArray:
    """P(cause), shape (K,), summing to 1. Raises BadInput when every weight is 0."""
    weights = np.array([cause.weight for cause in causes], dtype=float)
    if not weights.sum() > 0:
        raise BadInput("the weights of the causes sum to 0; give at least one of them a weight", path="causes")
    return np.asarray(weights / weights.sum(), dtype=float)


def priors_on(causes: Sequence[Cause], facts: Mapping[str, str], types: Mapping[str, str]) -> FloatArray:
    """P(cause) on units of which these facts are known, shape (K,), summing to 1.

    Each weight is multiplied by the `times` of those of its `likelier` entries whose condition holds there; one that
    is unknown does not hold. Raises BadInput when nothing is left.
    """
    if not any(cause.likelier for cause in causes):
        return priors(causes)
    world = World(facts=facts, types=types)
    moved = [
        cause.model_copy(update={"weight": cause.weight * _times(cause, world)}) if cause.likelier else cause
        for cause in causes
    ]
    try:
        return priors(moved)
    except BadInput:
        said = ", ".join(f"{fact} is {value}" for fact, value in facts.items())
        raise BadInput(
            f"where {said or 'nothing is known'}, no cause is left: what is likelier takes all weights away",
            path="causes",
        ) from None


def _times(cause: Cause, world: World) -> float:
    return math.prod(one.times for one in cause.likelier if evaluate(parse(one.when), world))


def cure_chances(step: Step, causes: Sequence[Cause]) -> FloatArray:
    """Chance that carrying out the step ends each cause, shape (K,); 0 where the step names no chance."""
    return np.array([chance(step.fixes[cause.id]) if cause.id in step.fixes else 0.0 for cause in causes])


def finding_chances(step: Step, causes: Sequence[Cause]) -> FloatArray:
    """P(finding | cause), shape (F, K), each column summing to 1. Raises BadInput for a cause with none."""
    table = np.array([[f.given.get(cause.id, f.given.get("*", 0.0)) for cause in causes] for f in step.findings])
    empty = np.flatnonzero(table.sum(axis=0) == 0)
    if empty.size:
        raise BadInput(f"the findings of '{step.id}' are all 0 for the cause '{causes[empty[0]].id}'")
    return np.asarray(table / table.sum(axis=0), dtype=float)
