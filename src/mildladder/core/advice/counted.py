"""Changes that plain counts speak for: texts that cannot be followed, cures that come back."""

from collections.abc import Iterator, Mapping
from statistics import median

from scipy.special import betainc

from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudge import Change
from mildladder.core.evidence.rates import StepEvidence
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Playbook, Step

__all__ = ["hard_to_do", "share_back", "without_cures_that_come_back"]

_SURE = 0.99
_LEAST_SHARE, _MORE_THAN_SAID, _MORE_THAN_OTHERS = 0.15, 0.10, 0.10


def hard_to_do(judge: Judge, counts: Mapping[str, StepEvidence]) -> Iterator[Change]:
    """Steps that cannot be carried out, or are not there, far more often than was thought: their text is at fault."""
    draft = judge.draft
    on_rungs = {rung.step for rung in rungs_of(draft.ladder)}
    usual = median([step.done for step in draft.steps if step.id in on_rungs] or [1.0])
    for step in draft.steps:
        row = counts.get(step.id)
        if row is None or step.id not in on_rungs:
            continue
        failed = row.could_not + row.not_available
        carried = row.tried + row.together + row.done + row.found + row.took_unknown
        least = max(_LEAST_SHARE, 1 - usual + _MORE_THAN_SAID)
        if failed == 0 or _chance_above(least, failed, failed + carried) < _SURE:
            continue
        why = f"{failed} of {failed + carried} times it could not be done, or was not there"
        changed = step.model_copy(update={"done": max(usual, step.done)})
        says = f"Mend the text of “{step.title}”"
        yield Change("text", says, why, _with(draft, changed), frozenset(), (step.id,))


def _chance_above(share: float, seen: int, tries: int) -> float:
    """That the true share lies above, by Jeffreys' posterior."""
    return 1 - float(betainc(seen + 0.5, tries - seen + 0.5, share))


def share_back(counts: Mapping[str, StepEvidence]) -> float:
    """The share of judged cures, of any step, that did not last."""
    judged = sum(row.judged for row in counts.values())
    return sum(row.judged - row.held for row in counts.values()) / judged if judged else 0.0


def without_cures_that_come_back(counts: Mapping[str, StepEvidence]) -> dict[str, float]:
    """The share of its cures that last, of each step of which far more come back than of others."""
    usual = share_back(counts) + _MORE_THAN_OTHERS
    return {
        step: row.held / row.judged
        for step, row in counts.items()
        if row.judged and _chance_above(usual, row.judged - row.held, row.judged) >= _SURE
    }


def _with(draft: Playbook, changed: Step) -> Playbook:
    steps = tuple(changed if step.id == changed.id else step for step in draft.steps)
    return draft.model_copy(update={"steps": steps})
