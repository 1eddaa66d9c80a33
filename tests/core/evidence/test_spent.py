"""The share resolved against the effort spent."""

import pytest

from mildladder.core.evidence.rates import no_evidence
from mildladder.core.evidence.spent import observed_curve, spent_curve
from mildladder.core.figures.forecast import forecast
from tests.core.evidence.desks import small_desk


def test_the_curve_ends_at_what_the_ladder_costs_and_ends():
    playbook = small_desk(1, cases=10).playbook
    figures = forecast(playbook)
    curve = spent_curve(figures)
    assert len(curve) == len(playbook.ladder) + 1
    assert curve[-1].ended == pytest.approx(figures.resolved + figures.worked_around)
    # What is handed off costs nothing here, so all effort is spent on rungs.
    assert curve[-1].effort == pytest.approx(figures.effort)


def test_what_was_observed_counts_each_step_once_at_its_judged_effort():
    playbook = small_desk(1, cases=10, is_flat=True).playbook
    counts = {
        step.id: no_evidence(step.id).model_copy(update={"tried": 10 - place, "resolved": 1})
        for place, step in enumerate(playbook.steps)
    }
    curve = observed_curve(playbook, counts, 10)
    assert curve is not None
    assert [round(one.ended, 6) for one in curve] == [round(place / 10, 6) for place in range(9)]
    assert curve[1].effort == pytest.approx(2.0)
    assert curve[2].effort == pytest.approx(2.0 + 1.8)
    assert observed_curve(playbook, counts, 0) is None
