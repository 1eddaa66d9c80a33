"""Harm under a safeguard counts as the part of a try that the safeguard leaves."""

import pytest

from mildladder.core.evidence.counts import HarmCount
from mildladder.core.evidence.forward import Told, with_learned
from mildladder.core.evidence.guarded import guards_of, with_guards
from mildladder.core.model import Attempt
from mildladder.core.tally.counts import case_count
from mildladder.core.tally.signature import Tally, read_signature
from tests.samples import GATE, case, gate

HAZARD = {"kind": "data", "severity": 3, "chance": 0.6, "eased_by": "save", "eased_to": 0.1}
MORE = [
    {"id": "save", "title": "Save the counts", "kind": "safeguard"},
    {"id": "save-all", "title": "Save everything", "kind": "safeguard", "includes": ["save"]},
    {"id": "empty", "title": "Empty the store", "kind": "safeguard", "cancels": ["save"]},
]


def playbook():
    """The gate's, whose first fix may lose what a safeguard saves."""
    first, *steps = GATE["steps"]
    return gate(steps=[{**first, "hazards": [HAZARD]}, *steps, *MORE])


FIRST = GATE["steps"][0]["id"]


def tally(count, *attempts):
    """So many cases of these attempts, as they are counted."""
    made = [Attempt(step=step, outcome=outcome, **more) for step, outcome, more in attempts]
    text = case_count(case(1, attempts=made, end="handed-off", resolved_by=None)).signature
    return Tally(period="2026-01", signature=read_signature(text), count=count, returned=0)


SAVED, TRIED = ("save", "done", {}), (FIRST, "no-change", {})
COULD_NOT_SAVE = ("save", "could-not", {})


@pytest.mark.parametrize(
    ("attempts", "share"),
    [
        ((SAVED, TRIED), 1.0),
        ((("save-all", "done", {}), TRIED), 1.0),
        ((("save", "nothing-to-do", {}), TRIED), 1.0),
        ((TRIED, SAVED), 0.0),
        ((SAVED, ("empty", "done", {}), TRIED), 0.0),
        ((SAVED, ("empty", "could-not", {}), TRIED), 1.0),
        ((SAVED, ("empty", "nothing-to-do", {}), TRIED), 1.0),
        ((SAVED, ("empty", "done", {}), SAVED, TRIED), 1.0),
        ((COULD_NOT_SAVE, TRIED), 0.0),
        ((("save", "done", {"took": "no"}), TRIED), 0.0),
        ((("save", "skipped", {}), TRIED), 0.0),
        ((TRIED,), 0.0),
    ],
)
def test_a_safeguard_counts_where_it_was_carried_out_before(attempts, share):
    (found,) = with_guards({FIRST: HarmCount(10, {})}, guards_of(playbook()), [tally(10, *attempts)]).values()
    assert found.guarded.get("save", 0.0) == share


def test_tries_are_counted_by_how_many_cases_are_alike_and_only_where_they_were_carried_out():
    tallies = [tally(30, SAVED, TRIED), tally(10, TRIED), tally(99, SAVED, (FIRST, "could-not", {}))]
    (found,) = with_guards({FIRST: HarmCount(40, {"data": 6})}, guards_of(playbook()), tallies).values()
    assert found.guarded == {"save": 0.75}
    assert found.ease(playbook().step(FIRST).hazards[0]) == pytest.approx(0.25 + 0.75 * 0.1)


def test_what_a_safeguard_spared_is_not_held_against_it():
    safe = HarmCount(400, {"data": 24}, {"save": 1.0})
    bare = HarmCount(400, {"data": 240}, {})
    chances = [
        with_learned(playbook(), Told(harms={FIRST: told})).step(FIRST).hazards[0].chance for told in (safe, bare)
    ]
    assert chances == pytest.approx([0.6, 0.6], abs=0.01)
    # Far more than a safeguard leaves is at most certain.
    many = Told(harms={FIRST: HarmCount(400, {"data": 300}, {"save": 1.0})})
    assert with_learned(playbook(), many).step(FIRST).hazards[0].chance == 1.0
