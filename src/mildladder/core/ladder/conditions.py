"""The condition language: parse, print, evaluate, and find out what can never or must always hold.

A condition is three-valued (Kleene's logic): over a fact that is not known a comparison is neither true nor false
(None). A finding that is not known, and a unit's history that nobody tells, are simply not there: false.
"""

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import pairwise, product

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
from mildladder.core.ladder.values import Comparable, comparable

__all__ = [
    "AllOf",
    "AnyOf",
    "Compare",
    "Condition",
    "EarlierCases",
    "EarlierResolved",
    "Ended",
    "Found",
    "Known",
    "Not",
    "World",
    "endings_of",
    "evaluate",
    "facts_of",
    "findings_of",
    "histories_of",
    "mapped",
    "negation",
    "parse",
    "partly",
    "possible_values",
    "show",
    "walk",
]

_ORDERED: dict[str, Callable[[Comparable, Comparable], bool]] = {
    "below": lambda a, b: a < b,
    "above": lambda a, b: a > b,
    "at least": lambda a, b: a >= b,
    "at most": lambda a, b: a <= b,
}
_WORDS = frozenset(
    {"and", "or", "not", "is", "in", "below", "above", "at", "least", "most", "known", "found", "ended", "earlier"}
)


@dataclass(frozen=True)
class World:
    """What is known where a condition is looked at.

    endings: by step, how it ended last. types: of the facts, for their order. history: True or False for a test of the
    unit's history; None: nobody tells, but for a sort of units, of which `facts` has it under the words of the test.
    """

    facts: Mapping[str, str] = field(default_factory=dict)
    findings: Mapping[str, str] = field(default_factory=dict)
    endings: Mapping[str, str] = field(default_factory=dict)
    types: Mapping[str, str] = field(default_factory=dict)
    history: Callable[[EarlierResolved | EarlierCases], bool] | None = None


@lru_cache(maxsize=8192)
def parse(text: str) -> Condition:
    """Inverse of `show`. Raises BadInput that names the character (from 1) where reading stopped."""
    from mildladder.core.ladder.grammar import read

    return read(text)


def show(condition: Condition) -> str:
    """Inverse of `parse`, in the one normal way of writing it."""
    match condition:
        case Compare(fact, "in", values):
            return f"{_word(fact)} in ({', '.join(map(_word, values))})"
        case Compare(fact, operator, values):
            return f"{_word(fact)} {operator} {_word(values[0])}"
        case Known(fact):
            return f"{_word(fact)} known"
        case Found(check, finding):
            return f"{_word(check)} found {_word(finding)}"
        case Ended(step, outcome):
            return f"{_word(step)} ended {_word(outcome)}"
        case EarlierResolved(step, days):
            return f"earlier resolved by {_word(step)} within {days} days"
        case EarlierCases(least, days):
            return f"earlier cases at least {least} within {days} days"
        case Not(one):
            return f"not {_bracketed(one, (AllOf, AnyOf))}"
        case AllOf(parts):
            return " and ".join(_bracketed(part, (AnyOf,)) for part in parts)
        case AnyOf(parts):
            return " or ".join(show(part) for part in parts)
    return "always" if condition else "never"


def _bracketed(condition: Condition, weaker: tuple[type, ...]) -> str:
    return f"({show(condition)})" if isinstance(condition, weaker) else show(condition)


def _word(text: str) -> str:
    is_bare = re.fullmatch(r"[A-Za-z0-9][A-Za-z0-9_.-]*", text) is not None and text not in _WORDS
    return text if is_bare else f'"{text}"'


def evaluate(condition: Condition, world: World) -> bool | None:
    """Whether it holds; None when it hangs on a fact that is not known."""
    match condition:
        case Compare():
            return _compare(condition, world)
        case Known(fact):
            return True if fact in world.facts else None
        case Found(check, finding):
            return world.findings.get(check) == finding
        case Ended(step, outcome):
            return world.endings.get(step) == outcome
        case EarlierResolved() | EarlierCases():
            return world.history(condition) if world.history else world.facts.get(show(condition)) == "yes"
        case Not(one):
            value = evaluate(one, world)
            return None if value is None else not value
        case AllOf(parts):
            return _kleene([evaluate(part, world) for part in parts], False)
        case AnyOf(parts):
            return _kleene([evaluate(part, world) for part in parts], True)
    return bool(condition)


def _kleene(values: list[bool | None], settling: bool) -> bool | None:
    """`settling` as soon as one of them is that, else unknown as soon as one is unknown."""
    if settling in values:
        return settling
    return None if None in values else not settling


def _compare(test: Compare, world: World) -> bool | None:
    value = world.facts.get(test.fact)
    if value is None:
        return None
    kind = world.types.get(test.fact, "text")
    mine = comparable(value, kind)
    if mine is None:
        return None
    others = [comparable(other, kind) for other in test.values]
    if test.operator in _ORDERED:
        return None if others[0] is None else _ORDERED[test.operator](mine, others[0])
    is_one = mine in [other for other in others if other is not None]
    return not is_one if test.operator == "is not" else is_one


def partly(condition: Condition, world: World) -> Condition | None:
    """What is left to be decided by findings and ends of steps once the facts are known: True, False or None, or a
    condition."""
    if findings_of(condition) or endings_of(condition):
        match condition:
            case Not(one):
                left = partly(one, world)
                return left if left is None else (not left if isinstance(left, bool) else Not(left))
            case AllOf(parts) | AnyOf(parts):
                return _partly_of(parts, isinstance(condition, AnyOf), world)
        return condition
    return evaluate(condition, world)


def _partly_of(parts: tuple[Condition, ...], settling: bool, world: World) -> Condition | None:
    left = [partly(part, world) for part in parts]
    if settling in left:
        return settling
    # An unknown part stays unknown whatever is found, so it is kept as a test of a fact that nobody knows.
    open_parts = tuple(Known("") if part is None else part for part in left if part is not (not settling))
    if not open_parts:
        return not settling
    if all(isinstance(part, Known) for part in open_parts):
        return None
    return AnyOf(open_parts) if settling else AllOf(open_parts)


def walk(condition: Condition) -> Iterator[Condition]:
    """The condition and every one within it."""
    yield condition
    if isinstance(condition, Not):
        yield from walk(condition.one)
    elif isinstance(condition, AllOf | AnyOf):
        for part in condition.parts:
            yield from walk(part)


def mapped(condition: Condition, change: Callable[[Condition], Condition]) -> Condition:
    """The condition with each of its tests changed; what joins them stays."""
    match condition:
        case Not(one):
            return Not(mapped(one, change))
        case AllOf(parts):
            return AllOf(tuple(mapped(part, change) for part in parts))
        case AnyOf(parts):
            return AnyOf(tuple(mapped(part, change) for part in parts))
    return change(condition)


def facts_of(condition: Condition) -> tuple[str, ...]:
    """The facts that it looks at, each once, in the order in which it does."""
    return tuple(dict.fromkeys(part.fact for part in walk(condition) if isinstance(part, Compare | Known)))


def findings_of(condition: Condition) -> tuple[Found, ...]:
    """The findings that it tests."""
    return tuple(dict.fromkeys(part for part in walk(condition) if isinstance(part, Found)))


def endings_of(condition: Condition) -> tuple[Ended, ...]:
    """The ends of steps that it tests."""
    return tuple(dict.fromkeys(part for part in walk(condition) if isinstance(part, Ended)))


def histories_of(condition: Condition) -> tuple[EarlierResolved | EarlierCases, ...]:
    """The tests of the unit's history in it, each once."""
    return tuple(dict.fromkeys(part for part in walk(condition) if isinstance(part, EarlierResolved | EarlierCases)))


def negation(condition: Condition) -> Condition:
    """The contrary, with double negations taken away."""
    match condition:
        case Not(one):
            return one
        case Compare(fact, "is", values):
            return Compare(fact, "is not", values)
        case Compare(fact, "is not", values):
            return Compare(fact, "is", values)
    return Not(condition)


def possible_values(
    condition: Condition, types: Mapping[str, str], choices: Mapping[str, list[str]], most: int = 4096
) -> set[bool]:
    """The values that it can take over everything that may be known: {False} can never hold, {True} always does.

    Facts range over their choices, or over their values in the condition and one between, below and above each;
    findings and ends over those tested and another; history over both. Both values when there are more combinations
    than `most`.
    """
    facts = {
        fact: _samples(condition, fact, types.get(fact, "text"), choices.get(fact)) for fact in facts_of(condition)
    }
    checks: dict[str, list[str]] = {}
    for test in findings_of(condition):
        checks.setdefault(test.check, [""]).append(test.finding)
    ends: dict[str, list[str]] = {}
    for end in endings_of(condition):
        ends.setdefault(end.step, [""]).append(end.outcome)
    past = histories_of(condition)
    size = 2 ** len(past)
    for values in (*facts.values(), *checks.values(), *ends.values()):
        size *= max(len(values), 1)
    if size > most:
        return {True, False}
    found: set[bool] = set()
    for fact_values, finding_values, end_values, truths in product(
        product(*facts.values()),
        product(*checks.values()),
        product(*ends.values()),
        product((True, False), repeat=len(past)),
    ):
        history = dict(zip(past, truths, strict=True))
        world = World(
            facts=dict(zip(facts, fact_values, strict=True)),
            findings=dict(zip(checks, finding_values, strict=True)),
            endings=dict(zip(ends, end_values, strict=True)),
            types=types,
            history=history.__getitem__,
        )
        value = evaluate(condition, world)
        if value is not None:
            found.add(value)
        if len(found) == 2:
            break
    return found or {True, False}


def _samples(condition: Condition, fact: str, kind: str, choices: list[str] | None) -> list[str]:
    if choices is not None:
        return choices
    values = [v for part in walk(condition) if isinstance(part, Compare) and part.fact == fact for v in part.values]
    if kind == "yes-no":
        return ["yes", "no"]
    if kind == "number":
        numbers = sorted({float(v) for v in values if comparable(v, kind) is not None})
        between = [(a + b) / 2 for a, b in pairwise(numbers)]
        ends = [numbers[0] - 1, numbers[-1] + 1] if numbers else [0.0]
        return [f"{n:g}" if n == int(n) else repr(n) for n in sorted({*numbers, *between, *ends})]
    if kind == "version":
        return [sample for v in (values or ["1"]) for sample in (v, f"{v}.1", "0")]
    if kind == "duration":
        return [*values, "PT1S", "P9999D"]
    return [*dict.fromkeys(values), "\x00another"]
