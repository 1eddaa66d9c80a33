"""What a ladder costs and ends, worked out exactly before anyone climbs it (method, section 3).

No simulation: mass flows down the rungs, split only where something differs, and like states are merged.
Mass is kept per unit group and cause, so the figures for each cause fall out of the same pass.
The value function is that of decision-theoretic troubleshooting (Heckerman, Breese & Rommelse 1995) for a fixed order.
"""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import product

import numpy as np

from mildladder.core.causes import FloatArray, all_causes, cure_chances, priors
from mildladder.core.conditions import evaluate, parse
from mildladder.core.errors import BadInput
from mildladder.core.judgement import effort_minutes, elapsed_minutes, hands_on_minutes, hazard_points
from mildladder.core.model import Playbook, Shape, Step

__all__ = ["Forecast", "RungForecast", "forecast", "unit_groups"]

_MOST_STATES = 20_000


class RungForecast(Shape):
    """Figures of one rung, as shares of, or means over, all cases of the symptom.

    arriving: share still unresolved above it; reach: share for which its step comes up; effort in effort minutes,
    harm in harm points, both a case.
    """

    step: str
    arriving: float
    reach: float
    resolved: float
    worked_around: float
    effort: float
    harm: float


class Forecast(Shape):
    """Figures of a whole ladder a case: means of effort minutes, harm points and clock minutes, and shares of ends."""

    effort: float
    harm: float
    elapsed: float
    resolved: float
    worked_around: float
    handed_off: float
    sent_on: float
    rungs: tuple[RungForecast, ...]
    by_cause: dict[str, float]


@dataclass(frozen=True)
class _Rung:
    """A rung made ready for numbers. `bit`: its step in the set of steps done; `applies`: shape (G, 1), 0 or 1."""

    step: Step
    bit: int
    applies: FloatArray
    cures: FloatArray
    effort: float
    elapsed: float
    retest_effort: float
    retest_elapsed: float
    hazards: tuple[tuple[int, float, float], ...]
    matters_below: int

    def harm(self, done: int) -> float:
        """Harm points of carrying it out once the steps in `done` have been carried out."""
        return sum(eased if done & guard else bare for guard, bare, eased in self.hazards)


@dataclass
class _Tally:
    """What one rung adds up, each of shape (K,): given the cause, a mean over the unit groups."""

    count: int
    arriving: FloatArray = field(init=False)
    reach: FloatArray = field(init=False)
    ended: FloatArray = field(init=False)
    effort: FloatArray = field(init=False)
    elapsed: FloatArray = field(init=False)
    harm: FloatArray = field(init=False)

    def __post_init__(self) -> None:
        for name in ("arriving", "reach", "ended", "effort", "elapsed", "harm"):
            setattr(self, name, np.zeros(self.count))


def forecast(playbook: Playbook) -> Forecast:
    """The exact figures of the playbook's ladder as it stands.

    Raises BadInput for weights that sum to 0, for a condition that cannot be read, and for steps that hang together
    in too many ways.
    """
    causes = all_causes(playbook)
    prior = priors(causes)
    groups = unit_groups(playbook)
    share = np.array([weight for _, weight in groups])[:, None]
    states: dict[int, FloatArray] = {0: np.repeat(share, len(causes), axis=1)}
    tallies = []
    rungs = list(_ready(playbook, [facts for facts, _ in groups]))
    for rung in rungs:
        tally = _Tally(len(causes))
        states = _climb(rung, states, tally)
        tallies.append(tally)
    left = sum((mass.sum(axis=0) for mass in states.values()), np.zeros(len(causes)))
    return _figures(playbook, rungs, tallies, left, prior)


def unit_groups(playbook: Playbook) -> list[tuple[dict[str, str], float]]:
    """Unit groups with their shares: every combination of values of the facts that some condition looks at."""
    asked = {parse(rung.when).fact for rung in playbook.ladder if rung.when}
    facts = [fact for fact in playbook.facts if fact.id in asked]
    groups = []
    for values in product(*(fact.choices.items() for fact in facts)):
        weight = float(np.prod([share for _, share in values]))
        groups.append(({fact.id: value for fact, (value, _) in zip(facts, values, strict=True)}, weight))
    return groups


def _ready(playbook: Playbook, groups: list[dict[str, str]]) -> Iterator[_Rung]:
    weights = playbook.policy.weights
    steps = {step.id: step for step in playbook.steps}
    bits = {step_id: 1 << number for number, step_id in enumerate(steps)}
    causes = all_causes(playbook)
    for place, rung in enumerate(playbook.ladder):
        step = steps[rung.step]
        holds = [rung.when is None or evaluate(parse(rung.when), facts) is not False for facts in groups]
        retest = playbook.retest if step.is_tested else None
        yield _Rung(
            step=step,
            bit=bits[step.id],
            applies=np.array(holds, dtype=float)[:, None],
            cures=cure_chances(step, causes) if step.is_tested else np.zeros(len(causes)),
            effort=effort_minutes(step.effort, weights),
            elapsed=elapsed_minutes(step.effort),
            retest_effort=hands_on_minutes(retest.hands_on, step.effort.by, weights) + retest.wait * weights.wait
            if retest
            else 0.0,
            retest_elapsed=retest.hands_on + retest.wait if retest else 0.0,
            hazards=tuple(
                (bits.get(h.eased_by or "", 0), hazard_points(step, h, False), hazard_points(step, h, True))
                for h in step.hazards
            ),
            matters_below=_matters(playbook, steps, bits, place + 1),
        )


def _matters(playbook: Playbook, steps: dict[str, Step], bits: dict[str, int], start: int) -> int:
    """The steps whose having been done can still change something at rung `start` or below it."""
    matters = 0
    for rung in playbook.ladder[start:]:
        matters |= bits[rung.step]
        for hazard in steps[rung.step].hazards:
            matters |= bits.get(hazard.eased_by or "", 0)
    return matters


def _climb(rung: _Rung, states: dict[int, FloatArray], tally: _Tally) -> dict[int, FloatArray]:
    """Take every state over one rung: rules 1 to 6 of method, section 3. Masses have shape (G, K)."""
    below: dict[int, FloatArray] = defaultdict(lambda: np.zeros_like(next(iter(states.values()))))
    for done, mass in states.items():
        tally.arriving += mass.sum(axis=0)
        if done & rung.bit:
            below[done & rung.matters_below] += mass
            continue
        here = mass * rung.applies
        could_not = here * (1 - rung.step.done)
        carried = here - could_not
        cured = carried * rung.cures
        reach, tried = here.sum(axis=0), carried.sum(axis=0)
        tally.reach += reach
        tally.effort += reach * rung.effort + tried * rung.retest_effort
        tally.elapsed += reach * rung.elapsed + tried * rung.retest_elapsed
        tally.harm += tried * rung.harm(done)
        tally.ended += cured.sum(axis=0)
        below[done & rung.matters_below] += mass - here + could_not
        below[(done | rung.bit) & rung.matters_below] += carried - cured
    if len(below) > _MOST_STATES:
        raise BadInput(
            f"from '{rung.step.id}' on, steps that may or may not be done hang together in too many ways to be worked"
            " out; let fewer steps stand twice, or fewer safeguards be uncertain",
            path="ladder",
        )
    return {done: mass for done, mass in below.items() if mass.any()}


def _figures(
    playbook: Playbook, rungs: list[_Rung], tallies: list[_Tally], left: FloatArray, prior: FloatArray
) -> Forecast:
    hand_off = playbook.default_hand_off
    extra = effort_minutes(hand_off.effort, playbook.policy.weights) if hand_off else 0.0
    given_cause = left * extra + sum((tally.effort for tally in tallies), np.zeros(len(prior)))
    elapsed = left * (elapsed_minutes(hand_off.effort) if hand_off else 0.0)
    elapsed = elapsed + sum((tally.elapsed for tally in tallies), np.zeros(len(prior)))
    figures = [_rung_figures(rung, tally, prior) for rung, tally in zip(rungs, tallies, strict=True)]
    causes = all_causes(playbook)
    return Forecast(
        effort=float(given_cause @ prior),
        harm=sum(rung.harm for rung in figures),
        elapsed=float(elapsed @ prior),
        resolved=sum(rung.resolved for rung in figures),
        worked_around=sum(rung.worked_around for rung in figures),
        handed_off=float(left @ prior),
        sent_on=0.0,
        rungs=tuple(figures),
        by_cause={cause.id: float(minutes) for cause, minutes in zip(causes, given_cause, strict=True)},
    )


def _rung_figures(rung: _Rung, tally: _Tally, prior: FloatArray) -> RungForecast:
    ended = float(tally.ended @ prior)
    is_fix = rung.step.kind == "fix"
    return RungForecast(
        step=rung.step.id,
        arriving=float(tally.arriving @ prior),
        reach=float(tally.reach @ prior),
        resolved=ended if is_fix else 0.0,
        worked_around=0.0 if is_fix else ended,
        effort=float(tally.effort @ prior),
        harm=float(tally.harm @ prior),
    )
