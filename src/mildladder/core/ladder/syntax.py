"""What a condition is made of: tests of facts, findings and history, and how they are joined."""

from dataclasses import dataclass
from typing import Literal

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
]

Operator = Literal["is", "is not", "in", "below", "above", "at least", "at most"]


@dataclass(frozen=True)
class Compare:
    """A fact against one value, or for `in` against several."""

    fact: str
    operator: Operator
    values: tuple[str, ...]


@dataclass(frozen=True)
class Known:
    """The fact is known."""

    fact: str


@dataclass(frozen=True)
class Found:
    """The check has found this."""

    check: str
    finding: str


@dataclass(frozen=True)
class Ended:
    """The step has come to this end, and to no other since."""

    step: str
    outcome: str


@dataclass(frozen=True)
class EarlierResolved:
    """This step resolved an earlier case of the unit within so many days."""

    step: str
    days: int


@dataclass(frozen=True)
class EarlierCases:
    """The unit had at least so many cases within so many days."""

    least: int
    days: int


@dataclass(frozen=True)
class Not:
    """The contrary."""

    one: "Condition"


@dataclass(frozen=True)
class AllOf:
    """Every one of two or more."""

    parts: tuple["Condition", ...]


@dataclass(frozen=True)
class AnyOf:
    """At least one of two or more."""

    parts: tuple["Condition", ...]


Condition = Compare | Known | Found | Ended | EarlierResolved | EarlierCases | Not | AllOf | AnyOf | bool
