"""How often a unit's history was as a condition asks, and what a forecast then makes of it."""

from datetime import timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mildladder.core.climb.machine import begin
from mildladder.core.evidence.histories import Visited, history_shares, history_tests, with_histories
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.conditions import parse, show
from mildladder.core.model import Playbook
from mildladder.core.model.events import ClimbEvent, EarlierCase, Started
from tests.samples import GATE, NOON, gate

RESOLVED, OFTEN = "earlier resolved by clear-hold within 10 days", "earlier cases at least 2 within 20 days"


def asking(*whens: str | None) -> Playbook:
    """The sample whose rungs ask so."""
    ladder = [
        {**{name: value for name, value in rung.items() if name != "when"}, **({"when": when} if when else {})}
        for rung, when in zip(GATE["ladder"], whens, strict=True)
    ]
    return gate(ladder=ladder)


def without(*numbers: int) -> Playbook:
    return gate(
        ladder=[
            {name: value for name, value in rung.items() if name != "when"}
            for number, rung in enumerate(GATE["ladder"])
            if number not in numbers
        ]
    )


VISITS = st.builds(
    lambda unit, day, hours, step: Visited(
        unit, NOON + timedelta(days=day), NOON + timedelta(days=day, hours=hours), step
    ),
    st.sampled_from(["", "A", "B"]),
    st.integers(0, 40),
    st.integers(1, 60),
    st.sampled_from([None, "clear-hold", "reload-program"]),
)


@settings(max_examples=40)
@given(st.lists(VISITS, min_size=30, max_size=45))
def test_a_test_held_as_often_as_guided_cases_begun_then_would_have_it(visits):
    tests = (parse(RESOLVED), parse(OFTEN))
    shares = history_shares(tests, visits, [one for one in visits if one.unit])
    for test in tests:
        held = 0
        for one in visits:
            earlier = tuple(
                EarlierCase(case="C", closed=other.closed, resolved_by=other.resolved_by)
                for other in visits
                if one.unit and other.unit == one.unit and other.closed < one.opened
            )
            began = begin(gate(), ClimbEvent(at=one.opened, who=1, move=Started(history=earlier)))
            held += began.world.history(test)
        assert shares[show(test)] == pytest.approx(held / len(visits))


def test_of_few_cases_nobody_knows_how_often():
    assert history_shares((parse(OFTEN),), [Visited("A", NOON, NOON, None)] * 29, []) == {}


def test_a_rung_under_a_history_is_climbed_by_the_share_of_units_that_had_it():
    asked = asking(None, None, None, RESOLVED, None)
    assert history_tests(asked) == (parse(RESOLVED),)
    never, always = forecast(without(3)), forecast(without())
    assert forecast(asked).effort == pytest.approx(never.effort)
    some = forecast(with_histories(asked, {RESOLVED: 0.2}))
    for figure in ("effort", "harm", "elapsed", "resolved", "handed_off"):
        mixed = 0.2 * getattr(always, figure) + 0.8 * getattr(never, figure)
        assert getattr(some, figure) == pytest.approx(mixed), figure
    assert forecast(with_histories(asked, {OFTEN: 0.2})) == forecast(asked)


def test_one_history_is_one_fact_of_the_unit_however_often_it_is_asked():
    """Two rungs under the same history come up on the same units, and under its contrary on the others."""
    asked = asking(None, RESOLVED, None, f"not {RESOLVED}", None)
    some = forecast(with_histories(asked, {RESOLVED: 0.3}))
    assert some.effort == pytest.approx(0.3 * forecast(without(3)).effort + 0.7 * forecast(without(1)).effort)


def test_history_joins_with_facts_of_units():
    both = forecast(with_histories(asking(None, None, None, f"model is GR4 and {RESOLVED}", None), {RESOLVED: 0.5}))
    assert both.effort == pytest.approx(0.3 * forecast(without()).effort + 0.7 * forecast(without(3)).effort)
