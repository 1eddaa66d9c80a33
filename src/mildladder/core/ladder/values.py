"""Compare the values of facts: numbers as numbers, versions part by part (4.10 above 4.9), durations by length."""

import math
import re
from typing import Any

__all__ = ["Comparable", "comparable", "in_words", "seconds", "shortened", "value_in_words"]

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


def shortened(text: str, most: int, mark: str = "…") -> str:
    """A text that fits where it is kept: whole, or cut with a mark at its end."""
    return text if len(text) <= most else text[: most - len(mark)] + mark


def value_in_words(value: str) -> str:
    """A value as one says it: durations in words, anything else as it is."""
    length = seconds(value)
    return in_words(length / 60) if length else value


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
