"""A first ladder from the log, held against the best that there really is."""

from dataclasses import replace

import numpy as np
import pytest

from mildladder.core.advice.first_ladder import first_ladder, tried_in_log
from mildladder.core.errors import BadInput
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.review import review
from mildladder.core.tally.signature import AttemptSign, Signature
from tests.core.advice.without_ladder import proposed, without_ladder


def test_it_is_next_to_the_best_order_there_is():
    dearer = [
        one.dearer([rung.step for rung in proposed(one).ladder])
        for one in (without_ladder(seed, 500) for seed in range(3))
    ]
    assert np.median(dearer) <= 0.05
    assert max(dearer) <= 0.1


def test_each_figure_says_that_it_is_a_guess_and_whose():
    one = without_ladder(2, 200)
    made = proposed(one)
    for rung in made.ladder:
        assert rung.note is not None
        assert rung.note.startswith("A guess from the log: tried ")
        assert "if tried first it ends about" in rung.note
    first = made.step(made.ladder[0].step)
    assert first.title.startswith("Fix ")
    assert first.effort.hands_on == one.desk.playbook.step(first.id).effort.hands_on
    assert 0.85 < first.done < 1
    blockers = [found.code for found in review(made) if found.level == "blocker"]
    assert blockers == ["no-end"], "who takes what it leaves is not in the log"


def tally(count: int, *attempts: tuple[str, str], end: str = "handed-off", by: str | None = None) -> KeyedTally:
    sign = Signature(attempts=tuple(AttemptSign(step=s, result=r) for s, r in attempts), end=end, resolved_by=by)
    return KeyedTally(sign, {}, False, count)


def tried(*tallies: KeyedTally):
    return tried_in_log(tallies, {"a": 4.0}, str.upper)


def test_only_what_was_tried_often_enough_stands_on_it_and_once_a_case():
    own = [
        tally(20, ("a", "no-change"), ("b", "fixed"), end="resolved", by="b"),
        tally(9, ("c", "no-change")),
        tally(5, ("a", "could-not"), ("b", "no-change")),
        replace(tally(50, ("c", "fixed"), end="resolved", by="c"), is_double=True),
    ]
    found = tried(*own)
    assert [(one.id, one.title, one.minutes, one.tried, one.resolved, one.could_not) for one in found] == [
        ("b", "B", None, 25, 20, 0),
        ("a", "A", 4.0, 20, 0, 5),
    ]
    made = first_ladder("new", "New", "It is new", own, found)
    assert [rung.step for rung in made.ladder] == ["b", "a"]
    assert "nobody noted how long it takes" in (made.ladder[0].note or "")


def test_a_case_that_a_step_beside_it_ended_was_not_ended_by_it():
    own = [
        tally(40, ("a", "no-change"), ("odd one", "fixed"), end="resolved", by="odd one"),
        tally(40, ("b", "no-change"), ("a", "fixed"), end="resolved", by="a"),
    ]
    found = tuple(one for one in tried(*own) if one.id != "odd one")
    made = first_ladder("new", "New", "It is new", own, found)
    assert made.ladder[0].step == "a"
    assert "tried 80 times, ended 40" in (made.ladder[0].note or "")


def test_a_log_that_says_next_to_nothing_is_refused_in_words():
    with pytest.raises(BadInput, match="no step was tried 10 times"):
        first_ladder("new", "New", "It is new", [], ())
    few = [tally(12, ("a", "fixed"), end="resolved", by="a")]
    with pytest.raises(BadInput, match="12 cases that say anything; 30 are needed"):
        first_ladder("new", "New", "It is new", few, tried(*few))
