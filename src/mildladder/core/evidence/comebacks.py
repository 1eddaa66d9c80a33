"""How long cures last: the share that has come back by each day, recent cases counted as far as they go.

Kaplan & Meier 1958; the log-rank test of Mantel 1966 for a difference.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

import numpy as np
from scipy.special import ndtr

from mildladder.core.ladder.causes import FloatArray
from mildladder.core.model import Shape

__all__ = ["ComeBack", "Cured", "come_backs"]


@dataclass(frozen=True)
class Cured:
    """Cures of a step that were closed in one period (a day, or a folded month), and after how many days some of them
    came back: days to count."""

    step: str
    period: str
    count: int
    returned: Mapping[int, int]


class ComeBack(Shape):
    """How a step's cures last. cures: how many; back: share come back by the end of each day from 0 to the window;
    others: the same of all other cures; p: how likely luck alone makes the two differ so, None where nothing can be
    told."""

    step: str
    cures: int
    returned: int
    back: tuple[float, ...]
    others: tuple[float, ...]
    p: float | None


class _Days(NamedTuple):
    """By day: cures still looked at as it begins, and those of them that come back on it."""

    at_risk: FloatArray
    returned: FloatArray


def come_backs(cured: Iterable[Cured], today: date, window: int) -> tuple[ComeBack, ...]:
    """One for each step with a cure, in order of ids. window: days within which a fault counts as come back."""
    by_step: dict[str, list[Cured]] = defaultdict(list)
    for one in cured:
        by_step[one.step].append(one)
    days = {step: _days(rows, today, window) for step, rows in by_step.items()}
    made = []
    for step, own in sorted(days.items()):
        rest = [one for name, one in days.items() if name != step]
        others = _Days(
            np.sum([one.at_risk for one in rest], axis=0) if rest else np.zeros(window + 1),
            np.sum([one.returned for one in rest], axis=0) if rest else np.zeros(window + 1),
        )
        made.append(
            ComeBack(
                step=step,
                cures=sum(one.count for one in by_step[step]),
                returned=sum(sum(one.returned.values()) for one in by_step[step]),
                back=_curve(own),
                others=_curve(others),
                p=_log_rank(own, others),
            )
        )
    return tuple(made)


def _days(rows: Sequence[Cured], today: date, window: int) -> _Days:
    at_risk, returned = np.zeros(window + 1), np.zeros(window + 1)
    for one in rows:
        # A folded month is made of days whose window has passed.
        seen = (
            window
            if len(one.period) < len("2026-01-01")
            else min(window, (today - date.fromisoformat(one.period)).days)
        )
        back = 0
        for day in range(max(seen, 0) + 1):
            at_risk[day] += one.count - back
            now = one.returned.get(day, 0)
            returned[day] += now
            back += now
    return _Days(at_risk, returned)


def _curve(days: _Days) -> tuple[float, ...]:
    risk = np.divide(days.returned, days.at_risk, out=np.zeros(len(days.at_risk)), where=days.at_risk > 0)
    return tuple(float(one) for one in 1 - np.cumprod(1 - np.minimum(risk, 1.0)))


def _log_rank(own: _Days, others: _Days) -> float | None:
    whole, back = own.at_risk + others.at_risk, own.returned + others.returned
    is_both = (own.at_risk > 0) & (others.at_risk > 0) & (whole > 1)
    share = np.divide(own.at_risk, whole, out=np.zeros(len(whole)), where=is_both)
    surplus = float((own.returned - back * share)[is_both].sum())
    spread = np.divide(back * share * (1 - share) * (whole - back), whole - 1, out=np.zeros(len(whole)), where=is_both)
    variance = float(spread[is_both].sum())
    return float(2 * ndtr(-abs(surplus) / np.sqrt(variance))) if variance > 0 else None
