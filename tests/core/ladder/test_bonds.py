"""Moving rungs: what holds one, moving both, and files that hold a broken rule."""

import pytest

from mildladder.core.errors import BadInput, Held
from mildladder.core.ladder.bonds import broken
from mildladder.core.ladder.moves import move_rung
from tests.samples import gate, gate_with_step, order_of

LADDER = ["sensor-look", "clear-hold", "save-counts", "reload-program", "wave-through"]


def test_a_free_rung_moves_up_and_down():
    assert order_of(move_rung(gate(), 4, 0)) == ["wave-through", *LADDER[:4]]
    assert order_of(move_rung(gate(), 0, 4)) == [*LADDER[1:], "sensor-look"]


def test_a_safeguard_does_not_move_below_what_it_protects():
    with pytest.raises(Held, match="must stand above") as held:
        move_rung(gate(), 2, 3)
    assert held.value.holders == (3,)


def test_moving_both_keeps_the_rule():
    moved = move_rung(gate(), 3, 0, both=True)
    assert order_of(moved) == ["save-counts", "reload-program", "sensor-look", "clear-hold", "wave-through"]
    assert not broken(moved)


def test_moving_both_by_one_place_moves_the_pair_by_one_place():
    up = move_rung(gate(), 3, 2, both=True)
    assert order_of(up) == ["sensor-look", "save-counts", "reload-program", "clear-hold", "wave-through"]
    down = move_rung(gate(), 2, 3, both=True)
    assert order_of(down) == ["sensor-look", "clear-hold", "wave-through", "save-counts", "reload-program"]


def test_a_file_may_hold_a_broken_rule_and_any_move_that_breaks_no_more_is_free():
    wrong = gate(ladder=[{"step": s} for s in ("reload-program", "save-counts", "clear-hold")])
    assert len(broken(wrong)) == 1
    assert order_of(move_rung(wrong, 2, 0))[0] == "clear-hold"
    assert not broken(move_rung(wrong, 1, 0))


@pytest.mark.parametrize(("source", "target"), [(5, 0), (0, 5), (0, 99)])
def test_a_rung_that_is_not_there_is_refused(source, target):
    with pytest.raises(BadInput, match="there is no rung"):
        move_rung(gate(), source, target)


def test_a_hazard_of_one_sort_of_unit_binds_its_safeguard_on_all():
    hazard = {"kind": "data", "severity": 3, "chance": 0.5, "eased_by": "save-counts", "eased_to": 0.05}
    varies = [{"when": "model is GR6", "hazards": [hazard]}]
    wrong = gate_with_step("clear-hold", varies=varies)
    assert [(one.step, one.user) for one in broken(wrong)] == [("save-counts", "clear-hold")]
    right = gate(
        steps=[step.model_dump(by_alias=True, exclude_unset=True) for step in wrong.steps],
        ladder=[{"step": s} for s in ("save-counts", "clear-hold")],
    )
    assert not broken(right)


def test_one_of_several_holders_above_is_enough():
    ladder = [{"step": s} for s in ("save-counts", "reload-program", "clear-hold", "save-counts")]
    assert not broken(gate(ladder=ladder))
    assert broken(gate(ladder=ladder[1:]))
