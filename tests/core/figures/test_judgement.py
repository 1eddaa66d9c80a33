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


def step_with(*hazards: tuple, undo: str = "no") -> Step:
    """A step with hazards of (severity, chance) or (severity, chance, its own undo)."""
    made = [
        {"kind": "data", "severity": one[0], "chance": one[1], **({"undo": one[2]} if one[2:] else {})}
        for one in hazards
    ]
    return Step.model_validate({"id": "s", "title": "S", "kind": "fix", "hazards": made, "undo": {"possible": undo}})


def test_a_hazard_may_be_undone_otherwise_than_its_step():
    assert harm_points(step_with((3, 0.5), (1, 1.0, "no"), undo="yes")) == pytest.approx(0.3 * 10 * 0.5 + 1)
    assert harm_points(step_with((3, 0.5, "partly"), (1, 1.0))) == pytest.approx(0.6 * 10 * 0.5 + 1)


@pytest.mark.parametrize(
    ("hazards", "undo", "grade"),
    [
        ([], "no", 0),
        ([(5, 0.0)], "no", 0),
        # Cut at 0.3, 1 and 5 points, within 1e-9.
        ([(3, 0.0299)], "no", 1),
        ([(3, 0.03)], "no", 2),
        ([(3, 0.0999)], "no", 2),
        ([(3, 0.1)], "no", 3),
        ([(3, 0.4999)], "no", 3),
        ([(3, 0.5)], "no", 4),
        ([(3, 0.3), (3, 0.2)], "no", 4),
        # The least severe is never more than mild, the next never more than guarded.
        ([(1, 1.0)], "no", 1),
        ([(1, 1.0), (1, 1.0), (1, 1.0), (1, 1.0), (1, 1.0)], "no", 1),
        ([(2, 1.0), (2, 1.0)], "no", 2),
        ([(2, 1.0), (1, 1.0)], "no", 2),
        ([(2, 0.05)], "no", 1),
        # What may do the worst is never called mild, unless it hardly ever does.
        ([(4, 0.02)], "yes", 3),
        ([(4, 0.0199)], "yes", 1),
        ([(5, 0.02)], "yes", 3),
        ([(5, 0.02)], "partly", 4),
        ([(5, 0.02)], "no", 4),
        ([(5, 0.0199)], "partly", 3),
        ([(5, 0.02, "no")], "yes", 4),
        ([(5, 0.02, "yes")], "no", 3),
    ],
)
def test_a_grade_is_cut_by_points_and_held_by_the_worst_case(hazards, undo, grade):
    assert risk_grade(step_with(*hazards, undo=undo)) == grade


def test_a_safeguard_that_makes_the_worst_unlikely_lowers_the_grade():
    hazard = {"kind": "data", "severity": 5, "chance": 0.4, "eased_by": "save", "eased_to": 0.04}
    step = Step.model_validate({"id": "s", "title": "S", "kind": "fix", "hazards": [hazard]})
    assert (risk_grade(step), risk_grade(step, {"save"}), risk_grade(step, {"other"})) == (4, 3, 4)


def test_chance_words_are_numbers():
    assert [chance(word) for word in ("nearly-always", "usually", "often", "sometimes", "rarely")] == [
        0.95,
        0.8,
        0.6,
        0.35,
        0.1,
    ]
    assert chance(0.42) == 0.42
