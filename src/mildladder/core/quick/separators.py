"""Brackets and dashes as people write them in lists, made into the separators that the grammar knows."""

import re
from collections.abc import Callable

__all__ = ["with_plain_separators"]

_BRACKETS = re.compile(r"\(([^()\[\]]*)\)|\[([^()\[\]]*)\]")
_DASH = re.compile(r"(?<=\s)[-–—](?=\s)")
_QUOTED = re.compile(r"[\"“”„«»]")


def with_plain_separators(line: str, is_understood: Callable[[str], bool]) -> str:
    """The line, as long as it was, with a semicolon in place of each bracket and dash that parts something from the
    title: those around words, or before words, that are all understood. Others stay as they are."""
    if _QUOTED.search(line):
        return line
    made = list(line)
    for there in _BRACKETS.finditer(line):
        if is_understood(there[0][1:-1]):
            made[there.start()] = made[there.end() - 1] = ";"
    plain = "".join(made)
    ends = len(plain)
    for there in reversed(list(_DASH.finditer(plain))):
        if is_understood(_up_to_separator(plain[there.end() : ends])):
            plain = f"{plain[: there.start()]};{plain[there.end() :]}"
            ends = there.start()
    return plain


def _up_to_separator(text: str) -> str:
    return re.split(r"[;\t|]", text, maxsplit=1)[0]
