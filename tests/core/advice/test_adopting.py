"""What people do and no step says is taken in where that really pays, with what the cases make of its chances."""

from dataclasses import replace

import pytest

from mildladder.core.advice.first_ladder import Tried, tried_in_log
from mildladder.core.advice.nudges import Grounds, certain_changes, nudges_of
from mildladder.core.evidence.forward import Told
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.model import Playbook, Step
from tests.core.advice.grounds import best_desk, grounds_of, really

ODD = "arm-helped-down"


def without(playbook: Playbook, step: str) -> Playbook:
    """The playbook as it would be if nobody had thought of a step."""
    return playbook.model_copy(
        update={
            "steps": tuple(one for one in playbook.steps if one.id != step),
            "ladder": tuple(rung for rung in playbook.ladder if rung.step != step),
        }
    )


def odd_of(tallies: list[KeyedTally], step: str) -> tuple[Tried, ...]:
    alone = [
        replace(
            tally,
            signature=tally.signature.model_copy(
                update={"attempts": tuple(one for one in tally.signature.attempts if one.step == step)}
            ),
        )
        for tally in tallies
    ]
    return tried_in_log(alone, {step: 2.0}, lambda _: "Help the arm down")


@pytest.fixture(scope="module")
def hidden():
    """A desk whose people do something cheap that ends much, and a draft that does not know of it."""
    desk = best_desk(3)
    first = desk.playbook.ladder[0].step
    grounds = grounds_of(desk, without(desk.playbook, first))
    return desk, first, replace(grounds, odd=odd_of(desk.tallies, first))


def adoption(grounds: Grounds):
    return [one for one in certain_changes(grounds) if one.change.kind == "adopt"]


def test_a_step_that_nobody_wrote_down_is_taken_in_and_really_pays(hidden):
    desk, first, grounds = hidden
    (one,) = adoption(grounds)
    assert one.change.says.startswith("Take in “Help the arm down”, which people do and no step says, above ")
    (step,) = one.change.adds
    assert (step.id, step.effort.hands_on, step.kind) == (first, 2.0, "fix")
    place = [rung.step for rung in one.change.ladder].index(first)
    assert "Nobody has judged it yet" in one.change.ladder[place].note
    listed = desk.playbook.step(first).fixes
    assert set(step.fixes) >= {cause for cause, chance in listed.items() if chance > 0.5}, "what it ends was learned"
    truth = really(desk, replace(grounds, draft=without(desk.playbook, first)))
    known = truth.draft.model_copy(update={"steps": (*truth.draft.steps, desk.playbook.step(first))})
    assert truth.worth(known.model_copy(update={"ladder": one.change.ladder})) > 0
    (told,) = [nudge for nudge in nudges_of(grounds) if nudge.kind == "adopt"]
    assert [Step.model_validate(plain) for plain in told.adds] == [step]


def test_what_was_tried_too_seldom_or_ends_nothing_is_not_taken_in(hidden):
    _, _, grounds = hidden
    few = tuple(replace(one, tried=9) for one in grounds.odd)
    assert adoption(replace(grounds, odd=few)) == []
    costly = tuple(replace(one, minutes=90.0) for one in grounds.odd)
    assert adoption(replace(grounds, odd=costly)) == []


def test_without_odd_names_nothing_is_asked_anew(hidden):
    _, _, grounds = hidden

    def refit(_):
        raise AssertionError

    assert adoption(replace(grounds, odd=(), refit=refit, told=Told())) == []
