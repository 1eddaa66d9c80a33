"""What matters of a case to an estimate, in one canonical text; cases alike in it are counted, not kept apart."""

import json
from collections import Counter
from collections.abc import Mapping
from functools import lru_cache
from hashlib import blake2b
from typing import Literal

from mildladder.core.model import Attempt, Baseline, Case, Shape

__all__ = ["AttemptSign", "Signature", "Tally", "digest", "read_signature", "signature", "signature_text"]


class AttemptSign(Shape):
    """What matters of one attempt to an estimate. `trial`: a number when several attempts were tested together."""

    step: str
    result: str
    finding: str | None = None
    trial: int | None = None
    took: Literal["no", "unknown"] | None = None
    before: bool = False


class Signature(Shape):
    """What matters of one case to an estimate. `passed`: steps whose rungs did not come up."""

    attempts: tuple[AttemptSign, ...]
    end: str
    resolved_by: str | None
    baseline: Baseline | None = None
    passed: tuple[str, ...] = ()


class Tally(Shape):
    """How many cases of one symptom share a signature and a closing day or month, and how many of them came back.

    `period`: YYYY-MM-DD within the last return window, else YYYY-MM.
    """

    period: str
    signature: Signature
    count: int
    returned: int


def signature(case: Case, aliases: Mapping[str, str] | None = None) -> Signature:
    """The signature of a case: step and finding ids, results and trials; never positions, titles or minutes.

    aliases: merged steps, and what each counts as.
    """
    same = aliases or {}
    sizes = Counter(attempt.trial for attempt in case.attempts)
    numbers: dict[int, int] = {}
    signs = []
    for attempt in case.attempts:
        trial = None
        if attempt.trial is not None and sizes[attempt.trial] > 1:
            trial = numbers.setdefault(attempt.trial, len(numbers) + 1)
        signs.append(_attempt_sign(attempt, trial, same))
    resolved_by = same.get(case.resolved_by, case.resolved_by) if case.resolved_by else None
    passed = tuple(dict.fromkeys(same.get(one.step, one.step) for one in case.passed))
    return Signature.model_construct(
        attempts=tuple(signs), end=case.end, resolved_by=resolved_by, baseline=case.baseline, passed=passed
    )


def _attempt_sign(attempt: Attempt, trial: int | None, aliases: Mapping[str, str]) -> AttemptSign:
    return AttemptSign.model_construct(
        step=aliases.get(attempt.step, attempt.step),
        result=attempt.outcome or "found",
        finding=attempt.finding,
        trial=trial,
        took=attempt.took if attempt.took in ("no", "unknown") else None,
        before=attempt.by == "before",
    )


def signature_text(sign: Signature) -> str:
    """Inverse of `read_signature`: arrays in one fixed order, so that how a class is written changes no digest."""
    attempts = [[a.step, a.result, a.finding, a.trial, a.took, int(a.before)] for a in sign.attempts]
    whole = [attempts, sign.end, sign.resolved_by, sign.baseline, list(sign.passed)]
    return json.dumps(whole, ensure_ascii=False, separators=(",", ":"))


@lru_cache(maxsize=65_536)
def read_signature(text: str) -> Signature:
    """Inverse of `signature_text`."""
    attempts, end, resolved_by, baseline, passed = json.loads(text)
    return Signature(
        attempts=tuple(
            AttemptSign(step=step, result=result, finding=finding, trial=trial, took=took, before=bool(before))
            for step, result, finding, trial, took, before in attempts
        ),
        end=end,
        resolved_by=resolved_by,
        baseline=baseline,
        passed=tuple(passed),
    )


def digest(text: str) -> str:
    """A short name for a canonical text; the same on every desk."""
    return blake2b(text.encode(), digest_size=16).hexdigest()
