"""Rules of the order: what binds rungs, and files that hold a broken rule."""

from mildladder.core.ladder.bonds import broken
from mildladder.core.ladder.moves import reordered
from tests.samples import gate, gate_with_step


def test_a_file_may_hold_a_broken_rule():
    wrong = gate(ladder=[{"step": s} for s in ("reload-program", "save-counts", "clear-hold")])
    assert [(one.step, one.user) for one in broken(wrong)] == [("save-counts", "reload-program")]
    assert not broken(reordered(wrong, [1, 0, 2]))


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
