"""Cases a month, against a slow twin that looks at every case."""

from calendar import monthrange
from collections import Counter
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mildladder.core.evidence.pace import pace_of

TODAY = date(2026, 11, 20)
NEVER = date(1, 1, 1)


def days_ago(number: int) -> date:
    return TODAY - timedelta(days=number)


def counted(closed, folded_until):
    return Counter(str(day) if day >= folded_until else str(day)[:7] for day in closed).items()


def slow_twin_at(closed: list[date], folded_until: date, today: date) -> float:
    """Every case by itself: one whose day is known counts wholly or not at all, one of a folded month as much as the
    days of that month, from the first closing until the folding, lie in the span."""
    first, since = min(closed), max(min(closed), today - timedelta(days=182))
    span = {since + timedelta(days=n) for n in range((today - since).days + 1)}
    number = 0.0
    for day in closed:
        if day >= folded_until:
            number += day in span
            continue
        month = [day.replace(day=n + 1) for n in range(monthrange(day.year, day.month)[1])]
        known = [one for one in month if first <= one < folded_until]
        number += sum(one in span for one in known) / len(known)
    return number * 30.44 / max(14, (today - since).days)


@settings(max_examples=200)
@given(
    st.lists(st.integers(0, 700), min_size=1, max_size=60),
    st.integers(14, 200),
)
def test_it_is_what_a_slow_twin_counts(ages, folded_days_ago):
    closed, folded_until = [days_ago(age) for age in ages], days_ago(folded_days_ago)
    pace = pace_of(counted(closed, folded_until), min(closed), folded_until, TODAY)
    assert pace.a_month == pytest.approx(slow_twin_at(closed, folded_until, TODAY))


@pytest.mark.parametrize("today", [date(2026, month, day) for month in (1, 3, 8, 11) for day in (1, 15, 28)])
def test_ten_a_day_are_three_hundred_and_five_a_month_whatever_day_it_is(today):
    closed = [today - timedelta(days=n) for n in range(1, 700) for _ in range(10)]
    folded_until = today - timedelta(days=14)
    pace = pace_of(counted(closed, folded_until), min(closed), folded_until, today)
    assert pace.a_month == pytest.approx(304.4, rel=0.03)
    assert pace.days == 182


def test_a_log_of_thirty_days_is_no_sixth_of_what_it_is():
    closed = [days_ago(n) for n in range(1, 31) for _ in range(10)]
    pace = pace_of(counted(closed, days_ago(14)), min(closed), days_ago(14), TODAY)
    assert pace.a_month == pytest.approx(304.4)
    assert pace.days == 30


def test_a_desk_of_a_day_is_not_thought_to_be_busy_for_ever():
    assert pace_of([(str(TODAY), 14)], TODAY, NEVER, TODAY).a_month == pytest.approx(30.44)
    assert pace_of([], None, NEVER, TODAY).a_month == 0
