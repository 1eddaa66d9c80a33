"""Cases a month, as the log of a desk has them, folded months and all."""

import random
from datetime import timedelta

import pytest

from mildladder.desk.advice.following import pace
from mildladder.store.log.counting import folded_until
from mildladder.store.log.tallies import fold
from mildladder.store.log.writing import Logging, log_cases
from tests.conftest import LEAD_ID
from tests.core.evidence.test_pace import slow_twin_at
from tests.samples import NOON, case

ID = "gate-arm-up"


@pytest.mark.parametrize("seed", range(8))
def test_it_is_what_the_logged_cases_say_one_by_one(desk, seed):
    rng = random.Random(seed)
    longest = rng.choice([20, 40, 200, 500])
    ages = [rng.uniform(0, longest) for _ in range(rng.choice([3, 60]))]
    made = [case(n, ("clear-hold", "fixed"), days_ago=age) for n, age in enumerate(ages)]
    other = case(999, ("clear-hold", "fixed"), days_ago=600, symptom="another")
    with desk.writing() as session:
        log_cases(session, [*made, other], Logging("import", LEAD_ID, NOON, 14))
        fold(session, (NOON - timedelta(days=rng.choice([0, 3, 90]))).date(), 14)
    with desk.reading() as session:
        found = pace(session, ID, NOON.date())
        twin = slow_twin_at([one.closed.date() for one in made], folded_until(session), NOON.date())
    assert found.a_month == pytest.approx(twin)


def test_a_symptom_without_cases_has_none_a_month(desk):
    with desk.reading() as session:
        assert pace(session, ID, NOON.date()).a_month == 0
