"""A ladder on the logged cases, held against the same reading done case by case, cause by cause."""

from dataclasses import replace

import numpy as np
import pytest

from mildladder.core.advice.replay import replay
from mildladder.core.errors import BadInput
from mildladder.core.evidence.estimate import Estimated, on_units
from mildladder.core.evidence.forward import Told
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.figures.drawn import cost_by_cause, drawn_forecast
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Cause, Playbook
from tests.core.advice.grounds import grounds_of
from tests.core.evidence.desks import Desk, small_desk


@pytest.fixture(scope="module")
def desk() -> Desk:
    made = small_desk(3, cases=400)
    months = ("2026-01", "2026-02")
    return replace(made, tallies=[replace(one, month=months[n % 2]) for n, one in enumerate(made.tallies)])


@pytest.fixture(scope="module")
def known(desk: Desk) -> Estimated:
    """As if the cases had left but one set of chances open: what is really so."""
    return replace(grounds_of(desk).made, chances=desk.truth, model=desk.model)


def test_what_a_cause_costs_adds_up_to_the_forecast(desk: Desk):
    units = on_units(desk.model, desk.truth)
    whole = drawn_forecast(desk.playbook, units)
    for name in ("effort", "harm", "handed_off"):
        added = sum((unit.mass * getattr(cost_by_cause(desk.playbook, unit), name)).sum() for unit in units)
        assert added == pytest.approx(getattr(whole, name)[0], rel=1e-12)


def by_hand(desk: Desk, ladder: Playbook, tally: KeyedTally) -> tuple[float, np.ndarray]:
    """The effort of a case on a ladder, and how likely it is of each sort of unit: every unit and cause by itself."""
    truth, model = desk.truth, desk.model
    weights = np.zeros((len(model.groups), len(model.causes)))
    costs = np.zeros_like(weights)
    for g, unit in enumerate(on_units(model, truth)):
        if any(tally.facts.get(fact, value) != value for fact, value in model.groups[g].facts.items()):
            continue
        for k in range(len(model.causes)):
            likely = truth.shares[g, 0] * truth.causes[g, k, 0]
            failed = {}
            trials: dict[object, list[float]] = {}
            for place, one in enumerate(tally.signature.attempts):
                if one.result == "found":
                    at = 0 if one.finding == "left" else 1
                    likely *= truth.findings[0][at, k, 0]
                elif one.result in ("fixed", "no-change"):
                    cure = truth.cures[model.source(one.step, g, {}), k, 0]
                    if one.result == "no-change":
                        failed[one.step] = 1 - cure
                    else:
                        trials.setdefault(one.trial or f"own {place}", []).append(1 - cure)
            likely *= np.prod(list(failed.values()) or [1.0])
            for not_ended in trials.values():
                likely *= 1 - (1 - truth.clears[0]) * np.prod(not_ended)
            weights[g, k] = likely
            alone = np.zeros_like(unit.mass)
            alone[k] = 1
            costs[g, k] = drawn_forecast(ladder, [replace(unit, mass=alone)]).effort[0]
    weights /= weights.sum()
    return float((weights * costs).sum()), weights.sum(axis=1)


def test_replay_is_the_sum_of_what_each_case_would_have_come_to(desk: Desk, known: Estimated):
    other = reordered(desk.playbook, list(range(len(desk.playbook.ladder)))[::-1])
    made = replay(known, desk.tallies, other, desk.playbook, Told())
    read = [(tally, *by_hand(desk, other, tally)) for tally in desk.tallies]
    before = [by_hand(desk, desk.playbook, tally)[0] for tally in desk.tallies]
    counts = np.array([tally.count for tally in desk.tallies])
    efforts = np.array([effort for _, effort, _ in read])
    assert made.cases == counts.sum()
    assert made.ladder.effort.mean == pytest.approx((counts * efforts).sum() / counts.sum(), rel=1e-9)
    assert made.less is not None
    spared = (counts * (np.array(before) - efforts)).sum() / counts.sum()
    assert made.less.effort.mean == pytest.approx(spared, rel=1e-9, abs=1e-9)
    for part in made.months:
        mine = np.array([tally.month == part.says for tally in desk.tallies])
        assert part.cases == pytest.approx(counts[mine].sum())
        assert part.ladder.effort.mean == pytest.approx((counts * efforts)[mine].sum() / counts[mine].sum(), rel=1e-9)
    likely = sum(count * groups for count, (_, _, groups) in zip(counts, read, strict=True))
    assert [part.cases for part in made.units] == pytest.approx(list(likely))


def test_the_ladder_against_itself_spares_nothing_and_units_are_told_in_words(desk: Desk, known: Estimated):
    made = replay(known, desk.tallies, desk.playbook, desk.playbook, Told())
    assert made.less is not None
    assert made.against is not None
    assert made.less.effort.low == made.less.effort.high == 0
    assert [part.says for part in made.units] == [
        "“Which model?” is K1",
        "“Which model?” is K2",
        "“Which model?” is K3",
    ]
    assert sum(part.cases * part.ladder.effort.mean for part in made.months) == pytest.approx(
        made.cases * made.ladder.effort.mean
    )


def test_a_cause_that_only_one_of_two_ladders_knows_does_no_harm(desk: Desk, known: Estimated):
    first, *others = desk.playbook.causes
    fewer = desk.playbook.model_copy(
        update={
            "causes": (*others, Cause(id="new", title="New", layer=first.layer, weight=1)),
            "steps": tuple(
                step.model_copy(update={"fixes": {c: one for c, one in step.fixes.items() if c != first.id}})
                for step in desk.playbook.steps
            ),
        }
    )
    made = replay(known, desk.tallies, fewer, desk.playbook, Told())
    assert made.less is not None
    assert made.less.handed_off.mean < 0


def test_it_covers_what_the_cases_really_came_to(desk: Desk):
    made = replay(grounds_of(desk).made, desk.tallies, desk.playbook, None, Told())
    really = drawn_forecast(desk.playbook, on_units(desk.model, desk.truth))
    assert made.against is None
    assert made.less is None
    assert made.ladder.effort.low < really.effort[0] * 1.05
    assert made.ladder.effort.high > really.effort[0] * 0.95


def test_chances_that_come_to_nothing_or_to_certainty_give_figures_all_the_same(desk: Desk, known: Estimated):
    cures = known.chances.cures.copy()
    cures[cures > 0.5] = 1.0
    found = tuple(np.where(one < 0.2, 0.0, one) for one in known.chances.findings)
    sure = replace(known, chances=replace(known.chances, cures=cures, findings=found))
    made = replay(sure, desk.tallies, desk.playbook, None, Told())
    assert np.isfinite([made.ladder.effort.mean, made.ladder.harm.mean, *(part.cases for part in made.units)]).all()


def test_too_few_cases_are_refused(desk: Desk):
    made = grounds_of(replace(desk, tallies=desk.tallies[:3])).made
    with pytest.raises(BadInput, match="fewer than 30"):
        replay(made, desk.tallies, desk.playbook, None, Told())
