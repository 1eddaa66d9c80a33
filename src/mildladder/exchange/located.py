"""Read YAML 1.2 or JSON text into plain data together with the line that each part stands on.

Kept apart from the playbook file so that any document of ours can tell its reader where it is wrong. Aliases are
refused: nobody writes them by hand here, and they let a small file grow without end.
"""

import json
import math
import re
from collections.abc import Callable
from typing import Any, ClassVar, TypeVar

import yaml
from pydantic import BaseModel, ValidationError
from yaml.events import (
    AliasEvent,
    DocumentStartEvent,
    Event,
    MappingEndEvent,
    MappingStartEvent,
    ScalarEvent,
    SequenceEndEvent,
    SequenceStartEvent,
)

from mildladder.core.errors import BadInput

__all__ = ["MOST_BYTES", "Located", "line_of", "read_located", "validated", "written"]

Model = TypeVar("Model", bound=BaseModel)
MOST_BYTES = 500_000
_DEEPEST = 60
_MOST_DIGITS = 40
_PREFIX = "tag:yaml.org,2002:"
Path = tuple[str | int, ...]


class Located:
    """Plain data (`data`) and the 1-based line of every path in it (`lines`)."""

    def __init__(self, data: Any, lines: dict[tuple[str | int, ...], int], source: str | None) -> None:
        self.data, self.lines, self.source = data, lines, source


def read_located(raw: bytes, source: str | None = None) -> Located:
    """Raises BadInput with the line for bytes that are not UTF-8, not YAML 1.2 or JSON, too large or too deep."""
    if len(raw) > MOST_BYTES:
        raise BadInput(f"the file has {len(raw):,} bytes; at most {MOST_BYTES:,} are read", source=source)
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = raw[: error.start].count(b"\n") + 1
        raise BadInput("the file is not UTF-8; save it as UTF-8", line=line, source=source) from error
    located = _read(text.replace("\t", " ") if text.lstrip().startswith("{") else text, source)
    if text.lstrip().startswith("{"):
        located.data = _json_or(text, located.data)
    return located


def _json_or(text: str, otherwise: Any) -> Any:
    """JSON has escapes that YAML reads differently; text that is not JSON after all is a YAML flow mapping."""
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        return otherwise


def _read(text: str, source: str | None) -> Located:
    reader = _Reader()
    try:
        for event in yaml.parse(text, Loader=_PARSER):
            reader.take(event)
    except yaml.MarkedYAMLError as error:
        line = error.problem_mark.line + 1 if error.problem_mark else None
        raise BadInput(f"this is not YAML: {error.problem or error.context}", line=line, source=source) from error
    except BadInput as error:
        raise BadInput(error.says, path=error.path, line=error.line, source=source) from error
    except (yaml.YAMLError, ValueError) as error:
        raise BadInput(f"this is not YAML: {str(error).splitlines()[0]}", source=source) from error
    if not reader.lines:
        raise BadInput("the file is empty", source=source)
    return Located(reader.data, reader.lines, source)


_PARSER = getattr(yaml, "CSafeLoader", yaml.SafeLoader)
_NOTHING = object()


class _Open:
    """A mapping or list that is being read. key: the one whose value comes next, `_NOTHING` where a key comes next."""

    def __init__(self, data: Any, path: Path) -> None:
        self.data, self.path = data, path
        self.key: Any = _NOTHING


class _Reader:
    """Puts events together, one after the other and never one within another, so that no depth can hurt."""

    def __init__(self) -> None:
        self.data: Any = None
        self.lines: dict[Path, int] = {}
        self._open: list[_Open] = []
        self._documents = 0

    def take(self, event: Event) -> None:
        """The next event. Raises BadInput for what is not read."""
        line = event.start_mark.line + 1
        if isinstance(event, DocumentStartEvent):
            self._documents += 1
            if self._documents > 1:
                raise BadInput("the file holds a second document; keep each in a file of its own", line=line)
        elif isinstance(event, AliasEvent):
            path = plain_path(self._path())
            raise BadInput("aliases (*name) are not read; write the part out", line=line, path=path)
        elif isinstance(event, ScalarEvent):
            self._scalar(event, line)
        elif isinstance(event, MappingStartEvent | SequenceStartEvent):
            self._begin({} if isinstance(event, MappingStartEvent) else [], line)
        elif isinstance(event, MappingEndEvent | SequenceEndEvent):
            self._open.pop()

    def _path(self) -> Path:
        """Where the next value stands."""
        if not self._open:
            return ()
        inner = self._open[-1]
        if isinstance(inner.data, list):
            return (*inner.path, len(inner.data))
        return inner.path if inner.key is _NOTHING else (*inner.path, inner.key)

    def _is_key(self) -> bool:
        return bool(self._open) and isinstance(self._open[-1].data, dict) and self._open[-1].key is _NOTHING

    def _begin(self, data: Any, line: int) -> None:
        path = self._path()
        if self._is_key():
            raise BadInput("a key must be a plain word", line=line, path=plain_path(path))
        if len(path) > _DEEPEST:
            raise BadInput(f"the file nests deeper than {_DEEPEST} levels", line=line)
        self._put(data, path, line)
        self._open.append(_Open(data, path))

    def _scalar(self, event: ScalarEvent, line: int) -> None:
        path = self._path()
        if not self._is_key():
            self._put(_value(event, line, path), path, line)
            return
        inner, key = self._open[-1], event.value
        if key in inner.data:
            raise BadInput(f"the key '{key}' stands here twice", line=line, path=plain_path(path))
        inner.key = key
        self.lines[(*path, key)] = line

    def _put(self, value: Any, path: Path, line: int) -> None:
        self.lines.setdefault(path, line)
        if not self._open:
            self.data = value
            return
        inner = self._open[-1]
        if isinstance(inner.data, list):
            inner.data.append(value)
        else:
            inner.data[inner.key] = value
            inner.key = _NOTHING


# The core schema of YAML 1.2, section 10.3.2.
_READERS: tuple[tuple[str, re.Pattern[str], Callable[[str], Any]], ...] = (
    ("null", re.compile(r"|~|null|Null|NULL"), lambda _: None),
    ("bool", re.compile(r"true|True|TRUE|false|False|FALSE"), lambda text: text.lower() == "true"),
    ("int", re.compile(r"[-+]?[0-9]+"), int),
    ("int", re.compile(r"0o[0-7]+|0x[0-9a-fA-F]+"), lambda text: int(text, 0)),
    ("float", re.compile(r"[-+]?(?:\.[0-9]+|[0-9]+(?:\.[0-9]*)?)(?:[eE][-+]?[0-9]+)?"), float),
    ("float", re.compile(r"[-+]?\.(?:inf|Inf|INF)|\.(?:nan|NaN|NAN)"), lambda _: math.nan),
)


def _value(event: ScalarEvent, line: int, path: Path) -> Any:
    """A plain word as what it stands for; whatever is quoted is text."""
    name = (event.tag or "").removeprefix(_PREFIX)
    if name.startswith("!") and name != "!":
        raise BadInput(f"the tag '{name[:60]}' is not read; write a plain value", line=line, path=plain_path(path))
    text = event.value
    if not event.implicit[0] and name in ("", "!", "str"):
        return text
    for kind, pattern, read in _READERS:
        if (not name or kind == name) and pattern.fullmatch(text):
            if len(text) > _MOST_DIGITS:
                says = f"the number has {len(text):,} characters; at most {_MOST_DIGITS} are read"
                raise BadInput(says, line=line, path=plain_path(path))
            made = read(text)
            return math.nan if isinstance(made, float) and not math.isfinite(made) else made
    return text


class _Dumper(yaml.SafeDumper):  # type: ignore[misc]
    """Quotes the words that `_READERS` would read as something else; the package by itself goes by YAML 1.1."""

    yaml_implicit_resolvers: ClassVar[dict[str, Any]] = {}

    def increase_indent(self, flow: bool = False, indentless: bool = False) -> None:  # noqa: ARG002
        """Items of a list stand further in than the key that holds them."""
        super().increase_indent(flow, False)


def _text(dumper: yaml.SafeDumper, text: str) -> yaml.ScalarNode:
    """Breaks that no editor shows are written by their number: elsewhere they are read back as plain ones."""
    style = '"' if any(one in text for one in "\x85\u2028\u2029") else None
    return dumper.represent_scalar(_PREFIX + "str", text, style)


_Dumper.add_representer(str, _text)
for _kind, _pattern, _ in _READERS:
    _Dumper.add_implicit_resolver(_PREFIX + _kind, re.compile(rf"(?:{_pattern.pattern})\Z"), None)


def written(data: Any) -> bytes:
    """Plain data as YAML 1.2 in UTF-8; inverse of `read_located`."""
    made = yaml.dump(data, Dumper=_Dumper, encoding="utf-8", allow_unicode=True, width=110, sort_keys=False)
    assert isinstance(made, bytes), "with an encoding it gives bytes"
    return made


def plain_path(path: tuple[str | int, ...]) -> str:
    """A path as it is shown: ``steps.2.fixes``, with list places counted from 0 as in JSON."""
    return ".".join(str(part) for part in path)


def line_of(located: Located, path: tuple[str | int, ...]) -> int | None:
    """The line of the path, or of the nearest part above it."""
    for length in range(len(path), -1, -1):
        if path[:length] in located.lines:
            return located.lines[path[:length]]
    return None


def validated(model: type[Model], located: Located, says: Callable[[dict[str, Any], str], str]) -> Model:
    """The data as a model. Raises BadInput with line and path; `says` words one validation error."""
    try:
        return model.model_validate(located.data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        path = _path_in(located.data, first["loc"])
        raise BadInput(
            says(dict(first), str(path[-1]) if path else ""),
            path=plain_path(path),
            line=line_of(located, path),
            source=located.source,
        ) from error


def _path_in(data: Any, loc: tuple[str | int, ...]) -> tuple[str | int, ...]:
    """The parts of an error's place that are in the data, and the missing key at its end: union tags fall out."""
    path: list[str | int] = []
    for number, part in enumerate(loc):
        if _has(data, part):
            data = data[part]
        elif number < len(loc) - 1 or not isinstance(data, dict) or part == "[key]":
            continue
        path.append(part)
    return tuple(path)


def _has(data: Any, part: str | int) -> bool:
    if isinstance(data, list):
        return isinstance(part, int) and part < len(data)
    return isinstance(data, dict) and part in data
