"""Advice that may be out of date, or that somebody earns by, where no case speaks for it."""

from datetime import date

import pytest

from mildladder.core.review import review
from tests.samples import gate_with_step

TODAY = date(2026, 3, 1)


def hinted(source: dict, today: date | None = TODAY, helped: frozenset[str] = frozenset()) -> list[tuple[str, str]]:
    found = review(gate_with_step("clear-hold", source=source), today=today, helped=helped)
    return [(one.code, one.says) for one in found if one.code.endswith("-source")]


@pytest.mark.parametrize(
    ("read", "years"), [("2026-02-28", None), ("2024-03-02", None), ("2024-03-01", 2), ("2019-04-01", 6)]
)
def test_advice_is_old_two_years_after_it_was_read(read, years):
    found = hinted({"kind": "maker", "read": read})
    says = f"“Clear the hold-open setting” goes by advice that was read {years} years ago, and no case speaks for it"
    assert found == ([("old-source", says)] if years else [])


def test_what_comes_from_a_seller_is_told():
    says = "“Clear the hold-open setting” comes from somebody who sells something, and no case speaks for it"
    assert hinted({"kind": "seller"}) == [("seller-source", says)]
    assert hinted({"kind": "own-desk"}) == []


def test_a_step_that_ended_a_fault_needs_no_better_advice():
    old = {"kind": "seller", "read": "2019-04-01"}
    assert len(hinted(old)) == 2
    assert hinted(old, helped=frozenset({"clear-hold"})) == []
    assert len(hinted(old, helped=frozenset({"reload-program"}))) == 2


def test_without_a_day_nothing_is_old():
    assert hinted({"kind": "maker", "read": "2001-01-01"}, today=None) == []
