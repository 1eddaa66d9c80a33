"""Ladders that are odd: nothing to order, nothing to choose between, rules that lead in a circle."""

import numpy as np
import pytest

from mildladder.core.ordering.best import Infeasible, best_order
from mildladder.core.ordering.curve import curve
from tests.samples import gate, gate_with_step


def equal_steps(count: int, **more) -> list[dict]:
    return [
        {
            "id": f"s-{n}",
            "title": f"S {n}",
            "kind": "fix",
            "effort": {"hands_on": 2},
            "fixes": {"bad-setting": 0.3},
            **more,
        }
        for n in range(count)
    ]


@pytest.mark.parametrize("size", [1, 2, 7])
def test_equal_rungs_keep_the_order_they_are_given_in(size):
    rng = np.random.default_rng(size)
    for _ in range(334):
        names = [f"s-{n}" for n in rng.permutation(size)]
        playbook = gate(steps=equal_steps(size), ladder=[{"step": name} for name in names])
        for mode in ("mildest", "balanced"):
            assert best_order(playbook, mode).order == tuple(range(size))


def test_a_ladder_without_rungs_and_one_of_a_single_rung_have_one_order():
    assert best_order(gate(ladder=[])).order == ()
    assert best_order(gate(ladder=[{"step": "clear-hold"}])).order == (0,)
    assert len(curve(gate(ladder=[{"step": "clear-hold"}])).points) == 1


def test_what_costs_nothing_comes_first():
    free = {"id": "free", "title": "Free", "kind": "fix", "effort": {}, "fixes": {"bad-setting": 0.1}}
    ladder = [{"step": name} for name in ("s-0", "s-1", "free")]
    assert best_order(gate(steps=[*equal_steps(2), free], ladder=ladder, retest=None)).order == (2, 0, 1)


@pytest.mark.parametrize("chance", [0.0, 1.0])
@pytest.mark.parametrize("done", [0.0, 1.0])
def test_chances_of_nought_and_one_are_ordered(chance, done):
    steps = equal_steps(3, fixes={"bad-setting": chance, "sensor-dirty": chance}, done=done)
    found = best_order(gate(steps=steps, ladder=[{"step": step["id"]} for step in steps]))
    assert found.exact
    assert found.order == (0, 1, 2)


def test_a_circle_of_rules_is_told_as_one():
    steps = equal_steps(3)
    for number, step in enumerate(steps):
        step["needs"] = [f"s-{(number + 1) % 3}"]
    with pytest.raises(Infeasible) as problem:
        best_order(gate(steps=steps, ladder=[{"step": step["id"]} for step in steps]))
    assert len(problem.value.chain) == 3
    assert "which needs it" in str(problem.value)


def test_the_shortest_circle_is_told():
    steps = equal_steps(4)
    for number, step in enumerate(steps):
        step["needs"] = [f"s-{(number + 1) % 4}"]
    steps[1]["needs"].append("s-0")
    with pytest.raises(Infeasible) as problem:
        best_order(gate(steps=steps, ladder=[{"step": step["id"]} for step in steps]))
    assert len(problem.value.chain) == 2


def test_pins_at_both_ends_and_rungs_kept_together_hold():
    steps = equal_steps(5)
    ladder = [{"step": step["id"]} for step in steps]
    ladder[4] |= {"pin": "first"}
    ladder[0] |= {"pin": "last"}
    ladder[1] |= {"keep": "pair"}
    ladder[3] |= {"keep": "pair"}
    order = best_order(gate(steps=steps, ladder=ladder)).order
    assert (order[0], order[-1]) == (4, 0)
    assert order.index(3) == order.index(1) + 1


def test_a_rung_pinned_above_what_it_needs_is_a_conflict():
    playbook = gate(ladder=[{"step": "save-counts", "pin": "last"}, {"step": "reload-program"}])
    with pytest.raises(Infeasible, match="pinned last"):
        best_order(playbook)


def test_an_optional_rung_that_is_worth_nothing_is_left_out_and_one_that_is_needed_stays():
    playbook = gate(ladder=[{"step": "sensor-look", "optional": True}, {"step": "clear-hold"}])
    assert best_order(playbook).left_out == (0,)
    needed = gate_with_step("clear-hold", needs=["sensor-look"])
    kept = needed.model_copy(update={"ladder": playbook.ladder})
    assert best_order(kept).left_out == ()


def ladder_that_goes_on_too_long(theirs: float | None, when: str | None = None):
    """A fix that ends little and takes long, below one that is cheap; theirs: minutes of the team that it goes to."""
    costly = {"id": "costly", "title": "C", "kind": "fix", "effort": {"hands_on": 500}, "fixes": {"bad-setting": 0.1}}
    crew = {"id": "lane-crew", "title": "Lane crew", "effort": {"hands_on": 20}}
    if theirs is not None:
        crew["theirs"] = {"hands_on": theirs}
    first = {"step": "s-0", **({"when": when} if when else {})}
    return gate(steps=[*equal_steps(1), costly], ladder=[first, {"step": "costly"}], hand_offs=[crew])


def test_where_handing_off_earlier_is_cheaper_it_is_said_and_nothing_is_cut():
    found = best_order(ladder_that_goes_on_too_long(theirs=30))
    assert len(found.order) == 2
    assert found.hand_off_after is not None
    assert found.hand_off_after.step == "s-0"
    assert found.hand_off_after.saves > 400


def test_what_the_team_pays_counts_and_where_nobody_knows_it_nothing_is_said():
    assert best_order(ladder_that_goes_on_too_long(theirs=None)).hand_off_after is None
    # What the costly fix ends spares the team more than it takes.
    assert best_order(ladder_that_goes_on_too_long(theirs=100_000)).hand_off_after is None
    mild, dear = (best_order(ladder_that_goes_on_too_long(theirs=n)).hand_off_after for n in (0, 1_000))
    assert mild.saves > dear.saves


def test_nobody_is_told_to_hand_off_after_a_rung_that_no_unit_comes_to():
    nowhere = ladder_that_goes_on_too_long(30, when="model is GR4 and model is GR6")
    found = best_order(nowhere, mode="balanced").hand_off_after
    assert found is None or found.step == "costly"
