"""The one table of outcomes and ends: complete, and meaning what the method says."""

from typing import get_args

from mildladder.core.model import Baseline, End, HazardKind, Outcome
from mildladder.core.model import outcomes as table


def test_every_outcome_end_baseline_and_harm_has_its_words():
    assert set(table.OUTCOMES) == set(get_args(Outcome))
    assert set(table.ENDS) == set(get_args(End))
    assert set(table.BASELINES) == set(get_args(Baseline))
    assert set(table.HARMS) == set(get_args(HazardKind))


def test_they_mean_what_the_method_says():
    assert set(table.TESTED) == {"fixed", "no-change", "better", "worse"}
    assert set(table.NOT_DONE) == {"could-not", "not-available", "skipped"}
    assert set(table.DO_NOT_ENTER) == {*table.NOT_DONE, "nothing-to-do"}
    assert set(table.OPENS_RAIL) == {"could-not", "not-available", "nothing-to-do", "worse", "restored"}
    assert set(table.UNHELPFUL) == {"no-change", "worse"}
    assert set(table.CURED) == {"resolved", "worked-around"}
    assert not set(table.RARE) & set(table.TESTED)
