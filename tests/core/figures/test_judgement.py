"""Effort minutes, harm points and grades, by hand from the method's section 1."""

import pytest

from mildladder.core.figures.judgement import effort_minutes, elapsed_minutes, harm_points, risk_grade
from mildladder.core.ladder.causes import chance
from mildladder.core.model import Effort, Step, Weights
from tests.samples import gate


def test_effort_weighs_hands_on_by_person_and_waiting_less():
    effort = Effort(hands_on=4, by="visit", wait=8, travel=30, parts=5)
    assert effort_minutes(effort, Weights()) == 4 * 1.5 + 8 * 0.25 + 30 + 5
    assert elapsed_minutes(effort) == 4 + 8 + 30


def test_effort_follows_the_desks_own_weights():
    assert effort_minutes(Effort(hands_on=4, wait=8), Weights(desk=2, wait=0)) == 8


@pytest.mark.parametrize(("possible", "factor"), [("yes", 0.3), ("partly", 0.6), ("no", 1.0)])
def test_harm_is_severity_times_chance_less_what_can_be_undone(possible, factor):
    hazards = [{"kind": "data", "severity": 3, "chance": 0.5}, {"kind": "injury", "severity": 5, "chance": 0.01}]
    step = Step.model_validate(
        {"id": "s", "title": "S", "kind": "fix", "hazards": hazards, "undo": {"possible": possible}}
    )
    assert harm_points(step) == pytest.approx(factor * (10 * 0.5 + 100 * 0.01))


def test_a_safeguard_eases_only_its_own_hazard():
    step = gate().step("reload-program")
    assert harm_points(step) == pytest.approx(5)
    assert harm_points(step, {"clear-hold"}) == pytest.approx(5)
    assert harm_points(step, {"save-counts"}) == pytest.approx(0.25)


@pytest.mark.parametrize(
    ("points", "grade"), [(0, 0), (0.01, 1), (0.299, 1), (0.3, 2), (0.999, 2), (1, 3), (4.99, 3), (5, 4), (1e6, 4)]
)
def test_grades_are_cut_at_their_bounds(points, grade):
    assert risk_grade(points) == grade


def test_chance_words_are_numbers():
    assert [chance(word) for word in ("nearly-always", "usually", "often", "sometimes", "rarely")] == [
        0.95, 0.8, 0.6, 0.35, 0.1,
    ]  # fmt: skip
    assert chance(0.42) == 0.42
