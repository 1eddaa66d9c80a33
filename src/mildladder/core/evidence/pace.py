"""How many cases come in a month, and over how long that was seen (evidence, section 9)."""

from calendar import monthrange
from collections.abc import Iterable
from datetime import date, timedelta

from mildladder.core.model import Shape

__all__ = ["Pace", "pace_of"]

_WINDOW_DAYS, _LEAST_DAYS, _MONTH_DAYS = 182, 14, 30.44
_DAY = timedelta(days=1)


class Pace(Shape):
    """Cases a month. days: over how many days they were counted, until today."""

    a_month: float
    days: int


def pace_of(counts: Iterable[tuple[str, int]], first: date | None, folded_until: date, today: date) -> Pace:
    """The pace of a log, by what it closed in the last 182 days, or since its first closing where that is later.

    counts: cases by closing day (2026-03-14) or, for days before `folded_until`, by month (2026-03); first: the first
    closing, None for an empty log. Of a month that lies only partly in the span, the part that its days there are.
    """
    if first is None:
        return Pace(a_month=0.0, days=_LEAST_DAYS)
    since = max(first, today - timedelta(days=_WINDOW_DAYS))
    days = max(_LEAST_DAYS, (today - since).days)
    number = sum(count * _share_within(period, first, folded_until, since, today) for period, count in counts)
    return Pace(a_month=number * _MONTH_DAYS / days, days=days)


def _share_within(period: str, first: date, folded_until: date, since: date, today: date) -> float:
    """The share of a period's days that lie in the span; of a month, those of its days that were counted as one."""
    if len(period) > len("2026-03"):
        return float(since <= date.fromisoformat(period) <= today)
    begin = date.fromisoformat(f"{period}-01")
    end = begin.replace(day=monthrange(begin.year, begin.month)[1])
    begin, end = max(begin, first), max(first, min(end, folded_until - _DAY))
    inside = (min(end, today) - max(begin, since)).days + 1
    return max(0, inside) / ((end - begin).days + 1)
