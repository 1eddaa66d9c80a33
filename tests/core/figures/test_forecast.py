"""The forecast against its slow twin, and the properties that every ladder must keep."""

from itertools import pairwise

import pytest

from mildladder.core.errors import BadInput
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.figures.judgement import search_rounds
from mildladder.core.ladder.units import unit_groups
from mildladder.core.model import Playbook
from tests.core.figures.enumerator import enumerate_ladder
from tests.core.random_ladders import random_playbook
from tests.parts import in_part
from tests.samples import gate, gate_with_step

TOLERANCE = 1e-9
TOTALS = ("effort", "harm", "elapsed", "resolved", "worked_around", "handed_off", "sent_on")
OF_A_RUNG = ("reach", "resolved", "worked_around", "handed_off", "sent_on", "effort", "harm")


def difference(made: Forecast, slow: dict) -> float:
    """The largest difference between any two figures that should be equal."""
    gaps = [abs(getattr(made, name) - slow[name]) for name in TOTALS]
    for rung in (*made.rungs, *made.side):
        gaps += [abs(getattr(rung, name) - slow["places"].get((rung.path, name), 0.0)) for name in OF_A_RUNG]
    gaps += [abs(made.by_cause[cause] - minutes) for cause, minutes in slow["by_cause"].items()]
    return max(gaps)


@pytest.mark.parametrize("hundred", in_part(range(5), 2))
def test_every_figure_equals_that_of_the_slow_twin_on_hundreds_of_ladders(hundred):
    for seed in range(100 * hundred, 100 * (hundred + 1)):
        playbook = random_playbook(seed)
        assert difference(forecast(playbook), enumerate_ladder(playbook)) <= TOLERANCE, f"seed {seed}"


@pytest.mark.parametrize("seed", range(40))
def test_it_equals_the_slow_twin_with_rails_upon_rails(seed):
    playbook = random_playbook(seed + 50_000, rungs=2, rails=2)
    assert difference(forecast(playbook), enumerate_ladder(playbook)) <= TOLERANCE


@pytest.mark.parametrize("seed", range(60))
def test_shares_of_ends_sum_to_one_and_rungs_add_up(seed):
    figures = forecast(random_playbook(seed, rungs=15, repeats=0.05))
    ends = figures.resolved + figures.worked_around + figures.handed_off + figures.sent_on
    assert ends == pytest.approx(1, abs=TOLERANCE)
    assert sum(rung.harm for rung in figures.rungs) <= figures.harm + TOLERANCE
    assert all(rung.reach <= rung.arriving + TOLERANCE for rung in (*figures.rungs, *figures.side))


@pytest.mark.parametrize("seed", range(30))
def test_the_ladder_never_widens(seed):
    arriving = [rung.arriving for rung in forecast(random_playbook(seed, rungs=12, repeats=0.1)).rungs]
    assert all(above >= below - TOLERANCE for above, below in pairwise(arriving))


def test_figures_of_a_ladder_that_can_be_followed_by_hand():
    # One cause of weight 9, something-else of 1; a fix that ends it 0.8 of the time, then a hand-off.
    playbook = Playbook.model_validate(
        {
            "format": "mild-ladder/playbook/1",
            "id": "one",
            "title": "One",
            "symptom": {"says": "One"},
            "causes": [{"id": "a", "title": "A", "layer": "data", "weight": 9}],
            "steps": [
                {
                    "id": "s",
                    "title": "S",
                    "kind": "fix",
                    "effort": {"hands_on": 2},
                    "fixes": {"a": 0.8},
                    "hazards": [{"kind": "data", "severity": 2, "chance": 0.5}],
                }
            ],
            "ladder": [{"step": "s"}],
            "retest": {"how": "Try", "hands_on": 1},
            "hand_offs": [{"id": "crew", "title": "Crew", "effort": {"hands_on": 10}}],
        }
    )
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
    assert [dict(group.facts) for group in unit_groups(gate())] == [{"model": "GR4"}, {"model": "GR6"}]
    assert [group.share for group in unit_groups(gate(ladder=[{"step": "clear-hold"}]))] == [1.0]


def test_weights_that_sum_to_nothing_are_an_error():
    causes = [{"id": "a", "title": "A", "layer": "data", "weight": 0}]
    with pytest.raises(BadInput, match="sum to 0"):
        forecast(gate_with_step("clear-hold", fixes={}).model_copy(update={"causes": gate(causes=causes).causes}))


def test_five_hundred_rungs_are_no_trouble():
    steps = [{**gate().step("clear-hold").model_dump(by_alias=True), "id": f"step-{n}"} for n in range(500)]
    figures = forecast(gate(steps=steps, ladder=[{"step": step["id"]} for step in steps]))
    assert len(figures.rungs) == 500
    assert figures.resolved == pytest.approx(0.9 * 3 / 7)


def test_steps_that_hang_together_in_too_many_ways_are_refused_rather_than_never_worked_out():
    guards = [{"id": f"guard-{n}", "title": "G", "kind": "safeguard", "done": 0.5} for n in range(30)]
    hazards = [
        {"kind": "data", "severity": 1, "chance": 0.1, "eased_by": guard["id"], "eased_to": 0.5} for guard in guards
    ]
    last = {"id": "last", "title": "L", "kind": "fix", "hazards": hazards}
    with pytest.raises(BadInput, match="too many ways"):
        forecast(gate(steps=[*guards, last], ladder=[{"step": step["id"]} for step in [*guards, last]]))


def test_facts_that_tell_too_many_units_apart_are_refused():
    facts = [
        {"id": f"f-{n}", "ask": "?", "type": "choice", "choices": {str(v): 0.1 for v in range(10)}} for n in range(5)
    ]
    when = " and ".join(f"f-{n} is 1" for n in range(5))
    with pytest.raises(BadInput, match="sorts of units"):
        forecast(gate(facts=facts, ladder=[{"step": "clear-hold", "when": when}]))


@pytest.mark.parametrize(("count", "how"), [(n, how) for n in range(2, 40) for how in ("halves", "one-by-one")])
def test_the_rounds_of_a_search_are_those_of_carrying_it_out(count, how):
    """Each suspect in turn is the bad one; halves are kept as even as they go, the last one left is known."""

    def rounds(left: int) -> float:
        if left == 1:
            return 0.0
        low, high = left // 2, left - left // 2
        return 1 + (low * rounds(low) + high * rounds(high)) / left

    if how == "one-by-one":
        slow = sum(min(n + 1, count - 1) for n in range(count)) / count
    else:
        slow = rounds(count)
    assert search_rounds(count, how, is_found=True) == pytest.approx(slow)
    assert search_rounds(count, how, is_found=False) == (count if how == "one-by-one" else (count - 1).bit_length() + 1)
