"""Two editions at once: the coin, the costs, the interval at every look, and when it stops."""

import math
from collections import Counter

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mildladder.core.advice.side_by_side import (
    LEAST_CASES,
    Closed,
    Ground,
    coin,
    cost_of,
    ground_of,
    half_width,
    plan_of,
    running,
)
from mildladder.core.model import Case
from tests.core.advice.trials import GROUPS, trials
from tests.samples import case, gate

GROUND = Ground(means={"K1": 20.0}, mean=20.0, variance=100.0, cap=200.0)


def closed(*costs: float, arm: str = "a", group: str = "K1", is_severe: bool = False) -> list[Closed]:
    return [Closed(arm, group, cost, is_severe) for cost in costs]  # type: ignore[arg-type]


def test_the_coin_is_fair_in_each_sort_of_unit_repeats_and_hangs_on_a_secret():
    for group in GROUPS:
        thrown = Counter(coin("secret", f"{group} {number}") for number in range(4000))
        assert abs(thrown["a"] - 2000) < 3 * math.sqrt(1000)
    both = [(coin("secret", f"case {n}"), coin("another", f"case {n}")) for n in range(4000)]
    assert [one for one, _ in both] == [coin("secret", f"case {n}") for n in range(4000)]
    assert abs(sum(one == other for one, other in both) - 2000) < 3 * math.sqrt(1000)
    runs = Counter((coin("secret", f"case {n}"), coin("secret", f"case {n + 1}")) for n in range(4000))
    assert min(runs.values()) > 900, "the case before says nothing of the next"


def test_where_there_is_no_difference_none_is_found_and_a_fifth_is():
    alike, cheaper = trials(range(60), 1.0, 1.0), trials(range(60), 1.0, 0.8)
    assert alike.decided <= 3
    assert cheaper.rightly >= 54
    assert cheaper.decided == cheaper.rightly


def by_hand(costs: list[Closed], planned: int) -> tuple[float, float]:
    """The difference and its half width, straight from the formulas."""
    seen: dict[str, list[float]] = {}
    phis = []
    for arm, group, cost, _ in costs:
        own = seen.setdefault(group, [GROUND.means.get(group, GROUND.mean)] * 5)
        phis.append(2 * (1 if arm == "b" else -1) * (min(cost, GROUND.cap) - sum(own) / len(own)))
        own.append(min(cost, GROUND.cap))
    n = len(phis)
    mean = sum(phis) / n
    variance = sum(one * one for one in phis) / n - mean * mean
    rho2 = (-2 * math.log(0.05) + math.log(1 - 2 * math.log(0.05))) / planned
    width = math.sqrt(variance) * math.sqrt(
        2 * (n * rho2 + 1) / (n * n * rho2) * math.log(math.sqrt(n * rho2 + 1) / 0.05)
    )
    return mean, width


@given(
    st.lists(
        st.tuples(st.sampled_from("ab"), st.sampled_from(["K1", "K2"]), st.floats(0, 400)), min_size=40, max_size=80
    )
)
def test_the_interval_is_that_of_the_formula(rows):
    costs = [Closed(arm, group, cost, False) for arm, group, cost in rows]
    made = running(GROUND, 1e-9, 10**6, costs)
    if made.stopped is None:
        mean, width = by_hand(costs, 10**6)
        assert made.difference == pytest.approx(mean, abs=1e-6)
        assert made.high == pytest.approx(mean + width, rel=1e-6, abs=1e-6)


def test_nothing_is_said_before_forty_cases_and_what_comes_after_the_end_changes_nothing():
    far = [*closed(*([10.0] * 20)), *closed(*([100.0] * 19), arm="b")]
    assert running(GROUND, 5, 100, far).difference is None
    more = [*far, *closed(100.0, arm="b")]
    made = running(GROUND, 5, 100, more)
    assert (made.stopped, made.better, made.count_a + made.count_b) == ("decided", "a", 40)
    assert running(GROUND, 5, 100, [*more, *closed(*([1.0] * 500), arm="b")]) == made


def test_it_stops_where_there_is_nothing_of_that_size_and_where_it_cannot_be_settled():
    alike = [one for n in range(200) for one in closed(19.0 + n % 3, arm="ab"[n % 2])]
    assert running(GROUND, 4, 100, alike).stopped == "no-difference"
    wild = [one for n in range(130) for one in closed(0.0 if n % 4 < 2 else 190.0, arm="ab"[n % 2])]
    assert running(GROUND, 4, 43, wild).stopped == "not-settled"


def test_harm_on_one_side_stops_it_within_eight_cases_and_even_harm_never():
    severe = closed(*([20.0] * 8), arm="b", is_severe=True)
    assert running(GROUND, 5, 1000, severe[:7]).stopped is None
    made = running(GROUND, 5, 1000, severe)
    assert (made.stopped, made.better, made.harmed_b) == ("harm", "a", 8)
    even = [one for n in range(60) for one in closed(20.0 + n // 2 % 3, arm="ab"[n % 2], is_severe=True)]
    assert running(GROUND, 1e-9, 10**6, even).stopped is None


def test_a_cost_beyond_the_cap_counts_as_the_cap_and_is_told():
    usual = [one for n in range(40) for one in closed(20.0 + n // 2 % 3, arm="ab"[n % 2])]
    made = running(GROUND, 1e-9, 10**6, [*usual, *closed(9e9, arm="b")])
    assert made.capped == 1
    assert made.difference is not None
    assert made.difference < 2 * 180 / 41 + 1


def test_what_is_planned_follows_from_the_spread_and_what_is_looked_for():
    plan = plan_of(GROUND, 5.0, 100)
    # 9.21 times four times the variance, by the difference squared.
    assert plan.cases == math.ceil(9.212493615260833 * 400 / 25)
    assert plan.weeks == pytest.approx(plan.cases / 100 * 52 / 12)
    assert plan.worth == 5 * 100 * 12
    assert 0.5 < plan.settled < 0.8
    assert half_width(plan.cases, 400, plan.cases) == pytest.approx(5.0, rel=0.01)
    assert plan_of(GROUND, 500.0, 100).cases == LEAST_CASES
    assert plan_of(GROUND, 5.0, 0).weeks == math.inf


def test_the_log_before_says_means_spread_and_cap():
    ground = ground_of([("K1", 10.0), ("K1", 30.0), ("K2", 50.0)] * 20)
    assert ground is not None
    assert ground.means == {"K1": 20.0, "K2": 50.0}
    assert ground.variance == pytest.approx((100 * 40 + 0 * 20) / 60)
    assert ground.cap == 150
    assert ground_of([("K1", 1.0)] * 39) is None


def cost(**changes: object) -> tuple[float, bool]:
    data = case(1).model_dump(mode="json", exclude_unset=True) | changes
    return cost_of(gate(), Case.model_validate(data))


def test_a_case_costs_the_minutes_that_it_took_the_harm_that_was_seen_and_its_hand_off():
    playbook = gate()
    step = playbook.step("clear-hold")
    weights = playbook.policy.weights
    judged = step.effort.hands_on * getattr(weights, step.effort.by) + step.effort.wait * weights.wait
    tried = {"step": "clear-hold", "outcome": "no-change"}
    handed = cost(attempts=[])[0]
    assert cost(attempts=[tried])[0] - handed == pytest.approx(judged)
    clock = step.effort.hands_on + step.effort.wait + step.effort.travel
    assert cost(attempts=[{**tried, "minutes": 3 * clock}])[0] - handed == pytest.approx(3 * judged)
    assert cost(attempts=[{**tried, "by": "before", "outcome": "no-change"}])[0] == handed
    assert cost(attempts=[{**tried, "outcome": "skipped"}])[0] == handed
    assert cost(attempts=[], end="abandoned")[0] == handed, "an abandoned case costs its hand-off"
    assert cost(attempts=[], end="self-cleared")[0] == 0
    harmed = cost(attempts=[{**tried, "harmed": ["data"]}])
    assert harmed[1], "a harm that nobody had named weighs as a lost record does"
    assert harmed[0] - handed == pytest.approx(judged + 10 * playbook.policy.rate)
