"""What is still likely: the causes after all that is known, was seen, was tried and found."""

from collections.abc import Collection, Mapping, Sequence

import numpy as np

from mildladder.core.errors import BadInput
from mildladder.core.ladder.causes import FloatArray, all_causes, cure_chances, finding_chances, priors, priors_on
from mildladder.core.ladder.messages import caught
from mildladder.core.ladder.units import fact_types
from mildladder.core.model import Attempt, Cause, Playbook, Sign, Step
from mildladder.core.model.outcomes import UNHELPFUL

__all__ = ["likely_causes"]

_SPEAKS_AGAINST = (*UNHELPFUL, "nothing-to-do")


def signs_said(playbook: Playbook, said: str) -> list[Sign]:
    """The messages and codes of the symptom that stand in what a caller said."""
    told = [sign for sign in playbook.symptom.signs if sign.kind in ("message", "code")]
    return [sign for sign in told if caught(sign.text, said) is not None]


def likely_causes(
    playbook: Playbook,
    attempts: Sequence[Attempt],
    facts: Mapping[str, str] | None = None,
    said: str = "",
    seen: Collection[str] = (),
) -> list[tuple[Cause, float]]:
    """P(cause | what is known of the unit, what was seen, what was tried and what was found), most likely first, by
    Bayes' rule.

    Heckerman, Breese & Rommelse 1995. A try that ended the fault weighs a cause by its chance to end it, one that did
    not, or that found nothing to do, by the rest. Steps that the playbook lacks, and attempts that do not count as
    tried, say nothing. When the record rules every cause out, the priors stand; when the facts do, the weights. said:
    what the caller said, for the signs in it; seen: texts of the signs that were seen.
    """
    causes = all_causes(playbook)
    prior = _prior(playbook, causes, facts or {})
    chances = prior.copy()
    was_seen = [sign for sign in playbook.symptom.signs if sign.kind == "seen" and sign.text in seen]
    for sign in [*(signs_said(playbook, said) if said else ()), *was_seen]:
        chances = chances * [sign.points_to.get(cause.id, 1.0) for cause in causes]
    steps = {step.id: step for step in playbook.steps}
    for cured_by in _cures(attempts, steps):
        chances = chances * (1 - np.prod([1 - cure_chances(step, causes) for step in cured_by], axis=0))
    for attempt in attempts:
        step = steps.get(attempt.step)
        if step is None:
            continue
        if step.is_tested and attempt.outcome in _SPEAKS_AGAINST and attempt.took != "no":
            chances = chances * (1 - cure_chances(step, causes))
        found = next((i for i, finding in enumerate(step.findings) if finding.id == attempt.finding), None)
        if found is not None:
            chances = chances * finding_chances(step, causes)[found]
    chances = chances / chances.sum() if chances.sum() > 0 else prior
    pairs = [(cause, float(share)) for cause, share in zip(causes, chances, strict=True)]
    return sorted(pairs, key=lambda pair: -pair[1])


def _cures(attempts: Sequence[Attempt], steps: Mapping[str, Step]) -> list[list[Step]]:
    """The steps of each try that ended the fault: those of one trial were tested together."""
    found: dict[object, list[Step]] = {}
    for number, attempt in enumerate(attempts):
        step = steps.get(attempt.step)
        if step is not None and step.is_tested and attempt.outcome == "fixed":
            trial = ("alone", number) if attempt.trial is None else ("trial", attempt.trial)
            found.setdefault(trial, []).append(step)
    return list(found.values())


def _prior(playbook: Playbook, causes: Sequence[Cause], facts: Mapping[str, str]) -> FloatArray:
    """A caller may tell of a unit that the file has no share of, and that its own words rule every cause out on."""
    try:
        return priors_on(causes, facts, fact_types(playbook))
    except BadInput:
        return priors(causes)
