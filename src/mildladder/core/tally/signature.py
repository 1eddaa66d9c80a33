"""What matters of a case to an estimate, in one canonical text; cases alike in it are counted, not kept apart."""

import json
from collections import Counter
from collections.abc import Mapping
from functools import lru_cache
from hashlib import blake2b
from typing import Literal

from mildladder.core.model import Baseline, Case, Shape

__all__ = [
    "AttemptSign",
    "Signature",
    "Tally",
    "digest",
    "read_signature",
    "renamed",
    "signature_text",
    "steps_in",
    "tried_part",
]


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


def signature_text(case: Case) -> str:
    """The signature in its canonical text, under the steps' own names: arrays in one fixed order, so that how a class
    is written changes no digest.

    What was tried stands first, see `tried_part`.
    """
    trials = _shared_trials(case)
    attempts = tuple(
        [
            (
                attempt.step,
                attempt.outcome or "found",
                attempt.finding,
                trials.get(attempt.trial) if trials else None,
                attempt.took if attempt.took != "yes" else None,
                1 if attempt.by == "before" else 0,
            )
            for attempt in case.attempts
        ]
    )
    passed = tuple(dict.fromkeys([one.step for one in case.passed])) if case.passed else ()
    return _text(attempts, case.end, case.resolved_by or None, case.baseline, passed)


def _shared_trials(case: Case) -> dict[int | None, int]:
    """Numbers from 1 for the trials that several attempts share, by the case's own."""
    trials = [attempt.trial for attempt in case.attempts if attempt.trial is not None]
    if len(set(trials)) == len(trials):
        return {}
    shared = [trial for trial, size in Counter(trials).items() if size > 1]
    return {trial: number for number, trial in enumerate(shared, start=1)}


def renamed(text: str, aliases: Mapping[str, str]) -> str:
    """The canonical text under other names. aliases: merged steps, and what each counts as."""
    if not aliases:
        return text
    attempts, end, ended_by, baseline, passed = _DECODE.decode(text)
    named = [[aliases.get(attempt[0], attempt[0]), *attempt[1:]] for attempt in attempts]
    ended_by = aliases.get(ended_by, ended_by) if ended_by else None
    return _ENCODE([named, end, ended_by, baseline, list(dict.fromkeys(aliases.get(one, one) for one in passed))])


_ENCODE = json.JSONEncoder(ensure_ascii=False, separators=(",", ":")).encode
_DECODE = json.JSONDecoder()
# Most cases are like others: texts are made, and read, once for many of them.
_REMEMBERED = 65_536


@lru_cache(maxsize=_REMEMBERED)
def _text(*parts: object) -> str:
    return _ENCODE(parts)


@lru_cache(maxsize=_REMEMBERED)
def tried_part(text: str) -> str:
    """The part of a canonical text that says what was tried; empty when nothing was."""
    attempts, end = _DECODE.raw_decode(text, 1)
    return text[1:end] if attempts else ""


@lru_cache(maxsize=_REMEMBERED)
def steps_in(text: str) -> tuple[str, ...]:
    """The steps of a canonical text's attempts, in order, as they are counted."""
    return tuple(attempt[0] for attempt in _DECODE.raw_decode(text, 1)[0])


@lru_cache(maxsize=_REMEMBERED)
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
