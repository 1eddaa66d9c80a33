"""Values that are computed from others: + - * / and brackets over numbers and names."""

import math
from collections.abc import Mapping
from functools import lru_cache
from importlib import resources
from typing import TYPE_CHECKING

from mildladder.core.errors import BadInput
from mildladder.core.model import Input

if TYPE_CHECKING:
    from lark import Lark, Token, Tree

__all__ = ["computed", "names_in_sum"]

_MOST_DIGITS = 10


@lru_cache(maxsize=1)
def _grammar() -> "Lark":
    # Most playbooks compute nothing, and the parser takes long to import.
    from lark import Lark

    text = resources.files("mildladder.core.ladder").joinpath("sums.lark").read_text(encoding="utf-8")
    return Lark(text, parser="lalr")


@lru_cache(maxsize=1024)
def _read(text: str) -> "Tree[Token]":
    from lark.exceptions import UnexpectedInput

    try:
        return _grammar().parse(text)
    except (UnexpectedInput, RecursionError) as error:
        place = getattr(error, "column", 0)
        where = f" at character {place}" if place and place > 0 else ""
        raise BadInput(
            f"'{text}' cannot be read{where}; write a sum of numbers and names, such as speed * 0.92, with blanks"
            " around a minus"
        ) from error


def names_in_sum(text: str) -> list[str]:
    """The names that a sum waits for, in order. Raises BadInput for what is no sum."""
    return list(dict.fromkeys(str(tree.children[0]) for tree in _read(text).find_data("name")))[::-1]


def computed(one: Input, values: Mapping[str, str]) -> str | None:
    """What an input comes to that is computed, rounded to whole multiples of its `round`; None while a value that it
    waits for is not there, or is no number, and where it comes to no number."""
    if one.compute is None:
        return None
    try:
        made = _value(_read(one.compute), values)
        rounded = math.floor(made / one.round + 0.5) * one.round if one.round else made
    except (KeyError, ValueError, ZeroDivisionError, OverflowError):
        return None
    return f"{rounded + 0.0:.{_MOST_DIGITS}g}" if math.isfinite(rounded) else None


def _value(tree: "Tree[Token]", values: Mapping[str, str]) -> float:
    if tree.data == "number":
        return float(str(tree.children[0]))
    if tree.data == "name":
        return float(values[str(tree.children[0])])
    left, right = (_value(part, values) for part in tree.children)  # type: ignore[arg-type]
    match tree.data:
        case "plus":
            return left + right
        case "minus":
            return left - right
        case "times":
            return left * right
    return left / right
