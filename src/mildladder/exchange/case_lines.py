"""The case log as JSON Lines: one case a line, read and written."""

from collections.abc import Iterable, Iterator

from pydantic import ValidationError

from mildladder.core.errors import BadInput
from mildladder.core.model import Case

__all__ = ["read_cases", "write_cases"]

_LONGEST = 1_000_000


def read_cases(lines: Iterable[bytes], source: str | None = None) -> Iterator[Case]:
    """Inverse of write_cases; blank lines are passed. Raises BadInput with line and path at the first bad case."""
    for number, line in enumerate(lines, start=1):
        if not line.strip():
            continue
        if len(line) > _LONGEST:
            raise BadInput(f"the line has over {_LONGEST:,} bytes", line=number, source=source)
        try:
            yield Case.model_validate_json(line)
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            path = ".".join(str(part) for part in first["loc"])
            raise BadInput(_says(first["type"], first["msg"]), path=path, line=number, source=source) from error


def write_cases(cases: Iterable[Case]) -> Iterator[bytes]:
    """Inverse of read_cases; one JSON object a line, absent keys left out."""
    for case in cases:
        yield case.model_dump_json(exclude_unset=True).encode() + b"\n"


def _says(kind: str, message: str) -> str:
    if kind == "extra_forbidden":
        return "there is no such key in a case; see the case log format"
    if kind == "missing":
        return "the key is missing"
    return message.removeprefix("Value error, ").removeprefix("Input ").strip()
