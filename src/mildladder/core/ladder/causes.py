"""How often each cause is behind a symptom, and what each step says and does about it (method, section 2).

Shared by the forecast, which looks ahead over all causes, and the guided case, which looks back over its answers.
One cause is behind a case; ``something-else`` always exists.
"""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from mildladder.core.errors import BadInput
from mildladder.core.figures.judgement import chance
from mildladder.core.model import SOMETHING_ELSE, Attempt, Cause, Playbook, Step

__all__ = ["FloatArray", "all_causes", "cure_chances", "finding_chances", "likely_causes", "priors"]

FloatArray = npt.NDArray[np.float64]
_SOMETHING_ELSE_SHARE = 0.1


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


def likely_causes(playbook: Playbook, attempts: Sequence[Attempt]) -> list[tuple[Cause, float]]:
    """P(cause | what was tried without success and what was found), most likely first, by Bayes' rule.

    Heckerman, Breese & Rommelse 1995. Steps that the playbook lacks, and attempts that do not count as
    tried, say nothing. When the record rules every cause out, the priors stand.
    """
    causes = all_causes(playbook)
    prior = priors(causes)
    chances = prior.copy()
    steps = {step.id: step for step in playbook.steps}
    for attempt in attempts:
        step = steps.get(attempt.step)
        if step is None:
            continue
        if step.is_tested and attempt.outcome in ("no-change", "worse") and attempt.took != "no":
            chances = chances * (1 - cure_chances(step, causes))
        found = next((i for i, finding in enumerate(step.findings) if finding.id == attempt.finding), None)
        if found is not None:
            chances = chances * finding_chances(step, causes)[found]
    chances = chances / chances.sum() if chances.sum() > 0 else prior
    pairs = [(cause, float(share)) for cause, share in zip(causes, chances, strict=True)]
    return sorted(pairs, key=lambda pair: -pair[1])
