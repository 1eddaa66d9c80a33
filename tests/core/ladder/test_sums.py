"""Values that are computed from others: read as one writes them, rounded as asked, and never wrong in silence."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mildladder.core.errors import BadInput
from mildladder.core.ladder.sums import computed, names_in_sum
from mildladder.core.model import Input


def made(compute: str, to: float | None = None, **values: str) -> str | None:
    data = {"id": "it", "compute": compute} | ({"round": to} if to else {})
    return computed(Input.model_validate(data), {name.replace("_", "-"): value for name, value in values.items()})


@pytest.mark.parametrize(
    ("compute", "value"),
    [
        ("1 + 2 * 3", "7"),
        ("(1 + 2) * 3", "9"),
        ("10 - 4 - 3", "3"),
        ("12 / 4 / 3", "1"),
        ("2 * (3 - (1 + 1))", "2"),
        ("0.1 + 0.2", "0.3"),
        ("1 / 3", "0.3333333333"),
    ],
)
def test_sums_are_worked_out_as_one_writes_them(compute, value):
    assert made(compute) == value


@pytest.mark.parametrize(("to", "value"), [(5, "85"), (1, "83"), (0.5, "83"), (10, "80"), (None, "82.8")])
def test_they_are_rounded_to_whole_multiples(to, value):
    assert made("speed * 0.92", to, speed="90") == value


def test_half_goes_up_and_a_name_may_hold_hyphens():
    assert made("lane-width / 2", 5, lane_width="15") == "10"
    assert set(names_in_sum("lane-width - lane-width * 2 + speed")) == {"lane-width", "speed"}


@pytest.mark.parametrize("values", [{}, {"speed": "fast"}, {"speed": "nan"}, {"speed": "inf"}])
def test_what_is_not_known_or_no_number_gives_nothing(values):
    assert made("speed * 0.92", 5, **values) is None
    assert made("1 / (speed - speed)", speed="4") is None


@pytest.mark.parametrize("text", ["2 *", "* 2", "a b", "(1", "1)", "2 ^ 3", "__import__", "a; b", "1.2.3", "A + 1"])
def test_what_is_no_sum_is_refused(text):
    with pytest.raises(BadInput, match="write a sum of numbers and names"):
        names_in_sum(text)


SUMS = st.recursive(
    st.integers(0, 99).map(str),
    lambda inner: st.tuples(inner, st.sampled_from("+-*/"), inner).map(lambda parts: f"({' '.join(parts)})"),
    max_leaves=12,
)


@given(SUMS)
def test_any_sum_is_what_arithmetic_says(text):
    try:
        right = eval(text)
    except ZeroDivisionError:
        right = None
    assert made(text) == (None if right is None else f"{right + 0.0:.10g}")
