"""Read YAML 1.2 or JSON text into plain data together with the line that each part stands on.

Kept apart from the playbook file so that any document of ours can tell its reader where it is wrong. Aliases are
refused: nobody writes them by hand here, and they let a small file grow without end.
"""

import json
import math
import re
from collections.abc import Callable
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError
from ruamel.yaml import YAML
from ruamel.yaml.error import MarkedYAMLError, YAMLError
from ruamel.yaml.nodes import MappingNode, Node, ScalarNode, SequenceNode

from mildladder.core.errors import BadInput

__all__ = ["MOST_BYTES", "Located", "line_of", "plain_path", "read_located", "validated"]

Model = TypeVar("Model", bound=BaseModel)
MOST_BYTES = 4_000_000
_DEEPEST = 60
_MOST_BRACKETS = 150
_PREFIX = "tag:yaml.org,2002:"


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
    _refuse_deep_brackets(text, source)
    located = _compose(text.replace("\t", " ") if text.lstrip().startswith("{") else text, source)
    if text.lstrip().startswith("{"):
        located.data = _json_or(text, located.data)
    return located


def _refuse_deep_brackets(text: str, source: str | None) -> None:
    """The YAML reader takes ever longer over brackets in brackets, so they are counted before it sees them."""
    depth = 0
    for match in re.finditer(r"[{\[}\]]", text):
        depth += 1 if match[0] in "{[" else -1 if depth else 0
        if depth > _MOST_BRACKETS:
            line = text.count("\n", 0, match.start()) + 1
            raise BadInput(f"the file nests deeper than {_DEEPEST} levels", line=line, source=source)


def _json_or(text: str, otherwise: Any) -> Any:
    """JSON has escapes that YAML reads differently; text that is not JSON after all is a YAML flow mapping."""
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        return otherwise


def _compose(text: str, source: str | None) -> Located:
    yaml = YAML(typ="safe", pure=True)
    lines: dict[tuple[str | int, ...], int] = {}
    try:
        node = yaml.compose(text)
        if node is None:
            raise BadInput("the file is empty", source=source)
        return Located(_plain(node, (), lines, set()), lines, source)
    except MarkedYAMLError as error:
        line = error.problem_mark.line + 1 if error.problem_mark else None
        raise BadInput(f"this is not YAML: {error.problem or error.context}", line=line, source=source) from error
    except BadInput as error:
        raise BadInput(error.says, path=error.path, line=error.line, source=source) from error
    except RecursionError as error:
        raise BadInput(f"the file nests deeper than {_DEEPEST} levels", source=source) from error
    except (YAMLError, ValueError) as error:
        raise BadInput(f"this is not YAML: {str(error).splitlines()[0]}", source=source) from error


def _plain(node: Node, path: tuple[str | int, ...], lines: dict[tuple[str | int, ...], int], seen: set[int]) -> Any:
    line = node.start_mark.line + 1
    lines.setdefault(path, line)
    if id(node) in seen:
        raise BadInput("aliases (*name) are not read; write the part out", line=line, path=plain_path(path))
    if len(path) > _DEEPEST:
        raise BadInput(f"the file nests deeper than {_DEEPEST} levels", line=line)
    seen.add(id(node))
    if isinstance(node, ScalarNode):
        return _scalar(node, line, path)
    if isinstance(node, SequenceNode):
        return [_plain(child, (*path, number), lines, seen) for number, child in enumerate(node.value)]
    assert isinstance(node, MappingNode)
    data: dict[str, Any] = {}
    for key_node, value_node in node.value:
        key = str(key_node.value)
        if not isinstance(key_node, ScalarNode):
            raise BadInput("a key must be a plain word", line=key_node.start_mark.line + 1, path=plain_path(path))
        if key in data:
            raise BadInput(
                f"the key '{key}' stands here twice", line=key_node.start_mark.line + 1, path=plain_path(path)
            )
        lines[(*path, key)] = key_node.start_mark.line + 1
        data[key] = _plain(value_node, (*path, key), lines, seen)
    return data


def _scalar(node: ScalarNode, line: int, path: tuple[str | int, ...]) -> Any:
    readers: dict[str, Callable[[str], Any]] = {
        "int": lambda text: int(text.replace("_", ""), 0),
        "float": _number,
        "bool": lambda text: text.lower() == "true",
        "null": lambda _: None,
    }
    name = str(node.tag or "").removeprefix(_PREFIX)
    if name.startswith("!"):
        raise BadInput(f"the tag '{name}' is not read; write a plain value", line=line, path=plain_path(path))
    try:
        return readers.get(name, str)(node.value)
    except ValueError:
        return node.value


def _number(text: str) -> float:
    value = float(text.replace("_", "").replace(".inf", "inf").replace(".nan", "nan"))
    return value if math.isfinite(value) else math.nan


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
