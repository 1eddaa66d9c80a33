"""The playbook file: our own open format, YAML 1.2 or JSON; each error has its line, path and a plain sentence."""

import io
from typing import Any

from pydantic import BaseModel
from ruamel.yaml import YAML

from mildladder.core.errors import BadInput
from mildladder.core.model import (
    Cause,
    Effort,
    Fact,
    Finding,
    Guard,
    HandOff,
    Hazard,
    Instruction,
    LeaveAlone,
    Need,
    Playbook,
    Policy,
    Retest,
    Rung,
    Sign,
    Step,
    Symptom,
    Undo,
    Weights,
)
from mildladder.core.soundness import faults, nearest
from mildladder.exchange.located import Located, line_of, read_located, validated

__all__ = ["playbook_data", "playbook_schema", "read_playbook", "write_playbook"]

# fmt: off
_LATER_KEYS = frozenset({
    "after", "after_fix", "afterwards", "again", "beware", "catch", "enter", "footing", "footings", "form", "hold",
    "includes", "inputs", "keep", "leave", "lost", "needs", "not_covered", "on", "optional", "options", "over",
    "picture", "pin", "playbook", "proves", "reading", "restart", "round", "search", "see_also", "shares", "source",
    "trial", "unbroken", "uses", "varies", "watch", "ways", "within",
})
# fmt: on
_SHAPES: tuple[type[BaseModel], ...] = (
    Playbook,
    Symptom,
    Sign,
    LeaveAlone,
    Fact,
    Cause,
    Step,
    Effort,
    Hazard,
    Undo,
    Finding,
    Instruction,
    Guard,
    Need,
    Rung,
    Retest,
    HandOff,
    Policy,
    Weights,
)  # fmt: skip
_CHANCE = "give a chance from 0 to 1, or one of nearly-always, usually, often, sometimes, rarely"


def read_playbook(raw: bytes, source: str | None = None) -> Playbook:
    """Inverse of write_playbook. Raises BadInput with source, line and path; nothing is half read."""
    located = read_located(raw, source)
    if not isinstance(located.data, dict):
        raise BadInput("a playbook file is a mapping that begins with 'format'", line=1, source=source)
    _refuse_later(located)
    playbook = validated(Playbook, located, _says)
    for fault in faults(playbook):
        path = tuple(int(part) if part.isdigit() else part for part in fault.path.split("."))
        raise BadInput(fault.says, path=fault.path, line=line_of(located, path), source=source)
    return playbook


def playbook_data(playbook: Playbook) -> dict[str, Any]:
    """Plain data of the document: the keys that its author wrote and no other."""
    return playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)


def write_playbook(playbook: Playbook) -> bytes:
    """Inverse of read_playbook: YAML 1.2 in UTF-8."""
    yaml = YAML(typ="rt", pure=True)
    yaml.width, yaml.allow_unicode = 110, True
    yaml.indent(mapping=2, sequence=4, offset=2)
    out = io.BytesIO()
    yaml.dump(playbook_data(playbook), out)
    return out.getvalue()


def playbook_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the file."""
    schema = Playbook.model_json_schema(by_alias=True)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}


def _refuse_later(located: Located) -> None:
    """Name the first part of the full format that is not read yet, before any other error can hide it."""
    found = [path for path in located.lines if path and _is_later(path)]
    if found:
        path = min(found, key=lambda path: located.lines[path])
        raise BadInput(
            f"the file uses '{path[-1]}', which this version does not read yet; leave it out",
            path=".".join(str(part) for part in path),
            line=located.lines[path],
            source=located.source,
        )


def _is_later(path: tuple[str | int, ...]) -> bool:
    is_free_name = len(path) > 1 and path[-2] in ("fixes", "given", "choices")
    is_condition_on_text = path[-1] == "when" and "do" in path
    return (path[-1] in _LATER_KEYS or is_condition_on_text) and not is_free_name


def _says(error: dict[str, Any], key: str) -> str:
    kind, context = error["type"], error.get("ctx") or {}
    known = sorted({field.alias or name for shape in _SHAPES for name, field in shape.model_fields.items()})
    if kind == "extra_forbidden":
        return f"there is no key '{key}' here{nearest(key, known)}"
    if kind == "missing":
        return f"the key '{key}' is missing"
    if "fixes" in error["loc"]:
        return _CHANCE
    if kind == "literal_error" and error["loc"] and error["loc"][-1] == "type":
        return f"facts of type '{error['input']}' are not read yet; use choice"
    if kind == "literal_error":
        word = error["input"]
        return f"{word!r} is not one of {context['expected']}"
    if kind == "value_error":
        return str(context["error"])
    if kind == "string_pattern_mismatch":
        return f"{error['input']!r} is no id: use small letters, digits and single hyphens"
    return f"{_lower(error['msg'])}, not {_short(error['input'])}"


def _lower(message: str) -> str:
    return message[:1].lower() + message[1:]


def _short(value: Any) -> str:
    text = repr(value)
    return text if len(text) <= 60 else text[:57] + "…"
