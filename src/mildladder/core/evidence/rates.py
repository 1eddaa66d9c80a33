"""What logged cases show about each step: tried, resolved, held, and a raw rate with its interval (method, section 5).

Works on counts of distinct case signatures, never on the cases, so any number of desks can be added together.
"""

from collections import defaultdict
from collections.abc import Iterable
from datetime import date, timedelta

from mildladder.core.model import Shape
from mildladder.core.model.outcomes import TESTED
from mildladder.core.tally.signature import AttemptSign, Tally

__all__ = ["Rate", "StepEvidence", "count_steps", "is_more_than", "no_evidence", "raw_rate", "tried_and_resolved"]


_RARE = 0.001


class Rate(Shape):
    """A raw rate in [0, 1] with its 95 % Jeffreys interval; None throughout when nothing was counted."""

    mean: float | None
    low: float | None
    high: float | None


class StepEvidence(Shape):
    """Counts of one step over the cases of a symptom.

    `held` is counted out of `judged`: the resolved cases whose return window has passed, or that came back.
    `together`: fixed in one trial with other steps, so credited to none of them. `done`: carried out, for what
    resolves nothing.
    """

    step: str
    tried: int
    resolved: int
    judged: int
    held: int
    together: int
    found: int
    done: int
    could_not: int
    not_available: int
    nothing_to_do: int
    skipped: int
    took_unknown: int
    raw: Rate
    holding: Rate


def raw_rate(successes: int, tries: int) -> Rate:
    """successes / tries with the 95 % equal-tailed Jeffreys interval, 0 <= successes <= tries.

    Brown, Cai & DasGupta 2001: quantiles of Beta(successes + 1/2, failures + 1/2), with the lower end 0 at no
    success and the upper end 1 at no failure.
    """
    from scipy.special import betaincinv

    if tries == 0:
        return Rate(mean=None, low=None, high=None)
    failures = tries - successes
    low = float(betaincinv(successes + 0.5, failures + 0.5, 0.025)) if successes else 0.0
    high = float(betaincinv(successes + 0.5, failures + 0.5, 0.975)) if failures else 1.0
    return Rate(mean=successes / tries, low=low, high=high)


def is_more_than(chance: float, seen: int, tries: int) -> bool:
    """Whether so many in so many tries would come by luck in fewer than 1 of 1,000 logs, were the chance as told.

    Strict, since dozens of hazards are looked at side by side: the upper tail of the binomial distribution.
    """
    from scipy.special import bdtrc

    return seen > 0 and (chance == 0 or float(bdtrc(seen - 1, tries, chance)) < _RARE)


def count_steps(tallies: Iterable[Tally], today: date, return_window: int) -> dict[str, StepEvidence]:
    """Evidence of each step id that occurs in the tallies. `return_window` in days."""
    counts: dict[str, dict[str, int]] = defaultdict(lambda: defaultdict(int))
    for tally in tallies:
        judged = tally.count if _window_has_passed(tally.period, today, return_window) else tally.returned
        for sign in tally.signature.attempts:
            row = counts[sign.step]
            for name in _counts_of(sign, tally.signature.resolved_by):
                row[name] += tally.count
                if name == "resolved":
                    row["judged"] += judged
                    row["held"] += judged - tally.returned
    return {step: _evidence(step, row) for step, row in counts.items()}


def tried_and_resolved(tallies: Iterable[Tally]) -> dict[str, tuple[int, int]]:
    """Of each step, how often it was tried and how often it resolved."""
    counts: dict[str, list[int]] = defaultdict(lambda: [0, 0])
    for tally in tallies:
        for sign in tally.signature.attempts:
            names = _counts_of(sign, tally.signature.resolved_by)
            if "tried" in names:
                counts[sign.step][0] += tally.count
                counts[sign.step][1] += tally.count * ("resolved" in names)
    return {step: (tried, resolved) for step, (tried, resolved) in counts.items()}


def _window_has_passed(period: str, today: date, return_window: int) -> bool:
    """Months are only made of days whose window has passed."""
    is_month = len(period) == len("2026-01")
    return is_month or date.fromisoformat(period) + timedelta(days=return_window) < today


def _counts_of(sign: AttemptSign, resolved_by: str | None) -> list[str]:
    """The names of the counts that an attempt adds to (method, section 5, Counting)."""
    if sign.took == "no":
        return ["could_not"]
    if sign.took == "unknown":
        return ["took_unknown"]
    if sign.result == "fixed" and sign.trial is not None:
        return ["together"]
    if sign.result in TESTED:
        is_cure = sign.result == "fixed" and resolved_by in (None, sign.step)
        return ["tried", "resolved"] if is_cure else ["tried"]
    if sign.finding is not None:
        return ["tried", "found"]
    return [sign.result.replace("-", "_")]


def no_evidence(step: str) -> StepEvidence:
    """The evidence of a step that no case has tried."""
    return _evidence(step, {})


def _evidence(step: str, row: dict[str, int]) -> StepEvidence:
    names = (
        "tried",
        "resolved",
        "judged",
        "held",
        "together",
        "found",
        "done",
        "could_not",
        "not_available",
        "nothing_to_do",
        "skipped",
        "took_unknown",
    )
    return StepEvidence(
        step=step,
        **{name: row.get(name, 0) for name in names},
        raw=raw_rate(row.get("resolved", 0), row.get("tried", 0)),
        holding=raw_rate(row.get("held", 0), row.get("judged", 0)),
    )
