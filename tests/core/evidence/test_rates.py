"""Counting by the rules of the method's section 5, and the Jeffreys interval against its definition."""

from datetime import timedelta
from math import comb

import pytest
from scipy.integrate import quad

from mildladder.core.evidence.rates import count_steps, is_more_than, raw_rate
from mildladder.core.model import Case
from mildladder.core.tally.signature import Signature, Tally, read_signature, signature_text
from tests.samples import NOON, case

TODAY = NOON.date()


def sign(one: Case) -> Signature:
    return read_signature(signature_text(one))


def counted(*cases: Case, window: int = 14):
    tallies = [
        Tally(period=c.closed.date().isoformat(), returned=int(c.came_back is not None), signature=sign(c), count=1)
        for c in cases
    ]
    return count_steps(tallies, TODAY, window)


@pytest.mark.parametrize(("x", "n"), [(1, 10), (5, 10), (19, 20), (41, 108), (3, 200)])
def test_the_interval_leaves_an_equal_tail_of_the_posterior_at_either_end(x, n):
    rate = raw_rate(x, n)
    density = lambda p: p ** (x - 0.5) * (1 - p) ** (n - x - 0.5)  # noqa: E731
    whole = quad(density, 0, 1, points=[x / n])[0]
    assert quad(density, 0, rate.low)[0] / whole == pytest.approx(0.025, abs=1e-6)
    assert quad(density, rate.high, 1)[0] / whole == pytest.approx(0.025, abs=1e-6)
    assert rate.mean == x / n


def test_the_interval_reaches_the_end_where_nothing_speaks_against_it():
    assert (raw_rate(0, 10).low, raw_rate(10, 10).high) == (0, 1)


def test_nothing_tried_has_no_rate():
    assert raw_rate(0, 0).mean is None


def test_only_tests_of_the_original_action_count_as_tried():
    outcomes = ("fixed", "no-change", "better", "worse", "nothing-to-do", "not-available", "could-not", "skipped")
    counts = counted(*(case(n, ("clear-hold", outcome)) for n, outcome in enumerate(outcomes)))["clear-hold"]
    assert (counts.tried, counts.resolved) == (4, 1)
    assert (counts.nothing_to_do, counts.not_available, counts.could_not, counts.skipped) == (1, 1, 1, 1)


def test_a_step_that_did_not_take_counts_as_could_not():
    attempts = [{"step": "clear-hold", "outcome": "no-change", "took": took} for took in ("no", "unknown", "yes")]
    counts = counted(case(1, attempts=attempts))["clear-hold"]
    assert (counts.tried, counts.could_not, counts.took_unknown) == (1, 1, 1)


def test_several_fixes_of_one_trial_are_credited_to_none():
    attempts = [{"step": s, "outcome": "fixed", "trial": 1} for s in ("clear-hold", "reload-program")]
    counts = counted(case(1, attempts=attempts, end="resolved"))
    assert [(c.tried, c.resolved, c.together) for c in counts.values()] == [(0, 0, 1), (0, 0, 1)]


def test_held_judges_only_cases_whose_window_has_passed_or_that_came_back():
    cured = ("clear-hold", "fixed")
    old = case(1, cured, days_ago=40)
    young = case(2, cured, days_ago=3)
    back = case(3, cured, days_ago=4, came_back=NOON - timedelta(days=1))
    counts = counted(old, young, back)["clear-hold"]
    assert (counts.resolved, counts.judged, counts.held) == (3, 2, 1)


def test_the_window_closes_on_the_day_after_its_last():
    cured = ("clear-hold", "fixed")
    assert counted(case(1, cured, days_ago=14))["clear-hold"].judged == 0
    assert counted(case(1, cured, days_ago=15))["clear-hold"].judged == 1


def test_a_signature_ignores_when_and_how_long():
    early = case(1, ("clear-hold", "no-change"), days_ago=3)
    late = case(2, ("clear-hold", "no-change"))
    assert sign(early) == sign(late)
    assert sign(early) != sign(case(3, ("clear-hold", "better")))


@pytest.mark.parametrize(
    ("chance", "seen", "tries", "is_more"),
    [
        (0.1, 30, 100, True),
        (0.1, 14, 100, False),
        (0.0, 1, 5, True),
        (0.0, 0, 5, False),
        (1.0, 9, 9, False),
        (0.5, 0, 0, False),
    ],
)
def test_more_than_told_is_only_what_luck_hardly_explains(chance, seen, tries, is_more):
    assert is_more_than(chance, seen, tries) is is_more


def test_the_threshold_of_more_than_told_is_the_exact_tail_of_the_binomial():
    for tries in (20, 150):
        tail = [
            sum(comb(tries, k) * 0.2**k * 0.8 ** (tries - k) for k in range(n, tries + 1)) for n in range(tries + 1)
        ]
        assert [is_more_than(0.2, n, tries) for n in range(tries + 1)] == [t < 0.001 for t in tail]
