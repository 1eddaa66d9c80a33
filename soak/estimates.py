"""The estimate on desks whose truth is known: whether its intervals hold it, with guesses that are right and wrong."""

from collections import defaultdict
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
from scipy.special import chdtrc

from mildladder.core.evidence.estimate import estimate, first
from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.records import records_of
from mildladder.core.ladder.units import fact_types, on_unit
from mildladder.core.model import Case, Playbook
from mildladder.demo.desk import playbooks
from mildladder.demo.faults import Fleet, new_fault
from mildladder.demo.simulate import PERIOD, simulate
from mildladder.demo.truth import TRUTHS
from mildladder.desk.evidence.measuring import measure
from tests.core.advice.grounds import with_wrong_guesses
from tests.core.evidence.desks import Desk, small_desk

DESKS = 100
_BINS = 10
_UNTIL = datetime(2026, 3, 1, tzinfo=UTC)
_FAULTS = 3_000

Figure = dict[str, float]


def _figures(desk: Desk, playbook: Playbook | None = None) -> list[Figure]:
    """Of each step with a figure: truth, interval, errors, where it stands, and the truth's rank among the draws."""
    records, model = records_of(desk.tallies, learnable(playbook or desk.playbook))
    made = estimate(records, model, {step: tried for step, (_, tried) in desk.raw.items()}, {})
    found = []
    for place, one in enumerate(made.estimate.steps):
        if one.refused or one.first.mean is None or one.first.low is None or one.first.high is None:
            continue
        truth = desk.first(one.step)
        resolved, tried = desk.raw.get(one.step, (0, 0))
        found.append(
            {
                "place": place,
                "held": float(one.first.low <= truth <= one.first.high),
                "width": one.first.high - one.first.low,
                "error": abs(one.first.mean - truth),
                "raw_error": abs(resolved / tried - truth) if tried else np.nan,
                "rank": float((first(model, one.step, made.chances) < truth).mean()),
            }
        )
    return found


def _right(seed: int) -> list[Figure]:
    return _figures(small_desk(seed, is_flat=seed % 2 == 1, before=0.3 if seed % 4 == 2 else 0.0))


def _wrong(seed: int) -> list[Figure]:
    """Every guess of the lead is off by 3 in odds, one way or the other."""
    desk = small_desk(seed, is_flat=seed % 2 == 1)
    return _figures(desk, with_wrong_guesses(desk.playbook, seed))


def _tried_before(seed: int) -> list[Figure]:
    return _figures(small_desk(seed, is_flat=seed % 2 == 1, before=0.6))


def _unlisted(seed: int) -> list[Figure]:
    """A cause of about a fifth of all cases that the lead does not know."""
    desk = small_desk(seed, is_flat=True)
    unknown = desk.playbook.causes[-1].id
    steps = tuple(
        step.model_copy(update={"fixes": {cause: one for cause, one in step.fixes.items() if cause != unknown}})
        for step in desk.playbook.steps
    )
    known = desk.playbook.model_copy(update={"steps": steps, "causes": desk.playbook.causes[:-1]})
    return _figures(replace(desk, playbook=known), known)


def _of(make: Callable[[int], list[Figure]], desks: int) -> list[Figure]:
    with ProcessPoolExecutor() as pool:
        return [one for found in pool.map(make, range(desks)) for one in found]


def _summary(found: list[Figure]) -> dict[str, Any]:
    by_place: dict[int, list[float]] = defaultdict(list)
    for one in found:
        by_place[int(one["place"])].append(one["held"])
    half = (max(by_place) + 1) / 2
    low = [one for one in found if one["place"] >= half and not np.isnan(one["raw_error"])]
    counts = np.histogram([one["rank"] for one in found], bins=_BINS, range=(0, 1))[0]
    even = len(found) / _BINS
    return {
        "figures": len(found),
        "coverage": round(float(np.mean([one["held"] for one in found])), 4),
        "least_coverage_of_a_rung": round(min(float(np.mean(held)) for held in by_place.values()), 4),
        "mean_width": round(float(np.mean([one["width"] for one in found])), 4),
        "mean_error": round(float(np.mean([one["error"] for one in found])), 4),
        "error_to_raw_in_the_lower_half": round(
            float(np.mean([one["error"] for one in low]) / np.mean([one["raw_error"] for one in low])), 4
        ),
        "ranks": counts.tolist(),
        "ranks_flat_p": round(float(chdtrc(_BINS - 1, float(((counts - even) ** 2 / even).sum()))), 4),
    }


def prove() -> tuple[dict[str, Any], bool]:
    """Evidence, section 10: coverage with right guesses and wrong ones, with tries before the call, an unlisted cause,
    and on the demo's own ladders."""
    figures = {
        "desks": DESKS,
        "right": _summary(_of(_right, DESKS)),
        "wrong_by_3": _summary(_of(_wrong, DESKS)),
        "tried_before": _summary(_of(_tried_before, DESKS)),
        "unlisted_cause": _summary(_of(_unlisted, DESKS // 2)),
        "demo": _demo(),
    }
    right = figures["right"]
    held = (
        0.91 <= right["coverage"] <= 0.97
        and right["least_coverage_of_a_rung"] >= 0.86
        and right["ranks_flat_p"] > 0.01
        and right["mean_width"] <= 0.12
        and right["error_to_raw_in_the_lower_half"] <= 1 / 3
        and figures["wrong_by_3"]["coverage"] >= 0.85
        and figures["wrong_by_3"]["mean_error"] < 0.025
        and figures["tried_before"]["coverage"] >= 0.87
    )
    return figures, held


def _demo() -> dict[str, Any]:
    """How often the interval holds what is really so on the demo's ladders, which have rails, states and trials."""
    known = {playbook.id: playbook for playbook in playbooks()}
    by_symptom: dict[str, list[Case]] = defaultdict(list)
    causes: dict[str, list[str]] = defaultdict(list)
    for one in simulate(known, TRUTHS, 6_000, _UNTIL, 11):
        by_symptom[one.case.symptom].append(one.case)
        causes[one.case.symptom].append(one.cause)
    held: list[float] = []
    errors: list[float] = []
    for symptom, cases in sorted(by_symptom.items()):
        truths = _truths(known[symptom], causes[symptom])
        for step in measure(known[symptom], cases).steps:
            rate = step.first
            if step.step in truths and rate.mean is not None and rate.low is not None and rate.high is not None:
                held.append(float(rate.low <= truths[step.step] <= rate.high))
                errors.append(abs(rate.mean - truths[step.step]))
    return {
        "figures": len(held),
        "coverage": round(float(np.mean(held)), 4),
        "mean_error": round(float(np.mean(errors)), 4),
    }


def _truths(playbook: Playbook, logged: list[str]) -> dict[str, float]:
    """How often each step that every unit comes to would end the fault first, with causes as they were logged."""
    rng, model = np.random.default_rng(5), learnable(playbook)
    whole = [step for step in model.steps if len(model.groups_of(step)) == len(model.groups)]
    truths = {playbook.id: TRUTHS[playbook.id]}
    fleets = {playbook.id: Fleet(truths[playbook.id])}
    types = fact_types(playbook)
    chances: dict[tuple[str, str], list[float]] = defaultdict(list)
    for _ in range(_FAULTS):
        opened = _UNTIL - PERIOD * float(rng.random())
        fault = new_fault({playbook.id: playbook}, fleets, _UNTIL - PERIOD, opened - timedelta(), rng)
        for step in whole:
            on = on_unit(playbook.step(step), fault.facts, types)
            chances[step, fault.cause].append(fault.cure_chance(playbook, on))
    return {
        step: float(np.mean([np.mean(chances[step, cause]) for cause in logged if chances[step, cause]]))
        for step in whole
    }
