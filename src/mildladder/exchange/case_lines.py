"""The case log as JSON Lines: one case a line, read and written."""

import re
from collections.abc import Iterable, Iterator
from typing import IO

from pydantic import ValidationError

from mildladder.core.errors import BadInput
from mildladder.core.model import Case, CaseLine, RefusedLine

__all__ = ["lines_of", "read_each", "write_cases"]

_LONGEST = 1_000_000
_MOST_PASSED = 20_000_000
_KEPT = 2_000


def lines_of(file: IO[bytes]) -> Iterator[bytes]:
    """The lines of a file, none longer than is read: of a longer one the beginning, and what follows is passed over.

    Raises BadInput for a line without end, in what is no export of cases.
    """
    while line := file.readline(_LONGEST + 1):
        yield line
        passed = 0
        while not line.endswith(b"\n") and len(line) > _LONGEST:
            line = file.readline(_LONGEST + 1)
            passed += len(line)
            if passed > _MOST_PASSED:
                raise BadInput(f"a line has over {_MOST_PASSED:,} bytes: this is no file of cases, one on each line")


def read_each(lines: Iterable[bytes]) -> Iterator[CaseLine | RefusedLine]:
    """Every line that is not blank, read or with the reason why it cannot be. Inverse of write_cases."""
    for number, line in enumerate(lines, start=1):
        if not line.strip():
            continue
        try:
            yield CaseLine(number, Case.model_validate_json(_short_enough(line)))
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            path = ".".join(str(part) for part in first["loc"])
            yield _refused(line, number, path, _says(first["type"], first["msg"]))
        except BadInput as error:
            yield _refused(line, number, error.path, error.says)


def write_cases(cases: Iterable[Case]) -> Iterator[bytes]:
    """Inverse of read_each; one JSON object a line, absent keys left out."""
    for case in cases:
        yield case.model_dump_json(exclude_unset=True, exclude_none=True).encode() + b"\n"


def _short_enough(line: bytes) -> bytes:
    if len(line) > _LONGEST:
        raise BadInput(f"the line has over {_LONGEST:,} bytes")
    return line


def _refused(line: bytes, number: int, path: str, says: str) -> RefusedLine:
    text = line[:_KEPT].decode(errors="replace").rstrip("\r\n")
    return RefusedLine(line=number, path=path, says=says, text=text)


def _no_json(message: str) -> str:
    """The parser's message without its own line number, which is always the first of this one line."""
    found = re.fullmatch(r"Invalid JSON: (.+) at line \d+ column (\d+)", message)
    if found is None:
        return message
    what, column = found.groups()
    return "the JSON breaks off before its end" if what.startswith("EOF") else f"no JSON at character {column}: {what}"


def _says(kind: str, message: str) -> str:
    if kind == "extra_forbidden":
        return "there is no such key in a case; see the case log format"
    if kind == "missing":
        return "the key is missing"
    if kind == "json_invalid":
        return _no_json(message)
    if kind.startswith("datetime") and "timezone" not in message:
        return "is no moment; write it as 2026-03-01T08:10:00Z"
    return message.removeprefix("Value error, ").removeprefix("Input ").strip()
