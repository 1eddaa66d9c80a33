"""What a draft's form is made of, as migration 0009 knew it: a table that never changes."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

__all__ = ["MARKS", "NAMED", "ROOT", "Field", "Kind", "kind"]

ROOT = "playbook"
MARKS = frozenset({"key", "put", "out", "id", "name", "format"})
FieldSort = Literal["value", "object", "map", "items", "one", "rails", "of"]


@dataclass(frozen=True)
class Field:
    """One field of an item, as `mildladder.core.draft.shape` describes it."""

    sort: FieldSort
    kind: str = ""
    is_required: bool = False
    empty: Any = None


@dataclass(frozen=True)
class Kind:
    """What one sort of item holds, by the name that the field has in files."""

    name: str
    fields: Mapping[str, Field] = field(default_factory=dict)


def kind(name: str) -> Kind:
    """The kind of that name. Raises KeyError."""
    return _KINDS[name]


NAMED = frozenset(["Cause", "Fact", "Finding", "Footing", "HandOff", "Input", "Step"])
_KINDS = {
    kind.name: kind
    for kind in (
        Kind(
            "Playbook",
            {
                "format": Field("value", is_required=True),
                "id": Field("value", is_required=True),
                "title": Field("value", is_required=True),
                "symptom": Field(
                    "object",
                    "Symptom",
                    is_required=True,
                    empty={"signs": [], "leave_alone": [], "see_also": [], "lost": []},
                ),
                "facts": Field("items", "Fact"),
                "causes": Field("items", "Cause", is_required=True),
                "footings": Field("items", "Footing"),
                "restart": Field("one", "Leaving"),
                "steps": Field("items", "Step", is_required=True),
                "ladder": Field("items", "Entry", is_required=True),
                "after_fix": Field("items", "AfterFix"),
                "retest": Field("value", "Retest", empty={"hands_on": 0.0, "wait": 0.0}),
                "hand_offs": Field("items", "HandOff"),
                "policy": Field(
                    "object",
                    "Policy",
                    empty={
                        "rate": 5.0,
                        "mode": "mildest",
                        "weights": {
                            "caller": 1.0,
                            "desk": 1.0,
                            "visit": 1.5,
                            "wait": 0.25,
                            "travel": 1.0,
                            "parts": 1.0,
                        },
                    },
                ),
            },
        ),
        Kind(
            "Symptom",
            {
                "says": Field("value", is_required=True),
                "signs": Field("items", "Sign"),
                "leave_alone": Field("items", "LeaveAlone"),
                "see_also": Field("items", "LookAlike"),
                "not_covered": Field("value"),
                "lost": Field("items", "Text"),
            },
        ),
        Kind(
            "Sign",
            {
                "kind": Field("value", is_required=True),
                "text": Field("value", is_required=True),
                "catch": Field("value"),
                "picture": Field("value"),
                "points_to": Field("map"),
            },
        ),
        Kind("LeaveAlone", {"what": Field("value", is_required=True), "why": Field("value", is_required=True)}),
        Kind("LookAlike", {"sign": Field("value", is_required=True), "playbook": Field("value", is_required=True)}),
        Kind(
            "Fact",
            {
                "id": Field("value", is_required=True),
                "ask": Field("value", is_required=True),
                "where": Field("value"),
                "type": Field("value", is_required=True),
                "choices": Field("map"),
                "shares": Field("map"),
            },
        ),
        Kind(
            "Cause",
            {
                "id": Field("value", is_required=True),
                "title": Field("value", is_required=True),
                "layer": Field("value", is_required=True),
                "weight": Field("value"),
                "likelier": Field("items", "Likelier"),
            },
        ),
        Kind("Likelier", {"when": Field("value", is_required=True), "times": Field("value", is_required=True)}),
        Kind(
            "Footing",
            {
                "id": Field("value", is_required=True),
                "title": Field("value", is_required=True),
                "within": Field("value"),
                "enter": Field(
                    "object",
                    "Entering",
                    is_required=True,
                    empty={
                        "hands_on": 0.0,
                        "by": "desk",
                        "wait": 0.0,
                        "travel": 0.0,
                        "parts": 0.0,
                        "do": [],
                        "hazards": [],
                        "to_hand": [],
                    },
                ),
                "leave": Field(
                    "object",
                    "Leaving",
                    is_required=True,
                    empty={"hands_on": 0.0, "by": "desk", "wait": 0.0, "travel": 0.0, "parts": 0.0, "do": []},
                ),
            },
        ),
        Kind(
            "Entering",
            {
                "hands_on": Field("value"),
                "by": Field("value"),
                "wait": Field("value"),
                "travel": Field("value"),
                "parts": Field("value"),
                "do": Field("items", "Instruction"),
                "hazards": Field("items", "Hazard"),
                "to_hand": Field("items", "Need"),
            },
        ),
        Kind(
            "Instruction",
            {
                "text": Field("value"),
                "picture": Field("value"),
                "when": Field("value"),
                "hold": Field("value"),
                "ways": Field("items", "Way"),
                "copy": Field("value"),
            },
        ),
        Kind("Way", {"do": Field("items", "Instruction")}),
        Kind(
            "Hazard",
            {
                "kind": Field("value", is_required=True),
                "severity": Field("value", is_required=True),
                "chance": Field("value", is_required=True),
                "eased_by": Field("value"),
                "eased_to": Field("value"),
                "undo": Field("value"),
            },
        ),
        Kind(
            "Need",
            {
                "what": Field("value", is_required=True),
                "kind": Field("value", is_required=True),
                "from": Field("value"),
            },
        ),
        Kind(
            "Leaving",
            {
                "hands_on": Field("value"),
                "by": Field("value"),
                "wait": Field("value"),
                "travel": Field("value"),
                "parts": Field("value"),
                "do": Field("items", "Instruction"),
            },
        ),
        Kind(
            "Step",
            {
                "id": Field("value", is_required=True),
                "title": Field("value", is_required=True),
                "kind": Field("value", is_required=True),
                "effort": Field(
                    "object", "Effort", empty={"hands_on": 0.0, "by": "desk", "wait": 0.0, "travel": 0.0, "parts": 0.0}
                ),
                "fixes": Field("map"),
                "done": Field("value"),
                "proves": Field("value"),
                "footing": Field("value"),
                "hazards": Field("items", "Hazard"),
                "undo": Field("value", "Undo", empty={"possible": "no", "after": "never"}),
                "varies": Field("items", "Variant"),
                "search": Field("value", "Search"),
                "findings": Field("items", "Finding"),
                "reading": Field("one", "Reading"),
                "needs": Field("items", "Text"),
                "includes": Field("items", "Text"),
                "inputs": Field("items", "Input"),
                "uses": Field("items", "Text"),
                "unbroken": Field("value"),
                "watch": Field("value"),
                "afterwards": Field("items", "Afterwards"),
                "beware": Field("items", "Text"),
                "source": Field("value", "Source"),
                "do": Field("items", "Instruction"),
                "say": Field("value"),
                "guard": Field("items", "Guard"),
                "expect": Field("value"),
                "harmless": Field("items", "Text"),
                "missing": Field("value"),
                "stuck": Field("value"),
                "to_hand": Field("items", "Need"),
                "origin": Field("value"),
            },
        ),
        Kind(
            "Effort",
            {
                "hands_on": Field("value"),
                "by": Field("value"),
                "wait": Field("value"),
                "travel": Field("value"),
                "parts": Field("value"),
            },
        ),
        Kind(
            "Undo",
            {
                "possible": Field("value"),
                "how": Field("value"),
                "effort": Field(
                    "value", "Effort", empty={"hands_on": 0.0, "by": "desk", "wait": 0.0, "travel": 0.0, "parts": 0.0}
                ),
                "after": Field("value"),
                "footing": Field("value"),
            },
        ),
        Kind(
            "Variant",
            {
                "when": Field("value", is_required=True),
                "effort": Field(
                    "value", "Effort", empty={"hands_on": 0.0, "by": "desk", "wait": 0.0, "travel": 0.0, "parts": 0.0}
                ),
                "hazards": Field("of", "Hazard list"),
                "done": Field("value"),
                "fixes": Field("of", "Map"),
                "footing": Field("value"),
                "to_hand": Field("of", "Need list"),
            },
        ),
        Kind("Hazard list", {"of": Field("items", "Hazard")}),
        Kind("Map", {"of": Field("map")}),
        Kind("Need list", {"of": Field("items", "Need")}),
        Kind(
            "Search",
            {
                "over": Field("value", is_required=True),
                "count": Field("value", is_required=True),
                "how": Field("value", is_required=True),
                "round": Field(
                    "object",
                    "Effort",
                    is_required=True,
                    empty={"hands_on": 0.0, "by": "desk", "wait": 0.0, "travel": 0.0, "parts": 0.0},
                ),
            },
        ),
        Kind(
            "Finding",
            {"id": Field("value", is_required=True), "title": Field("value", is_required=True), "given": Field("map")},
        ),
        Kind("Reading", {"unit": Field("value"), "bands": Field("items", "Band", is_required=True)}),
        Kind("Band", {"below": Field("value"), "finding": Field("value", is_required=True)}),
        Kind(
            "Input",
            {
                "id": Field("value", is_required=True),
                "ask": Field("value"),
                "compute": Field("value"),
                "round": Field("value"),
                "where": Field("value"),
                "type": Field("value"),
                "form": Field("value"),
                "options": Field("items", "Text"),
                "pattern": Field("value"),
                "min": Field("value"),
                "max": Field("value"),
                "most": Field("value"),
            },
        ),
        Kind("Afterwards", {"text": Field("value", is_required=True), "if": Field("value")}),
        Kind("Source", {"kind": Field("value", is_required=True), "ref": Field("value"), "read": Field("value")}),
        Kind(
            "Guard",
            {
                "ask": Field("value", is_required=True),
                "must": Field("value", is_required=True),
                "else": Field("value", is_required=True),
            },
        ),
        Kind("AfterFix", {"step": Field("value", is_required=True), "when": Field("value")}),
        Kind("Retest", {"how": Field("value", is_required=True), "hands_on": Field("value"), "wait": Field("value")}),
        Kind(
            "HandOff",
            {
                "id": Field("value", is_required=True),
                "title": Field("value", is_required=True),
                "effort": Field(
                    "object", "Effort", empty={"hands_on": 0.0, "by": "desk", "wait": 0.0, "travel": 0.0, "parts": 0.0}
                ),
                "theirs": Field(
                    "value", "Effort", empty={"hands_on": 0.0, "by": "desk", "wait": 0.0, "travel": 0.0, "parts": 0.0}
                ),
                "default": Field("value"),
                "tell": Field("items", "Text"),
            },
        ),
        Kind(
            "Policy",
            {
                "rate": Field("value"),
                "mode": Field("value"),
                "weights": Field(
                    "object",
                    "Weights",
                    empty={"caller": 1.0, "desk": 1.0, "visit": 1.5, "wait": 0.25, "travel": 1.0, "parts": 1.0},
                ),
            },
        ),
        Kind(
            "Weights",
            {
                "caller": Field("value"),
                "desk": Field("value"),
                "visit": Field("value"),
                "wait": Field("value"),
                "travel": Field("value"),
                "parts": Field("value"),
            },
        ),
        Kind("Text", {"text": Field("value", is_required=True)}),
        Kind(
            "Entry",
            {
                "step": Field("value"),
                "when": Field("value"),
                "note": Field("value"),
                "on": Field("rails", "Entry"),
                "trial": Field("value"),
                "keep": Field("value"),
                "pin": Field("value"),
                "optional": Field("value"),
                "again": Field("value"),
                "hand_off": Field("value"),
                "playbook": Field("value"),
            },
        ),
        Kind(
            "Conflict",
            {
                "item": Field("value"),
                "path": Field("value"),
                "mine": Field("value"),
                "why": Field("value"),
                "who": Field("value"),
                "at": Field("value"),
                "by": Field("value"),
            },
        ),
        Kind(
            "playbook",
            {
                "format": Field("value", is_required=True),
                "id": Field("value", is_required=True),
                "title": Field("value", is_required=True),
                "symptom": Field(
                    "object",
                    "Symptom",
                    is_required=True,
                    empty={"signs": [], "leave_alone": [], "see_also": [], "lost": []},
                ),
                "facts": Field("items", "Fact"),
                "causes": Field("items", "Cause", is_required=True),
                "footings": Field("items", "Footing"),
                "restart": Field("one", "Leaving"),
                "steps": Field("items", "Step", is_required=True),
                "ladder": Field("items", "Entry", is_required=True),
                "after_fix": Field("items", "AfterFix"),
                "retest": Field("value", "Retest", empty={"hands_on": 0.0, "wait": 0.0}),
                "hand_offs": Field("items", "HandOff"),
                "policy": Field(
                    "object",
                    "Policy",
                    empty={
                        "rate": 5.0,
                        "mode": "mildest",
                        "weights": {
                            "caller": 1.0,
                            "desk": 1.0,
                            "visit": 1.5,
                            "wait": 0.25,
                            "travel": 1.0,
                            "parts": 1.0,
                        },
                    },
                ),
                "pictures": Field("map"),
                "conflicts": Field("items", "Conflict"),
            },
        ),
    )
}
