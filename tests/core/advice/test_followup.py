"""What is promised is counted on as far as what was promised before has come."""

import pytest

from mildladder.core.advice.followup import lowered, share_to_count_on
from mildladder.core.advice.nudge import Nudge

PROMISED = {"mean": 120.0, "low": 60.0, "high": 180.0}


@pytest.mark.parametrize(
    ("changes", "came", "share"),
    [(20, 7.9, 0.79), (20, 8.0, 1.0), (19, 1.0, 1.0), (40, 12.0, 1.0), (25, -3.0, 0.0), (0, 0.0, 1.0)],
)
def test_promises_are_lowered_only_where_much_less_came_of_many(changes, came, share):
    assert share_to_count_on([(10.0, came)] * changes) == pytest.approx(share)


def test_large_and_small_promises_are_added_up_not_averaged():
    assert share_to_count_on([(100.0, 50.0)] + [(1.0, 1.0)] * 19) == pytest.approx(69 / 119)


def test_all_that_a_nudge_promises_is_lowered_and_nothing_else():
    nudge = Nudge.model_validate(
        {
            "key": "a",
            "kind": "move",
            "says": "Put it there",
            "why": "So",
            "steps": ["a"],
            "cases": 40,
            "ladder": None,
            **dict.fromkeys(("saving", "people", "waiting", "parts", "harm"), PROMISED),
            "by_person": {"desk": 90.0},
            "resolved_before": 0.5,
            "resolved_after": 0.6,
            "before": [1.0],
            "after": [1.0],
        }
    )
    half = lowered(nudge, 0.5)
    for name in ("saving", "people", "waiting", "parts", "harm"):
        assert getattr(half, name).model_dump() == {"mean": 60, "low": 30, "high": 90}
    assert half.by_person == {"desk": 45}
    kept = {"key", "kind", "says", "why", "steps", "cases", "resolved_before", "resolved_after", "before", "after"}
    assert half.model_dump(include=kept) == nudge.model_dump(include=kept)
