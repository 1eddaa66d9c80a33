"""The playbook file: our own open format, YAML 1.2 or JSON; each error has its line, path and a plain sentence."""

from functools import cache
from typing import Any, NamedTuple

from mildladder.core.errors import BadInput
from mildladder.core.ladder.soundness import faults, nearest
from mildladder.core.model import NOT_OF_PATTERN, Playbook
from mildladder.core.texts import shortened
from mildladder.exchange.located import Located, line_of, read_located, validated, written

__all__ = ["PlaybookFile", "playbook_data", "playbook_schema", "read_playbook", "read_playbook_file", "write_playbook"]

_CHANCE = "give a chance from 0 to 1, or one of nearly-always, usually, often, sometimes, rarely"


class PlaybookFile(NamedTuple):
    """A playbook that was read, with the lines on which its parts stand."""

    playbook: Playbook
    located: Located

    def wrong(self, path: str, says: str) -> BadInput:
        """An error that tells where in the file it is."""
        line = line_of(self.located, _parts(path))
        return BadInput(says, path=path, line=line, source=self.located.source)


def read_playbook(raw: bytes, source: str | None = None) -> Playbook:
    """Inverse of write_playbook. Raises BadInput with source, line and path; nothing is half read."""
    return read_playbook_file(raw, source).playbook


def read_playbook_file(raw: bytes, source: str | None = None) -> PlaybookFile:
    """The same, together with where each part stands."""
    located = read_located(raw, source)
    if not isinstance(located.data, dict):
        raise BadInput("a playbook file is a mapping that begins with 'format'", line=1, source=source)
    file = PlaybookFile(validated(Playbook, located, _says), located)
    for fault in faults(file.playbook):
        raise file.wrong(fault.path, fault.says)
    return file


def _parts(path: str) -> tuple[str | int, ...]:
    return tuple(int(part) if part.isdigit() else part for part in path.split("."))


def playbook_data(playbook: Playbook) -> dict[str, Any]:
    """Plain data of the document: the keys that its author wrote and no other."""
    return playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)


def write_playbook(playbook: Playbook) -> bytes:
    """Inverse of read_playbook: YAML 1.2 in UTF-8."""
    return written(playbook_data(playbook))


def playbook_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the file."""
    schema = Playbook.model_json_schema(by_alias=True)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}


def _says(error: dict[str, Any], key: str) -> str:
    kind, context = error["type"], error.get("ctx") or {}
    known = sorted(_all_keys())
    if kind == "extra_forbidden":
        return f"there is no key '{key}' here{nearest(key, known)}"
    if kind == "missing" and key == "step" and _is_end_of_rail(error["input"]):
        return _ENDS_RAIL
    if kind == "missing":
        return f"the key '{key}' is missing"
    if "fixes" in error["loc"]:
        return _CHANCE
    if kind == "literal_error":
        word = error["input"]
        return f"{_short(word)} is not one of {context['expected']}"
    if kind == "value_error":
        return str(context["error"])
    if kind == "string_pattern_mismatch":
        what, how, _ = NOT_OF_PATTERN[context["pattern"]]
        return f"{_short(error['input'])} is {what}: {how}"
    return f"{_lower(error['msg'])}, not {_short(error['input'])}"


_ENDS_RAIL = (
    "a hand-off, or the way to another playbook, ends a rail, under 'on' of a rung; what the ladder leaves goes to the"
    " default hand-off by itself"
)


def _is_end_of_rail(entry: Any) -> bool:
    return isinstance(entry, dict) and bool({"hand_off", "playbook"} & entry.keys())


@cache
def _all_keys() -> frozenset[str]:
    """Every key of the format, for naming the nearest one."""
    schema = Playbook.model_json_schema(by_alias=True)
    shapes = [schema, *schema["$defs"].values()]
    return frozenset(key for shape in shapes for key in shape.get("properties", {}))


def _lower(message: str) -> str:
    return message[:1].lower() + message[1:]


def _short(value: Any) -> str:
    return shortened(repr(value), 60)
