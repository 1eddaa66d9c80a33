"""Read conditions by their grammar; apart from `conditions.py`, since a ladder without conditions needs no parser."""

import re
from functools import cache
from importlib import resources

from lark import Lark, Token, Transformer
from lark.exceptions import UnexpectedInput, UnexpectedToken

from mildladder.core.errors import BadInput
from mildladder.core.ladder.syntax import (
    AllOf,
    AnyOf,
    Compare,
    Condition,
    EarlierCases,
    EarlierResolved,
    Ended,
    Found,
    Known,
    Not,
)

__all__ = ["read", "stops_at"]


class _Build(Transformer):  # type: ignore[type-arg]
    def start(self, items: list[Condition]) -> Condition:
        return items[0]

    def bare(self, items: list[Token]) -> str:
        return str(items[0])

    def quoted(self, items: list[Token]) -> str:
        return str(items[0])[1:-1]

    def any_of(self, items: list[Condition]) -> Condition:
        return items[0] if len(items) == 1 else AnyOf(_flat(items, AnyOf))

    def all_of(self, items: list[Condition]) -> Condition:
        return items[0] if len(items) == 1 else AllOf(_flat(items, AllOf))

    def negated(self, items: list[Condition]) -> Condition:
        return Not(items[0])

    def is_(self, items: list[str]) -> Condition:
        return Compare(items[0], "is", (items[1],))

    def is_not(self, items: list[str]) -> Condition:
        return Compare(items[0], "is not", (items[1],))

    def in_(self, items: list[str]) -> Condition:
        return Compare(items[0], "in", tuple(items[1:]))

    def below(self, items: list[str]) -> Condition:
        return Compare(items[0], "below", (items[1],))

    def above(self, items: list[str]) -> Condition:
        return Compare(items[0], "above", (items[1],))

    def at_least(self, items: list[str]) -> Condition:
        return Compare(items[0], "at least", (items[1],))

    def at_most(self, items: list[str]) -> Condition:
        return Compare(items[0], "at most", (items[1],))

    def known(self, items: list[str]) -> Condition:
        return Known(items[0])

    def found(self, items: list[str]) -> Condition:
        return Found(items[0], items[1])

    def ended(self, items: list[str]) -> Condition:
        return Ended(items[0], items[1])

    def earlier_resolved(self, items: list[str]) -> Condition:
        return EarlierResolved(items[0], int(items[1]))

    def earlier_cases(self, items: list[str]) -> Condition:
        return EarlierCases(int(items[0]), int(items[1]))


def _flat(items: list[Condition], kind: type[AllOf] | type[AnyOf]) -> tuple[Condition, ...]:
    return tuple(part for item in items for part in (item.parts if isinstance(item, kind) else (item,)))


@cache
def _grammar() -> Lark:
    text = resources.files("mildladder.core.ladder").joinpath("conditions.lark").read_text(encoding="utf-8")
    return Lark(text, parser="lalr", transformer=_Build(), maybe_placeholders=False)


_VALUE_AND_MORE = re.compile(r"\b(?:is|is not|below|above|at least|at most) +([^\s\"'(),]+) +$")


def _hint(text: str, place: int) -> str:
    """What to write instead; where a value goes on after a blank, that it wants quotes."""
    value, more = _VALUE_AND_MORE.search(text[: place - 1]), text[place - 1 :].split()
    if value and more and more[0] not in ("and", "or"):
        return f"; a value of several words stands in quotes, '{value[1]} {more[0]}'"
    return "; write for instance: model is GR4 and firmware below 4.2"


def read(text: str) -> Condition:
    """The condition that the text means. Raises BadInput that names the character (from 1) where reading stopped."""
    try:
        return _grammar().parse(text)  # type: ignore[return-value]
    except UnexpectedInput as error:
        place = _place(text, error)
        raise BadInput(f"the condition '{text}' cannot be read at character {place}{_hint(text, place)}") from error
    except RecursionError as error:
        raise BadInput("the condition has too many brackets") from error


def stops_at(text: str) -> int | None:
    """The character (from 1) where reading stops; None for a condition that can be read."""
    try:
        _grammar().parse(text)
    except UnexpectedInput as error:
        return _place(text, error)
    except RecursionError:
        return 1
    return None


def _place(text: str, error: UnexpectedInput) -> int:
    is_cut_short = isinstance(error, UnexpectedToken) and error.token.type == "$END"
    return len(text) + 1 if is_cut_short or error.column < 1 else error.column
