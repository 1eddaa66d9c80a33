"""Parts of a proof: the first in the suite, the others in `make long`."""

import os
from collections.abc import Iterable
from typing import Any

import pytest
from hypothesis import settings


def in_part(values: Iterable[Any], in_the_suite: int) -> list[Any]:
    """All of the values, those beyond the suite's first marked."""
    return [
        one if at < in_the_suite else pytest.param(*(one if isinstance(one, tuple) else (one,)), marks=pytest.mark.long)
        for at, one in enumerate(values)
    ]


def examples(most: int) -> settings:
    """So many generated examples in `make long`, a quarter of them in the suite."""
    return settings(max_examples=most if os.environ.get("EXAMPLES") == "all" else most // 4, deadline=None)
