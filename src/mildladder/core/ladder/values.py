"""Compare the values of facts: numbers as numbers, versions part by part (4.10 above 4.9), durations by length."""

import math
import re
import unicodedata
from typing import Any

from mildladder.core.model import Fact, Input
from mildladder.core.model.patterns import fits_pattern

__all__ = ["Comparable", "comparable", "fits_command", "in_words", "is_value", "not_of", "seconds", "value_in_words"]

# Values of one type are compared only with each other.
Comparable = Any

_DURATION = re.compile(r"P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+)S)?)?")
_PARTS = re.compile(r"\d+|[a-z]+")


def seconds(duration: str) -> int | None:
    """The length of an ISO 8601 duration of days, hours, minutes and seconds; None when it is none."""
    match = _DURATION.fullmatch(duration)
    if match is None or not any(match.groups()):
        return None
    days, hours, minutes, rest = (int(part or 0) for part in match.groups())
    return ((days * 24 + hours) * 60 + minutes) * 60 + rest


def in_words(minutes: float) -> str:
    """A length of time as one says it: “45 minutes”, “6 hours”, “2 days”."""
    for size, name in ((60 * 24, "day"), (60, "hour")):
        if minutes >= 2 * size or minutes == size:
            return _some(round(minutes / size, 1), name)
    return _some(max(1, round(minutes)), "minute")


def _some(number: float, name: str) -> str:
    return f"{number:g} {name}" + ("" if number == 1 else "s")


def value_in_words(value: str) -> str:
    """A value as one says it: durations in words, anything else as it is."""
    length = seconds(value)
    return in_words(length / 60) if length else value


_NOT_OF = {
    "yes-no": "is neither yes nor no",
    "number": "is no number",
    "version": "is no version, such as 4.2",
    "duration": "is no length of time, such as PT20M or P2D",
}


def not_of(value: str, kind: str) -> str:
    """That a value is none of its type, as one says it."""
    return f"'{value}' {_NOT_OF.get(kind, f'is no {kind}')}"


def is_value(asked: Fact | Input, value: str) -> bool:
    """Whether a fact or input can have this value: its type, range, length and pattern; never a control character."""
    if any(unicodedata.category(letter) in _NEVER for letter in value):
        return False
    if asked.type == "choice":
        return value in ((asked.choices if isinstance(asked, Fact) else asked.options) or ())
    there = comparable(value, asked.type)
    if there is None or isinstance(asked, Fact):
        return there is not None
    if asked.type == "number" and not _is_within(asked, there):
        return False
    return len(value) <= asked.most and (asked.pattern is None or fits_pattern(asked.pattern, value))


# Controls, marks that turn the direction of writing and the like, breaks of lines and paragraphs.
_NEVER = frozenset({"Cc", "Cf", "Cs", "Zl", "Zp"})


def _is_within(asked: Input, number: float) -> bool:
    return (asked.min is None or number >= asked.min) and (asked.max is None or number <= asked.max)


def fits_command(asked: Fact | Input, value: str) -> bool:
    """Whether the value may stand in a command that somebody will run: letters, digits and . _ : / - unless its pattern
    or its options say otherwise, and no hyphen first, which would make it an option of that command."""
    if not is_value(asked, value) or value.startswith("-"):
        return False
    is_told = asked.type == "choice" or (isinstance(asked, Input) and asked.pattern is not None)
    return is_told or _IN_COMMANDS.fullmatch(value) is not None


_IN_COMMANDS = re.compile(r"[A-Za-z0-9._:/-]+")


def comparable(value: str, kind: str) -> Comparable | None:
    """A value of a fact of that type as something that can be ordered; None when it is no such value."""
    match kind:
        case "number":
            try:
                number = float(value)
            except ValueError:
                return None
            return number if math.isfinite(number) else None
        case "version":
            return _version(value)
        case "duration":
            return seconds(value)
        case "yes-no":
            return value if value in ("yes", "no") else None
    return value


def _version(value: str) -> tuple[tuple[int, int, str], ...] | None:
    """Numbers above words (4.2 above 4.beta), missing parts as 0 (4 equals 4.0)."""
    parts = _PARTS.findall(value.lower())
    if not parts or not value[:1].isdigit():
        return None
    made = [(1, int(part), "") if part.isdigit() else (0, 0, part) for part in parts]
    while len(made) > 1 and made[-1] == (1, 0, ""):
        made.pop()
    return tuple(made)
