"""Why here and if it moved: every figure is that of the move itself, and holders are named only where they hold alone."""

import re

import pytest

from mildladder.core.errors import BadInput
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.moves import reordered
from mildladder.core.ordering.blocks import Ladder
from mildladder.core.ordering.reasons import amount, newly_broken, reasons_for_place, why_all
from tests.core.ordering.ladders import ladder_of
from tests.parts import in_part
from tests.samples import gate


def order_after(ladder: Ladder, rung: int, target: int) -> list[int]:
    """The order of blocks with the rung's block moved to where its first rung is at index `target`."""
    block = next(number for number, block in enumerate(ladder.blocks) if rung in block.rungs)
    rest = [other for other in range(len(ladder.blocks)) if other != block]
    place = next(n for n in range(len(rest) + 1) if len(ladder.rungs(rest[:n])) == target)
    return [*rest[:place], block, *rest[place:]]


@pytest.mark.parametrize("seed", in_part(range(80), 25))
def test_every_move_says_what_that_move_changes(seed):
    playbook = ladder_of(seed, 5)
    ladder = Ladder(playbook, playbook.policy.mode)
    now = forecast(playbook)
    for rung in range(len(playbook.ladder)):
        why = reasons_for_place(playbook, rung)
        assert len(why.moves) == len(ladder.blocks) - 1
        for move in why.moves:
            order = order_after(ladder, rung, move.target)
            held = newly_broken(ladder, order)
            assert move.held_by == tuple(rule.says for rule in held)
            if not held:
                moved = forecast(reordered(playbook, ladder.rungs(order)))
                assert move.effort == pytest.approx(moved.effort - now.effort, abs=1e-9)
                assert move.harm == pytest.approx(moved.harm - now.harm, abs=1e-9)


@pytest.mark.parametrize("seed", in_part(range(60), 25))
def test_what_is_named_as_the_holder_holds_alone(seed):
    playbook = ladder_of(seed, 5)
    ladder = Ladder(playbook, playbook.policy.mode)
    for why in why_all(playbook):
        for says in re.findall(r"It cannot stand one place (higher|lower): (.*?)\.(?= |$)", " ".join(why.says)):
            block = next(number for number, block in enumerate(ladder.blocks) if why.rung in block.rungs)
            place = block + (1 if says[0] == "lower" else -1)
            order = [other for other in range(len(ladder.blocks)) if other != block]
            order.insert(place, block)
            rest = [rule for rule in newly_broken(ladder, order) if rule.says != says[1]]
            assert rest == []


@pytest.mark.parametrize("seed", range(40))
def test_the_numbers_in_the_sentences_are_the_figures(seed):
    playbook = ladder_of(seed, 5)
    ladder = Ladder(playbook, playbook.policy.mode)
    for why in why_all(playbook):
        for move, place in zip(why.moves, _places(ladder, why), strict=True):
            for figure, what in ((move.effort, "effort minutes"), (move.harm, "harm points")):
                if figure is not None and abs(figure) >= 0.005:
                    word = "more" if figure > 0 else "less"
                    said = next(part for part in why.says[-1].split(". ") if place in part)
                    assert f"{amount(abs(figure))} {what} {word}" in said


def _places(ladder: Ladder, why) -> list[str]:
    first = next(block.rungs[0] for block in ladder.blocks if why.rung in block.rungs)
    return ["higher" if move.target < first else "lower" for move in why.moves]


def test_what_a_rung_is_worth_is_said_with_what_it_costs():
    figures = forecast(gate())
    why = reasons_for_place(gate(), 1)
    row = figures.rungs[1]
    assert why.resolved == pytest.approx(row.resolved)
    assert why.ratio == pytest.approx(row.resolved / (row.effort + 5 * row.harm))
    assert why.says[0].startswith(f"Here it ends {amount(100 * row.resolved)} of 100 cases for {amount(row.effort)}")


def test_a_safeguard_is_held_by_what_it_protects():
    why = reasons_for_place(gate(), 2)
    below = next(move for move in why.moves if move.target == 3)
    assert below.effort is None
    assert "must stand above" in below.held_by[0]
    assert "It cannot stand one place lower" in why.says[-1]


def test_a_rung_that_is_not_there_is_refused():
    with pytest.raises(BadInput, match="there is no rung 6"):
        reasons_for_place(gate(), 5)


@pytest.mark.parametrize(
    ("value", "text"),
    [
        (0, "0"),
        (1234.5, "1234"),
        (0.01834, "0.02"),
        (12.0, "12"),
        (9.996, "10"),
        (4.806, "4.81"),
        (1e-9, "less than 0.01"),
    ],
)
def test_amounts_are_said_to_what_matters(value, text):
    assert amount(value) == text
