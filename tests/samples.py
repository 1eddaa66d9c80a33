"""Small playbooks and cases that tests start from: written out once, changed by each test in what it is about."""

from datetime import UTC, datetime, timedelta
from typing import Any

from mildladder.core.model import Case, Playbook

NOON = datetime(2026, 3, 1, 12, 0, tzinfo=UTC)

GATE: dict[str, Any] = {
    "format": "mild-ladder/playbook/1",
    "id": "gate-arm-up",
    "title": "Gate arm stays raised",
    "symptom": {"says": "The arm went up and will not come down", "signs": [{"kind": "code", "text": "A-31"}]},
    "facts": [{"id": "model", "ask": "Which model?", "type": "choice", "choices": {"GR4": 0.6, "GR6": 0.4}}],
    "causes": [
        {"id": "sensor-dirty", "title": "Home sensor blocked", "layer": "hardware", "weight": 4},
        {"id": "bad-setting", "title": "Hold-open left on", "layer": "settings", "weight": 3},
    ],
    "steps": [
        {
            "id": "sensor-look",
            "title": "Read the home sensor",
            "kind": "check",
            "effort": {"hands_on": 1},
            "findings": [
                {"id": "blocked", "title": "Reads blocked", "given": {"sensor-dirty": 0.9, "*": 0.1}},
                {"id": "clear", "title": "Reads clear", "given": {"sensor-dirty": 0.1, "*": 0.9}},
            ],
        },
        {
            "id": "clear-hold",
            "title": "Clear the hold-open setting",
            "kind": "fix",
            "effort": {"hands_on": 2, "wait": 1},
            "fixes": {"bad-setting": "nearly-always"},
            "done": 0.9,
            "undo": {"possible": "yes"},
            "do": [
                {"text": "Open the lane page of a **{model}** gate"},
                {"text": "Run", "copy": "lanectl hold --model {model} off"},
            ],
        },
        {"id": "save-counts", "title": "Save the passage counts", "kind": "safeguard", "effort": {"hands_on": 1}},
        {
            "id": "reload-program",
            "title": "Load the lane unit's program again",
            "kind": "fix",
            "effort": {"hands_on": 3, "wait": 8},
            "fixes": {"bad-setting": "often", "sensor-dirty": "rarely"},
            "hazards": [{"kind": "data", "severity": 3, "chance": 0.5, "eased_by": "save-counts", "eased_to": 0.05}],
            "guard": [{"ask": "Is the lane empty?", "must": "yes", "else": "skipped"}],
        },
        {
            "id": "wave-through",
            "title": "Wave people through by hand",
            "kind": "workaround",
            "effort": {"hands_on": 5, "by": "visit", "travel": 10, "parts": 2},
            "fixes": {"sensor-dirty": 0.9, "something-else": 0.5},
        },
    ],
    "ladder": [
        {"step": "sensor-look"},
        {"step": "clear-hold", "note": "Nothing can be lost"},
        {"step": "save-counts"},
        {"step": "reload-program", "when": "model is GR4"},
        {"step": "wave-through"},
    ],
    "retest": {"how": "Ask for one pass to be read", "hands_on": 1},
    "hand_offs": [
        {"id": "lane-crew", "title": "Lane crew", "effort": {"hands_on": 20}, "default": True, "tell": ["model"]}
    ],
}


def gate(**changes: Any) -> Playbook:
    """The sample playbook, with some of its keys replaced."""
    return Playbook.model_validate({**GATE, **changes})


def gate_with_step(step_id: str, **changes: Any) -> Playbook:
    """The sample playbook, with some keys of one step replaced."""
    steps = [{**step, **changes} if step["id"] == step_id else step for step in GATE["steps"]]
    return gate(steps=steps)


def order_of(playbook: Playbook) -> list[str]:
    """The step ids of a ladder from top to bottom."""
    return [rung.step for rung in playbook.ladder]


def case(number: int = 1, *attempts: tuple[str, str], days_ago: float = 0, **changes: Any) -> Case:
    """A case of the sample symptom, closed so many days before NOON; `attempts`: (step, outcome)."""
    closed = NOON - timedelta(days=days_ago)
    fixed = next((step for step, outcome in attempts if outcome == "fixed"), None)
    data = {
        "case": f"C-{number}",
        "opened": closed - timedelta(minutes=10),
        "closed": closed,
        "symptom": "gate-arm-up",
        "attempts": [{"step": step, "outcome": outcome} for step, outcome in attempts],
        "end": "resolved" if fixed else "handed-off",
        "resolved_by": fixed,
    }
    return Case.model_validate({**data, **changes})
