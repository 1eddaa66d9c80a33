"""The forecast against its slow twin, and the properties that every ladder must keep."""

import itertools

import pytest

from mildladder.core.errors import BadInput
from mildladder.core.forecast import Forecast, forecast, unit_groups
from mildladder.core.model import Playbook
from tests.core.enumerator import enumerate_ladder
from tests.core.random_ladders import random_playbook
from tests.samples import gate, gate_with_step

TOLERANCE = 1e-9


def difference(made: Forecast, slow: dict) -> float:
    """The largest difference between any two figures that should be equal."""
    names = ("effort", "harm", "elapsed", "resolved", "worked_around", "handed_off")
    gaps = [abs(getattr(made, name) - slow[name]) for name in names]
    for rung, slow_rung in zip(made.rungs, slow["rungs"], strict=True):
        gaps += [abs(getattr(rung, name) - slow_rung[name]) for name in slow_rung]
    gaps += [abs(made.by_cause[cause] - minutes) for cause, minutes in slow["by_cause"].items()]
    return max(gaps)


@pytest.mark.parametrize("seed", range(150))
def test_every_figure_equals_that_of_the_slow_twin(seed):
    playbook = random_playbook(seed)
    assert difference(forecast(playbook), enumerate_ladder(playbook)) <= TOLERANCE


@pytest.mark.parametrize("seed", range(60))
def test_shares_of_ends_sum_to_one_and_rungs_add_up(seed):
    figures = forecast(random_playbook(seed, rungs=40, repeats=0.05))
    ends = figures.resolved + figures.worked_around + figures.handed_off + figures.sent_on
    assert ends == pytest.approx(1, abs=TOLERANCE)
    assert sum(r.resolved + r.worked_around for r in figures.rungs) == pytest.approx(1 - figures.handed_off)
    assert sum(rung.harm for rung in figures.rungs) == pytest.approx(figures.harm)


@pytest.mark.parametrize("seed", range(30))
def test_the_ladder_never_widens(seed):
    arriving = [rung.arriving for rung in forecast(random_playbook(seed, rungs=20, repeats=0.1)).rungs]
    assert all(above >= below - TOLERANCE for above, below in itertools.pairwise(arriving))


def test_figures_of_a_ladder_that_can_be_followed_by_hand():
    # One cause of weight 9, something-else of 1; a fix that ends it 0.8 of the time, then a hand-off.
    playbook = Playbook.model_validate(
        {
            "format": "mild-ladder/playbook/1", "id": "one", "title": "One", "symptom": {"says": "One"},
            "causes": [{"id": "a", "title": "A", "layer": "data", "weight": 9}],
            "steps": [{"id": "s", "title": "S", "kind": "fix", "effort": {"hands_on": 2}, "fixes": {"a": 0.8},
                       "hazards": [{"kind": "data", "severity": 2, "chance": 0.5}]}],
            "ladder": [{"step": "s"}],
            "retest": {"how": "Try", "hands_on": 1},
            "hand_offs": [{"id": "crew", "title": "Crew", "effort": {"hands_on": 10}}],
        }
    )  # fmt: skip
    figures = forecast(playbook)
    assert figures.resolved == pytest.approx(0.9 * 0.8)
    assert figures.effort == pytest.approx(2 + 1 + (1 - 0.72) * 10)
    assert figures.harm == pytest.approx(1.5)
    assert figures.by_cause == {"a": pytest.approx(3 + 0.2 * 10), "something-else": pytest.approx(13)}


def test_a_repeated_step_is_passed_at_no_cost():
    twice = gate(ladder=[{"step": "clear-hold"}, {"step": "clear-hold"}])
    first, second = forecast(twice).rungs
    # Only where it could not be carried out the first time does it come up again.
    assert second.reach == pytest.approx(first.reach * 0.1)


def test_a_safeguard_eases_only_from_above():
    above = forecast(gate(ladder=[{"step": "save-counts"}, {"step": "reload-program"}]))
    below = forecast(gate(ladder=[{"step": "reload-program"}, {"step": "save-counts"}]))
    assert above.harm == pytest.approx(0.25)
    assert below.harm == pytest.approx(5)


def test_an_empty_ladder_hands_everything_off():
    figures = forecast(gate(ladder=[]))
    assert (figures.handed_off, figures.effort, figures.rungs) == (pytest.approx(1), pytest.approx(20), ())


def test_only_facts_that_a_condition_asks_for_split_the_units():
    assert [facts for facts, _ in unit_groups(gate())] == [{"model": "GR4"}, {"model": "GR6"}]
    assert unit_groups(gate(ladder=[{"step": "clear-hold"}])) == [({}, 1.0)]


def test_weights_that_sum_to_nothing_are_an_error():
    causes = [{"id": "a", "title": "A", "layer": "data", "weight": 0}]
    with pytest.raises(BadInput, match="sum to 0"):
        forecast(gate_with_step("clear-hold", fixes={}).model_copy(update={"causes": gate(causes=causes).causes}))


def test_two_hundred_rungs_are_no_trouble():
    steps = [{**gate().step("clear-hold").model_dump(by_alias=True), "id": f"step-{n}"} for n in range(200)]
    figures = forecast(gate(steps=steps, ladder=[{"step": step["id"]} for step in steps]))
    assert len(figures.rungs) == 200
    assert figures.resolved == pytest.approx(0.9 * 3 / 7)


def test_steps_that_hang_together_in_too_many_ways_are_refused_rather_than_never_worked_out():
    guards = [{"id": f"guard-{n}", "title": "G", "kind": "safeguard", "done": 0.5} for n in range(30)]
    hazards = [
        {"kind": "data", "severity": 1, "chance": 0.1, "eased_by": guard["id"], "eased_to": 0.5} for guard in guards
    ]
    last = {"id": "last", "title": "L", "kind": "fix", "hazards": hazards}
    with pytest.raises(BadInput, match="too many ways"):
        forecast(gate(steps=[*guards, last], ladder=[{"step": step["id"]} for step in [*guards, last]]))
