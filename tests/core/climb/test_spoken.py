"""What is read to the caller: how long, how bad and how likely, never milder than the step is."""

from typing import get_args

import pytest

from mildladder.core.climb.spoken import spoken_cost
from mildladder.core.figures.judgement import risk_grade
from mildladder.core.model import Step
from mildladder.core.model.base import HazardKind
from mildladder.core.model.outcomes import HARMS


def step(*hazards: dict, **more) -> Step:
    base = {"id": "fix", "title": "Fix it", "kind": "fix", "fixes": {"bad-setting": 0.5}, "hazards": hazards}
    return Step.model_validate({**base, **more})


def loses(**changes) -> dict:
    return {"kind": "data", "severity": 5, "chance": 0.5, **changes}


def test_how_bad_and_how_likely_is_told_in_plain_words():
    assert (
        spoken_cost(step(loses()))
        == "This takes a minute; in about half of these cases everything stored is lost for good."
    )
    gone = spoken_cost(step(loses(severity=1, chance=0.02, undo="yes"), effort={"hands_on": 8}))
    assert (
        gone
        == "This takes about 8 minutes; in about one case of twenty a little of what is stored is lost and can be put back."
    )
    partly = spoken_cost(step({"kind": "service", "severity": 2, "chance": 1}, loses(undo="partly", chance=0.1)))
    assert partly == (
        "This takes a minute; in about one case of ten everything stored is lost and only part of it can be put back; "
        "in nearly every case the service stops for a short while."
    )


def test_what_a_safeguard_made_of_it_is_told_with_what_it_would_have_been():
    hazard = loses(eased_by="save", eased_to=0.1)
    assert spoken_cost(step(hazard), {"save": "Save the counts"}) == (
        "This takes a minute; in about one case of twenty everything stored is lost for good "
        "(in about half of these cases, had “Save the counts” not been done)."
    )
    assert spoken_cost(step(hazard), {"other": "Other"}) == spoken_cost(step(loses()))


def test_own_words_stand_alone_but_for_a_rough_step():
    assert spoken_cost(step(loses(severity=1), say="It will be dark.")) == "It will be dark."
    assert spoken_cost(step(loses(), say="It will be dark. Shall I go on?")) == (
        "In about half of these cases everything stored is lost for good. It will be dark. Shall I go on?"
    )


@pytest.mark.parametrize("kind", get_args(HazardKind))
def test_a_worse_harm_or_a_likelier_one_is_never_told_in_the_same_words_as_a_much_milder_one(kind):
    assert set(get_args(HazardKind)) == set(HARMS)
    assert len(set(HARMS[kind].how_bad)) == 5
    seen = [
        spoken_cost(step(loses(kind=kind, chance=chance)))
        for chance in (0.005, 0.05, 0.1, 0.2, 0.33, 0.5, 0.67, 0.75, 1)
    ]
    assert len(set(seen)) == 9


@pytest.mark.parametrize("chance", [n / 200 for n in range(1, 201)])
def test_a_chance_is_never_told_as_much_less_than_it_is(chance):
    told = spoken_cost(step(loses(chance=chance))) or ""
    stands_for = {
        "a hundred": 0.01,
        "twenty": 0.05,
        "ten": 0.1,
        "five": 0.2,
        "of three": 1 / 3,
        "half": 0.5,
        "two cases": 2 / 3,
        "three cases of four": 0.75,
        "nearly every": 1,
    }
    words = next(value for says, value in reversed(stands_for.items()) if says in told)
    assert words >= 0.89 * chance
    assert risk_grade(step(loses(chance=chance))) >= 3 or "everything stored is lost" in told
