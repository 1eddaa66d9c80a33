"""What is still likely: the causes after all that was tried and found."""

from collections.abc import Sequence

from mildladder.core.ladder.causes import all_causes, cure_chances, finding_chances, priors
from mildladder.core.model import Attempt, Cause, Playbook
from mildladder.core.model.outcomes import UNHELPFUL

__all__ = ["likely_causes"]


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
        if step.is_tested and attempt.outcome in UNHELPFUL and attempt.took != "no":
            chances = chances * (1 - cure_chances(step, causes))
        found = next((i for i, finding in enumerate(step.findings) if finding.id == attempt.finding), None)
        if found is not None:
            chances = chances * finding_chances(step, causes)[found]
    chances = chances / chances.sum() if chances.sum() > 0 else prior
    pairs = [(cause, float(share)) for cause, share in zip(causes, chances, strict=True)]
    return sorted(pairs, key=lambda pair: -pair[1])
