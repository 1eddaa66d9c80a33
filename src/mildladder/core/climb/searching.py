"""A search among like suspects, round by round: which are tried next, which are cleared, and when it is decided."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from mildladder.core.model import Search

__all__ = ["Standing", "standing"]


@dataclass(frozen=True)
class Standing:
    """Where a search stands. Suspects are numbered from 1.

    first, last: those that are still suspect. is_sure: it is known that one of them is bad. tried: first and last of
    those to try in this round, None once it is decided. found: the bad one; None while nobody knows, or none is.
    rounds_left: at most.
    """

    first: int
    last: int
    is_sure: bool
    tried: tuple[int, int] | None
    found: int | None
    rounds_left: int

    @property
    def is_decided(self) -> bool:
        """Whether it is known which one is bad, or that none is."""
        return self.tried is None


def standing(search: Search, rounds: Sequence[bool]) -> Standing:
    """Where a search stands after these rounds, each saying whether the bad one was among those tried.

    By halves the smaller half is tried first, so that no path is longer than ⌈log2 n⌉ rounds. What nobody has seen to
    be bad is tried even when it is the last one left, for it may be none.
    """
    first, last, is_sure, is_cleared = 1, search.count, False, False
    for is_among in rounds:
        _, end = _next(search, first, last)
        is_cleared = not is_among and first == last
        first, last = (first, end) if is_among else (end + 1, last)
        is_sure = is_sure or is_among
    if is_cleared:
        return Standing(first, last, False, None, None, 0)
    if first == last and is_sure:
        return Standing(first, last, True, None, first, 0)
    return Standing(
        first, last, is_sure, _next(search, first, last), None, _most_left(search, last - first + 1, is_sure)
    )


def _next(search: Search, first: int, last: int) -> tuple[int, int]:
    size = max(1, (last - first + 1) // 2) if search.how == "halves" else 1
    return first, first + size - 1


def _most_left(search: Search, suspects: int, is_sure: bool) -> int:
    rounds = math.ceil(math.log2(suspects)) if search.how == "halves" else suspects - 1
    return rounds if is_sure else rounds + 1
