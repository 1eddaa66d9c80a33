"""What a change of a ladder is worth by all that the cases teach: promised when it is published, looked at again when
it has been climbed (evidence, section 9)."""

from mildladder.core.advice.judging import Judge
from mildladder.core.evidence.estimate import Estimated
from mildladder.core.evidence.forward import Span, Told, span_of
from mildladder.core.model import Playbook, Shape

__all__ = ["LEAST_CASES", "LEAST_DAYS", "Worth", "worth_of"]

# What came of a change is told after so many of its own cases, or so many days.
LEAST_CASES, LEAST_DAYS = 30, 90


class Worth(Shape):
    """What a ladder spares a case against the one before it. saving: effort minutes with harm at the desk's rate;
    effort: minutes; harm: points."""

    saving: Span
    effort: Span
    harm: Span


def worth_of(made: Estimated, before: Playbook, after: Playbook, told: Told) -> Worth:
    """By the same 400 sets of chances for both. Raises BadInput as the forecast does."""
    judge = Judge(made, before, told)
    changed = Judge(made, after, told).draft
    was, now = judge.figures(judge.draft, judge.many), judge.figures(changed, judge.many)
    effort, harm = was.effort - now.effort, was.harm - now.harm
    return Worth(saving=span_of(effort + judge.rate * harm), effort=span_of(effort), harm=span_of(harm))
