"""Each feature of the language matters in the random ladders: taken away, it changes the result of many of them."""

from collections.abc import Callable, Iterator
from functools import cache
from typing import Any

import pytest

from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.model import Playbook
from tests.core.random_ladders import random_data

LADDERS = 120
SHARE = 0.05
Data = dict[str, Any]


def rungs(entries: list[Data]) -> Iterator[Data]:
    for entry in entries:
        if "step" in entry:
            yield entry
            for rail in entry.get("on", {}).values():
                yield from rungs(rail)


def from_steps(*names: str) -> Callable[[Data], None]:
    def strip(data: Data) -> None:
        for step in data["steps"]:
            for name in names:
                step.pop(name, None)

    return strip


def from_rungs(*names: str) -> Callable[[Data], None]:
    def strip(data: Data) -> None:
        for rung in rungs(data["ladder"]):
            for name in names:
                rung.pop(name, None)

    return strip


def conditions_on(word: str) -> Callable[[Data], None]:
    def strip(data: Data) -> None:
        for rung in rungs(data["ladder"]):
            if word in rung.get("when", ""):
                del rung["when"]

    return strip


def rails_on(is_wanted: Callable[[str], bool]) -> Callable[[Data], None]:
    """Takes the rails away that hang on such names."""

    def strip(data: Data) -> None:
        for rung in rungs(data["ladder"]):
            rung["on"] = {k: v for k, v in rung.get("on", {}).items() if not is_wanted(k)}

    return strip


def rail_entries(name: str) -> Callable[[Data], None]:
    def strip(data: Data) -> None:
        for rung in rungs(data["ladder"]):
            for key, rail in rung.get("on", {}).items():
                rung["on"][key] = [entry for entry in rail if name not in entry]

    return strip


def change_steps(change: Callable[[Data], None]) -> Callable[[Data], None]:
    def strip(data: Data) -> None:
        for step in data["steps"]:
            change(step)

    return strip


def only(name: str, value: str) -> Callable[[Data], None]:
    """Takes the key away where it has this value."""
    return change_steps(lambda step: step.pop(name, None) if step.get(name) == value else None)


def undo_after(value: str) -> Callable[[Data], None]:
    def change(step: Data) -> None:
        if step["undo"].get("after") == value:
            del step["undo"]["after"]

    return change_steps(change)


def footings(change: Callable[[Data], Any]) -> Callable[[Data], None]:
    def strip(data: Data) -> None:
        for footing in data["footings"]:
            change(footing)

    return strip


def from_hazards(*names: str) -> Callable[[Data], None]:
    def strip(data: Data) -> None:
        for step in [*data["steps"], *(f["enter"] for f in data["footings"])]:
            for hazard in step.get("hazards", ()):
                for name in names:
                    hazard.pop(name, None)

    return strip


def from_causes(name: str) -> Callable[[Data], None]:
    def strip(data: Data) -> None:
        for cause in data["causes"]:
            cause.pop(name, None)

    return strip


def searching(proves: str) -> Callable[[Data], None]:
    def strip(step: Data) -> None:
        if step["kind"] == "fix" and "search" in step and step.get("proves") == proves:
            del step["proves"]

    return change_steps(strip)


def once(data: Data) -> None:
    """Every step on the main line once."""
    seen: set[str] = set()
    kept = []
    for rung in data["ladder"]:
        if rung["step"] not in seen:
            kept.append(rung)
        seen.add(rung["step"])
    data["ladder"] = kept


def fix_findings(data: Data) -> None:
    fixes = {step["id"] for step in data["steps"] if step["kind"] in ("fix", "workaround")}
    for rung in rungs(data["ladder"]):
        if rung["step"] in fixes:
            rung["on"] = {k: v for k, v in rung.get("on", {}).items() if k == "could-not"}


FEATURES: dict[str, Callable[[Data], None]] = {
    "rails on findings": rails_on(lambda name: name not in ("could-not", "restored")),
    "rails on could-not": rails_on(lambda name: name == "could-not"),
    "again": rail_entries("again"),
    "hand-off ends": rail_entries("hand_off"),
    "playbook ends": rail_entries("playbook"),
    "footings": from_steps("footing"),
    "any footing": only("footing", "any"),
    "nested footings": footings(lambda footing: footing.pop("within", None)),
    "footing hazards": footings(lambda footing: footing["enter"].pop("hazards", None)),
    "after-leaving": only("proves", "after-leaving"),
    "after-restart": only("proves", "after-restart"),
    "trials": from_rungs("trial"),
    "undo after no-change": undo_after("no-change"),
    "undo after always": undo_after("always"),
    "varies": from_steps("varies"),
    "includes": from_steps("includes"),
    "cancels": from_steps("cancels"),
    "conditions on how a step ended": conditions_on("ended"),
    "findings on fixes": fix_findings,
    "repeats": once,
    "conditions on facts": conditions_on("model"),
    "conditions on findings": conditions_on("found"),
    "conditions on versions": conditions_on("version"),
    "done": from_steps("done"),
    "eased hazards": from_hazards("eased_by", "eased_to"),
    "checks that search": change_steps(lambda step: step.pop("search", None) if step["kind"] == "check" else None),
    "fixes that search": change_steps(lambda step: step.pop("search", None) if step["kind"] == "fix" else None),
    "searches that leave a state each time": searching("after-leaving"),
    "searches that restart each time": searching("after-restart"),
    "lasting repairs": rails_on(lambda name: name == "restored"),
    "where things are put back": change_steps(lambda step: step["undo"].pop("footing", None)),
    "a hazard's own undo": from_hazards("undo"),
    "likelier": from_causes("likelier"),
    "weights": from_causes("weight"),
}


@cache
def whole(seed: int) -> Forecast:
    """The forecast of a ladder with every feature."""
    return forecast(Playbook.model_validate(random_data(seed)))


@pytest.mark.parametrize("feature", FEATURES)
def test_the_feature_changes_the_result(feature):
    changed = seed = 0
    while changed < SHARE * LADDERS and seed < LADDERS:
        stripped = random_data(seed)
        FEATURES[feature](stripped)
        changed += whole(seed) != forecast(Playbook.model_validate(stripped))
        seed += 1
    assert changed >= SHARE * LADDERS, f"{feature}: {changed} of {LADDERS}"
