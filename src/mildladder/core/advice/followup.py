"""What a change of a ladder is worth by all that the cases teach: promised when it is published, looked at again when
it has been climbed (evidence, section 9)."""

from collections.abc import Sequence

from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudge import Nudge
from mildladder.core.evidence.estimate import Estimated
from mildladder.core.evidence.forward import Span, Told, span_of
from mildladder.core.model import Playbook, Shape

__all__ = ["LEAST_CASES", "LEAST_DAYS", "Worth", "lowered", "share_to_count_on", "worth_of"]

# What came of a change is told after so many of its own cases, or so many days.
LEAST_CASES, LEAST_DAYS = 30, 90
# When less than that share came, over so many changes, promises run high.
_LEAST_SHARE, _LEAST_CHANGES = 0.8, 20


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


def share_to_count_on(followed: Sequence[tuple[float, float]]) -> float:
    """Of what is promised, the share that may be counted on: all of it, unless much less came of many changes.
    followed: minutes that were promised and that came, of each change of which both are known."""
    promised, came = sum(one for one, _ in followed), sum(one for _, one in followed)
    if len(followed) < _LEAST_CHANGES or promised <= 0:
        return 1.0
    share = max(came / promised, 0.0)
    return share if share < _LEAST_SHARE else 1.0


def lowered(nudge: Nudge, share: float) -> Nudge:
    """The nudge with that share of all that it promises."""

    def less(one: Span) -> Span:
        return Span(mean=share * one.mean, low=share * one.low, high=share * one.high)

    return nudge.model_copy(
        update={
            **{name: less(getattr(nudge, name)) for name in ("saving", "people", "waiting", "parts", "harm")},
            "by_person": {person: share * minutes for person, minutes in nudge.by_person.items()},
        }
    )
