"""The condition language of rungs: parse, print and evaluate ``fact is value``.

A condition is three-valued: over a fact that is not yet known it is neither true nor false (None).
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache, lru_cache
from importlib import resources

from lark import Lark, Transformer
from lark.exceptions import UnexpectedInput

from mildladder.core.errors import BadInput

__all__ = ["Condition", "evaluate", "parse", "show"]

_LATER = frozenset({"and", "or", "not", "in", "below", "above", "at", "known", "found", "earlier"})
_SHAPE = "a condition reads: fact is value"


@dataclass(frozen=True)
class Condition:
    """`fact` (an id) has `value`."""

    fact: str
    value: str


class _Build(Transformer):  # type: ignore[type-arg]
    def start(self, items: list[str]) -> Condition:
        return Condition(str(items[0]), str(items[1]))

    def bare(self, items: list[str]) -> str:
        return str(items[0])

    def quoted(self, items: list[str]) -> str:
        return str(items[0])[1:-1]


@cache
def _grammar() -> Lark:
    text = resources.files("mildladder.core").joinpath("conditions.lark").read_text(encoding="utf-8")
    return Lark(text, parser="lalr", transformer=_Build())


@lru_cache(maxsize=4096)
def parse(text: str) -> Condition:
    """Inverse of `show`. Raises BadInput that names the word or the character (from 1) where reading stopped."""
    try:
        return _grammar().parse(text)  # type: ignore[return-value]
    except UnexpectedInput as error:
        later = next((word for word in text.split() if word.strip("()") in _LATER), None)
        if later is not None:
            raise BadInput(
                f"the condition '{text}' uses '{later.strip('()')}', which is not read yet; {_SHAPE}"
            ) from error
        place = error.column if isinstance(error.column, int) and error.column > 0 else len(text) + 1
        raise BadInput(f"the condition '{text}' cannot be read at character {place}; {_SHAPE}") from error


def show(condition: Condition) -> str:
    """Inverse of `parse`, in the one normal way of writing it."""
    plain = condition.value.replace("_", "a").replace(".", "a").replace("-", "a")
    is_bare = plain.isascii() and plain.isalnum() and condition.value[0].isalnum()
    return f"{condition.fact} is {condition.value}" if is_bare else f'{condition.fact} is "{condition.value}"'


def evaluate(condition: Condition, facts: Mapping[str, str]) -> bool | None:
    """Whether it holds for a unit with these facts; None when its fact is not known."""
    value = facts.get(condition.fact)
    return None if value is None else value == condition.value
