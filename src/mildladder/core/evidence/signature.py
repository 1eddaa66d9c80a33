"""What matters of a case to an estimate, and the count of cases alike in it."""

from collections import defaultdict
from collections.abc import Mapping
from typing import Literal

from mildladder.core.model import Attempt, Case, Shape

__all__ = ["AttemptSign", "Signature", "Tally", "signature"]


class AttemptSign(Shape):
    """What matters of one attempt to an estimate. `trial`: a number when several attempts were tested together."""

    step: str
    result: str
    finding: str | None = None
    trial: int | None = None
    took: Literal["no", "unknown"] | None = None
    before: bool = False


class Signature(Shape):
    """What matters of one case to an estimate: cases alike in it are counted, not kept apart."""

    attempts: tuple[AttemptSign, ...]
    end: str
    resolved_by: str | None


class Tally(Shape):
    """How many cases of one symptom share a signature, a closing day or month, and whether they came back.

    `period`: YYYY-MM-DD within the last return window, else YYYY-MM.
    """

    period: str
    came_back: bool
    signature: Signature
    count: int


def signature(case: Case, aliases: Mapping[str, str] | None = None) -> Signature:
    """The signature of a case: step and finding ids, results and trials; never positions, titles or minutes.

    aliases: merged steps, and what each counts as.
    """
    same = aliases or {}
    sizes: dict[int, int] = defaultdict(int)
    for attempt in case.attempts:
        if attempt.trial is not None:
            sizes[attempt.trial] += 1
    numbers: dict[int, int] = {}
    signs = []
    for attempt in case.attempts:
        trial = None
        if attempt.trial is not None and sizes[attempt.trial] > 1:
            trial = numbers.setdefault(attempt.trial, len(numbers) + 1)
        signs.append(_attempt_sign(attempt, trial, same))
    resolved_by = same.get(case.resolved_by, case.resolved_by) if case.resolved_by else None
    return Signature(attempts=tuple(signs), end=case.end, resolved_by=resolved_by)


def _attempt_sign(attempt: Attempt, trial: int | None, aliases: Mapping[str, str]) -> AttemptSign:
    return AttemptSign(
        step=aliases.get(attempt.step, attempt.step),
        result=attempt.outcome or "found",
        finding=attempt.finding,
        trial=trial,
        took=attempt.took if attempt.took in ("no", "unknown") else None,
        before=attempt.by == "before",
    )
