"""Editions as their cases went: given the same mix of units, and never from next to nothing."""

from dataclasses import replace

import numpy as np
import pytest

from mildladder.core.evidence.estimate import Estimated, estimate
from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.observed import ObservedEditions, observed_editions
from mildladder.core.evidence.records import KeyedTally, records_of
from mildladder.core.tally.signature import AttemptSign, Signature
from tests.core.evidence.desks import small_desk


@pytest.fixture(scope="module")
def made() -> Estimated:
    desk = small_desk(5, cases=300)
    records, model = records_of(desk.tallies, learnable(desk.playbook))
    return estimate(records, model, {}, {})


def cases(
    model: str | None, count: int, minutes: float, end: str = "resolved", step: str = "fix-0", **more: bool
) -> KeyedTally:
    result = "fixed" if end == "resolved" else "no-change"
    sign = Signature(attempts=(AttemptSign(step=step, result=result),), end=end, resolved_by=None)
    facts = {"model": model} if model else {}
    return replace(KeyedTally(sign, facts, False, count, seconds=round(60 * minutes * count)), **more)


def compared(made: Estimated, before: list[KeyedTally], after: list[KeyedTally]) -> ObservedEditions:
    found = observed_editions(made, before, after)
    assert found is not None
    return found


def test_a_better_edition_is_seen_as_such_though_it_met_the_harder_units(made: Estimated):
    before = [cases("K1", 100, 10), cases("K2", 50, 30)]
    after = [cases("K1", 50, 8), cases("K2", 100, 28)]
    found = compared(made, before, after)
    # As they came: 16.7 minutes before, 21.3 after. Of each sort half: 20 and 18.
    assert (found.cases_before, found.cases_after) == (150, 150)
    assert found.before.minutes.mean == pytest.approx(20)
    assert found.after.minutes.mean == pytest.approx(18)
    assert found.more.minutes.mean == pytest.approx(-2)
    assert found.passed_over == ("“Which model?” is K3",)


def test_shares_are_of_cases_and_the_interval_is_that_of_a_share(made: Estimated):
    found = compared(
        made,
        [cases("K1", 60, 10), cases("K1", 40, 10, "handed-off")],
        [cases("K1", 80, 10), cases("K1", 20, 10, "handed-off")],
    )
    assert found.before.resolved.mean == pytest.approx(0.6)
    assert found.after.handed_off.mean == pytest.approx(0.2)
    width = found.before.resolved.high - found.before.resolved.low
    assert width == pytest.approx(2 * 1.96 * np.sqrt(0.6 * 0.4 / 100), rel=0.12)
    assert found.more.resolved.low > 0


def test_a_case_of_an_unknown_unit_is_shared_out(made: Estimated):
    known = [cases("K1", 100, 10), cases("K2", 100, 20), cases("K3", 100, 30)]
    found = compared(made, [*known, cases(None, 60, 20)], known)
    assert found.passed_over == ()
    assert found.before.minutes.mean == pytest.approx(20, abs=1)


def test_logged_twice_counts_once_and_next_to_nothing_is_not_compared(made: Estimated):
    many = [cases("K1", 50, 10)]
    assert compared(made, many, [*many, cases("K1", 50, 90, is_double=True)]).more.minutes.mean == pytest.approx(0)
    assert observed_editions(made, many, [cases("K1", 19, 10)]) is None
    assert observed_editions(made, many, []) is None
