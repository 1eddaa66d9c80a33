"""Two editions at once, where the log cannot decide between them: a fair coin for each case, and a comparison that is
valid at every look (evidence, section 11; Waudby-Smith, Arbour, Sinha, Kennedy & Ramdas 2024; Ville 1939)."""

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping
from hashlib import blake2b
from typing import Literal, NamedTuple

import numpy as np
from scipy.special import betaln

from mildladder.core.figures.judgement import (
    SEVERITY_POINTS,
    UNDO_FACTORS,
    effort_minutes,
    elapsed_minutes,
    undo_factor,
)
from mildladder.core.model import Attempt, Case, Playbook, Shape, Step

__all__ = [
    "LEAST_CASES",
    "Arm",
    "Closed",
    "Ground",
    "Plan",
    "Running",
    "Stopped",
    "coin",
    "cost_of",
    "ground_of",
    "plan_of",
    "running",
]

Arm = Literal["a", "b"]
# Why it stopped: decided, no difference of the size that was looked for, not to be settled, or harm.
Stopped = Literal["decided", "no-difference", "not-settled", "harm"]

# Nothing is said before so many cases.
LEAST_CASES = 40
_ALPHA = 0.05
_MOST_TIMES_PLANNED = 3
_HARM_ODDS = 20.0
_BEFORE = 5
_CAP_QUANTILE, _CAP_TIMES = 0.975, 3.0
_SEVERE = 3
_RUNS = 2000


class Closed(NamedTuple):
    """A closed case of a trial. group: its sort of unit; cost: effort minutes with harm; is_severe: that harm of
    severity 3 or more was seen."""

    arm: Arm
    group: str
    cost: float
    is_severe: bool


class Ground(Shape):
    """What the log says of costs before a trial begins. means: of each sort of unit; mean: of all; variance: of costs
    about their sort's mean; cap: the most that a case may count."""

    means: dict[str, float]
    mean: float
    variance: float
    cap: float


class Plan(Shape):
    """What a trial will probably take. cases: planned; weeks: at the present rate; settled: the chance that it is
    settled by then, were the difference really that; worth: effort minutes a year that the answer is worth."""

    difference: float
    cases: int
    weeks: float
    settled: float
    worth: float


class Running(Shape):
    """How a trial stands after its closed cases. counts: of each; difference: of b less a, effort minutes a case, None
    before forty cases; low, high: hold it at every look with 95 %. capped: how many cases cost more than may count;
    harmed: cases with harm of severity 3 or more; stopped: why it stopped by itself, None while it runs; better: the
    edition that it stopped in favour of."""

    count_a: int
    count_b: int
    difference: float | None
    low: float | None
    high: float | None
    capped: int
    harmed_a: int
    harmed_b: int
    stopped: Stopped | None
    better: Arm | None


def coin(seed: str, case: str) -> Arm:
    """The edition of a case: fair, independent of every other case, the same each time that it is asked, and foreseen
    by nobody who has not the trial's secret seed."""
    return "b" if blake2b(case.encode(), key=seed.encode()[:64], digest_size=1).digest()[0] & 1 else "a"


def cost_of(playbook: Playbook, case: Case) -> tuple[float, bool]:
    """What a closed case cost in effort minutes, harm seen at the desk's rate, and whether harm was severe. An
    abandoned case costs its hand-off like one that was handed off."""
    steps = {step.id: step for step in playbook.steps}
    weights = playbook.policy.weights
    effort = harm = 0.0
    is_severe = False
    for attempt in case.attempts:
        if attempt.by == "before":
            continue
        step = steps.get(attempt.step)
        effort += _effort(attempt, step, playbook)
        for severity, points in _harms(attempt, step):
            harm += points
            is_severe = is_severe or severity >= _SEVERE
    team = playbook.default_hand_off
    if case.end in ("handed-off", "abandoned") and team is not None:
        effort += effort_minutes(team.effort, weights)
        effort += effort_minutes(team.theirs, weights) if team.theirs else 0.0
    return effort + playbook.policy.rate * harm, is_severe


def _effort(attempt: Attempt, step: Step | None, playbook: Playbook) -> float:
    """The judged effort, in proportion to the minutes that it really took."""
    weights = playbook.policy.weights
    if step is None:
        return (attempt.minutes or 0.0) * weights.desk
    judged, clock = effort_minutes(step.effort, weights), elapsed_minutes(step.effort)
    if attempt.minutes is None or attempt.outcome in ("skipped", "not-available"):
        return 0.0 if attempt.outcome in ("skipped", "not-available") else judged
    parts = step.effort.parts * weights.parts
    return (judged - parts) * attempt.minutes / clock + parts if clock else attempt.minutes * weights.desk + parts


def _harms(attempt: Attempt, step: Step | None) -> Iterable[tuple[int, float]]:
    """Severity and points of each harm that was seen; one that nobody had named weighs as a lost record does."""
    hazards = {hazard.kind: hazard for hazard in step.hazards} if step else {}
    for kind in attempt.harmed or ():
        hazard = hazards.get(kind)
        if hazard is None or step is None:
            yield _SEVERE, SEVERITY_POINTS[_SEVERE]
        else:
            undone = UNDO_FACTORS[hazard.undo] if hazard.undo else undo_factor(step)
            yield hazard.severity, undone * SEVERITY_POINTS[hazard.severity]


def ground_of(costs: Iterable[tuple[str, float]]) -> Ground | None:
    """What logged costs say, each with its sort of unit; None for fewer than forty."""
    by_group: dict[str, list[float]] = defaultdict(list)
    for group, cost in costs:
        by_group[group].append(cost)
    whole = np.array([cost for group in by_group.values() for cost in group])
    if len(whole) < LEAST_CASES:
        return None
    cap = float(_CAP_TIMES * np.quantile(whole, _CAP_QUANTILE))
    means = {name: float(np.minimum(own, cap).mean()) for name, own in by_group.items()}
    about = np.concatenate([np.minimum(own, cap) - means[name] for name, own in by_group.items()])
    return Ground(means=means, mean=float(np.minimum(whole, cap).mean()), variance=float(about.var()), cap=cap)


def plan_of(ground: Ground, difference: float, a_month: float) -> Plan:
    """How long a trial will probably take to find a difference of that size. difference: effort minutes a case, above
    0; a_month: cases that begin a month."""
    spread = 4 * ground.variance
    cases = max(LEAST_CASES, math.ceil(_width_factor() * spread / difference**2))
    return Plan(
        difference=difference,
        cases=cases,
        weeks=cases / a_month * 52 / 12 if a_month > 0 else math.inf,
        settled=_settled(spread, difference, cases),
        worth=difference * a_month * 12,
    )


def _width_factor() -> float:
    """(half width)² · n / v at the planned number of cases."""
    c = _planned_rho()
    return 2 * (c + 1) / c * math.log(math.sqrt(c + 1) / _ALPHA)


def _planned_rho() -> float:
    """n* · ρ²: the interval is narrowest, for its level, at the planned number."""
    return -2 * math.log(_ALPHA) + math.log(1 - 2 * math.log(_ALPHA))


def _settled(spread: float, difference: float, cases: int) -> float:
    """The chance that the interval leaves 0 by the planned number of cases, by 2,000 runs of normal steps."""
    rng = np.random.default_rng(0)
    looks = np.unique(np.linspace(LEAST_CASES, cases, 200).round().astype(int))
    steps = np.diff(np.concatenate([[0], looks]))
    drawn = rng.normal(difference * steps, np.sqrt(spread * steps), (_RUNS, len(looks))).cumsum(axis=1)
    width = np.array([half_width(int(n), spread, cases) for n in looks])
    return float((np.abs(drawn / looks) > width).any(axis=1).mean())


def half_width(n: int, variance: float, planned: int) -> float:
    """Half the width of the interval after n cases; it holds the difference at every n at once."""
    rho = _planned_rho() / planned
    inner = n * rho + 1
    return math.sqrt(variance * 2 * inner / (n * n * rho) * math.log(math.sqrt(inner) / _ALPHA))


def running(ground: Ground, difference: float, planned: int, closed: Iterable[Closed]) -> Running:
    """How a trial stands, and whether it has stopped at one of the looks after each closed case. What was closed after
    it stopped changes nothing."""
    means = _Means(ground)
    counts = {"a": 0, "b": 0}
    harmed = {"a": 0, "b": 0}
    capped = 0
    total = squares = 0.0
    shown: tuple[float, float, float] | None = None
    stopped: tuple[Stopped, Arm | None] | None = None
    for one in closed:
        cost = min(one.cost, ground.cap)
        capped += one.cost > ground.cap
        sign = 1 if one.arm == "b" else -1
        phi = 2 * sign * (cost - means.of(one.group))
        means.add(one.group, cost)
        counts[one.arm] += 1
        harmed[one.arm] += one.is_severe
        total, squares = total + phi, squares + phi * phi
        n = counts["a"] + counts["b"]
        if n >= LEAST_CASES:
            mean = total / n
            variance = max(squares / n - mean * mean, 0.0)
            width = half_width(n, variance, planned)
            shown = mean, mean - width, mean + width
        stopped = _stops(shown, difference, planned, n, harmed)
        if stopped is not None:
            break
    difference_now, low, high = shown or (None, None, None)
    return Running(
        count_a=counts["a"],
        count_b=counts["b"],
        difference=difference_now,
        low=low,
        high=high,
        capped=capped,
        harmed_a=harmed["a"],
        harmed_b=harmed["b"],
        stopped=stopped[0] if stopped else None,
        better=stopped[1] if stopped else None,
    )


class _Means:
    """The mean cost so far of each sort of unit: five cases at its mean in the log to begin with."""

    def __init__(self, ground: Ground) -> None:
        self.ground = ground
        self.sums: Mapping[str, list[float]] = defaultdict(lambda: [0.0, 0.0])

    def of(self, group: str) -> float:
        """Known before the case itself is."""
        count, total = self.sums[group]
        first = self.ground.means.get(group, self.ground.mean)
        return (_BEFORE * first + total) / (_BEFORE + count)

    def add(self, group: str, cost: float) -> None:
        """One case more."""
        own = self.sums[group]
        own[0] += 1
        own[1] += cost


def _stops(
    shown: tuple[float, float, float] | None, difference: float, planned: int, n: int, harmed: Mapping[str, int]
) -> tuple[Stopped, Arm | None] | None:
    a, b = harmed["a"], harmed["b"]
    if a + b and math.exp((a + b) * math.log(2) + float(betaln(a + 1, b + 1))) >= _HARM_ODDS:
        return "harm", "a" if b > a else "b"
    if shown is None:
        return None
    _, low, high = shown
    if low > 0 or high < 0:
        return "decided", "a" if low > 0 else "b"
    if -difference <= low and high <= difference:
        return "no-difference", None
    return ("not-settled", None) if n >= _MOST_TIMES_PLANNED * planned else None
