"""Deliberate faults put into the forecast: each must be caught by the comparison with the slow twin."""

import inspect
from functools import cache
from types import ModuleType

import pytest

from mildladder.core import forecast as sound
from tests.core.enumerator import enumerate_ladder
from tests.core.random_ladders import random_playbook
from tests.core.test_forecast import TOLERANCE, difference

# (what the forecast says, what the faulty one says)
FAULTS = [
    ("tally.harm += tried * rung.harm(done)", "tally.harm += reach * rung.harm(done)"),
    ("tally.harm += tried * rung.harm(done)", "tally.harm += tried * rung.harm(0)"),
    ("tally.harm += tried * rung.harm(done)", "tally.harm += tried * rung.harm(done | rung.bit)"),
    ("reach * rung.effort + tried * rung.retest_effort", "reach * rung.effort + reach * rung.retest_effort"),
    ("reach * rung.effort + tried * rung.retest_effort", "tried * rung.effort + tried * rung.retest_effort"),
    ("reach * rung.effort + tried * rung.retest_effort", "reach * rung.effort"),
    ("reach * rung.elapsed + tried * rung.retest_elapsed", "reach * rung.elapsed"),
    ("if done & rung.bit:", "if False:"),
    ("here = mass * rung.applies", "here = mass"),
    ("could_not = here * (1 - rung.step.done)", "could_not = here * 0"),
    ("mass - here + could_not", "mass - here"),
    ("mass - here + could_not", "could_not"),
    ("carried - cured", "carried"),
    ("cured = carried * rung.cures", "cured = here * rung.cures"),
    ("(done | rung.bit) & rung.matters_below", "done & rung.matters_below"),
    ("matters |= bits.get(hazard.eased_by or \"\", 0)", "matters |= 0"),
    ("matters |= bits[rung.step]", "matters |= 0"),
    ("step.effort.by, weights) + retest.wait * weights.wait", "\"desk\", weights) + retest.wait * weights.wait"),
    ("+ retest.wait * weights.wait", ""),
    ("retest = playbook.retest if step.is_tested else None", "retest = playbook.retest"),
    ("given_cause = left * extra", "given_cause = left * 0"),
    ("elapsed = left * (elapsed_minutes(hand_off.effort) if hand_off else 0.0)", "elapsed = left * 0"),
    ("effort=float(given_cause @ prior)", "effort=float(given_cause.mean())"),
    ("is not False for facts", "is True for facts in groups[:1] for _ in groups or facts"),
    ("resolved=ended if is_fix else 0.0", "resolved=ended"),
    ("hazard_points(step, h, True))", "hazard_points(step, h, False))"),
]  # fmt: skip
SEEDS = range(60)


@cache
def slow(seed: int) -> dict:
    """What the slow twin says of a seed's ladder."""
    return enumerate_ladder(random_playbook(seed))


def faulty(right: str, wrong: str) -> ModuleType:
    """The forecast module with one fault in it."""
    source = inspect.getsource(sound)
    assert right in source, f"the forecast no longer says: {right}"
    module = ModuleType("faulty_forecast")
    exec(compile(source.replace(right, wrong), "faulty_forecast", "exec"), module.__dict__)
    return module


@pytest.mark.parametrize(("right", "wrong"), FAULTS)
def test_a_fault_in_the_forecast_is_caught(right, wrong):
    module = faulty(right, wrong)
    gaps = (difference(module.forecast(random_playbook(seed)), slow(seed)) for seed in SEEDS)
    assert any(gap > TOLERANCE for gap in gaps)
