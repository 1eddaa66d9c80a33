"""Give a step of one document another id, everywhere that the document speaks of it.

Needed when a file brings a step whose id the library uses for something else: the file's gets a separate id.
"""

from typing import Any

from mildladder.core.ladder.conditions import Condition, EarlierResolved, Ended, Found, mapped, parse, show
from mildladder.core.model import Playbook

__all__ = ["free_id", "with_step_id"]

_LONGEST = 64


def free_id(wanted: str, taken: set[str]) -> str:
    """The id with the first number behind it that nobody has: ``wipe-sensor-2``."""
    number = 2
    while (made := f"{wanted[: _LONGEST - 1 - len(str(number))].rstrip('-')}-{number}") in taken:
        number += 1
    return made


def with_step_id(playbook: Playbook, old: str, new: str) -> Playbook:
    """The document with the step `old` called `new`."""
    data = playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    return Playbook.model_validate(_renamed(data, old, new))


def _renamed(data: dict[str, Any], old: str, new: str) -> dict[str, Any]:
    def other(name: str) -> str:
        return new if name == old else name

    for step in data["steps"]:
        step["id"] = other(step["id"])
        for key in ("needs", "includes", "cancels"):
            if key in step:
                step[key] = [other(name) for name in step[key]]
    for key, value in _walk(data):
        if key == "eased_by":
            value["eased_by"] = other(value["eased_by"])
        elif key == "when":
            condition = parse(value["when"])
            changed = _condition(condition, old, new)
            value["when"] = value["when"] if changed == condition else show(changed)
    for rung in [*_rungs(data["ladder"]), *data.get("after_fix", ())]:
        rung["step"] = other(rung["step"])
    return data


def _walk(data: Any) -> list[tuple[str, dict[str, Any]]]:
    """Every key with a text in it, with the mapping that holds it."""
    found: list[tuple[str, dict[str, Any]]] = []
    if isinstance(data, dict):
        found += [(key, data) for key, value in data.items() if isinstance(value, str)]
    for inner in data.values() if isinstance(data, dict) else data if isinstance(data, list) else ():
        found += _walk(inner)
    return found


def _rungs(entries: list[dict[str, Any]]) -> list[dict[str, Any]]:
    found = []
    for entry in entries:
        if "step" in entry:
            found.append(entry)
            for rail in entry.get("on", {}).values():
                found += _rungs(rail)
    return found


def _condition(condition: Condition, old: str, new: str) -> Condition:
    def named(test: Condition) -> Condition:
        match test:
            case Found(check, finding):
                return Found(new if check == old else check, finding)
            case Ended(step, outcome):
                return Ended(new if step == old else step, outcome)
            case EarlierResolved(step, days):
                return EarlierResolved(new if step == old else step, days)
        return test

    return mapped(condition, named)
