"""Random ladders for the ordering: every feature of the language, and of rungs what binds their order."""

from typing import Any

import numpy as np

from mildladder.core.model import Playbook
from tests.core.ordering.brute import Brute
from tests.core.random_ladders import random_data

RATES = (0.0, 0.3, 5.0)
CAUSES = 8


def ladder_of(seed: int, blocks: int) -> Playbook:
    """A playbook of that many blocks; a third repeat steps, the others have each step once."""
    rng = np.random.default_rng(seed + 7_000_000)
    for rungs in (blocks, blocks + 1, blocks + 2, blocks):
        data = random_data(seed + 1_000 * (rungs - blocks), rungs, repeats=0.25 if seed % 3 == 0 else 0.0)
        playbook = Playbook.model_validate(bind(data, rng))
        if len(Brute(playbook).blocks(range(len(playbook.ladder)))) == blocks:
            return playbook
    return playbook


def bind(data: dict, rng: np.random.Generator) -> dict:
    """The same with needs, pins, rungs that are kept together, and optional ones."""
    ladder, names = data["ladder"], [step["id"] for step in data["steps"]]
    for step in data["steps"]:
        if rng.random() < 0.05:
            step["needs"] = [names[int(rng.integers(len(names)))]]
        if rng.random() < 0.5:
            step["includes"] = []
        if rng.random() < 0.5:
            step["hazards"] = [hazard for hazard in step["hazards"] if "eased_by" not in hazard]
    for rung in ladder:
        roll = rng.random()
        if roll < 0.08:
            rung["pin"] = "first"
        elif roll < 0.16:
            rung["pin"] = "last"
        if rng.random() < 0.12:
            rung["optional"] = True
    if rng.random() < 0.25:
        for number in rng.choice(len(ladder), size=2, replace=False):
            ladder[int(number)]["keep"] = "together"
    return data


def _with_every_word(causes: list[dict[str, Any]], steps: list[dict[str, Any]], ladder: list[dict[str, Any]]) -> None:
    causes[0]["likelier"] = [{"when": "model is two", "times": 4}]
    causes[1]["likelier"] = [{"when": "model is three", "times": 3}]
    steps[0]["undo"] = {"possible": "yes", "effort": {"hands_on": 1}, "after": "no-change", "footing": "f-1"}
    steps[2]["undo"] = {"possible": "yes", "effort": {"hands_on": 1}, "after": "always"}
    steps[3]["search"] = {"over": "cards", "count": 6, "how": "one-by-one", "round": {"hands_on": 2}}
    steps[4]["hazards"][0]["undo"] = "yes"
    steps[5]["kind"] = "workaround"
    mend = {"id": "mend", "title": "M", "kind": "fix", "effort": {"hands_on": 9}, "fixes": {"c-0": 0.9, "c-1": 0.9}}
    steps.append(mend)
    ladder[5]["on"] = {"restored": [{"step": "mend"}]}


def wide_ladder(
    blocks: int, is_rich: bool = False, seed: int = 1, bonds: int = 0, has_every_word: bool = False
) -> Playbook:
    """Fixes over eight causes, without rules; rich: with three conditions on three sorts of units and three
    footings. bonds: how many steps need another. has_every_word: with causes that the sort of unit moves, settings that
    are put back elsewhere, fixes that search, hazards with an undo of their own, and lasting repairs."""
    rng = np.random.default_rng(seed)
    causes = [
        {"id": f"c-{n}", "title": "C", "layer": "data", "weight": 1 + float(rng.integers(1, 9))}
        for n in range(CAUSES - 1)
    ]
    steps: list[dict[str, Any]] = []
    ladder: list[dict[str, Any]] = []
    for n in range(blocks):
        ended = rng.choice(CAUSES - 1, size=2, replace=False)
        step: dict[str, Any] = {
            "id": f"s-{n}",
            "title": f"S {n}",
            "kind": "fix",
            "effort": {"hands_on": float(rng.integers(1, 20))},
            "fixes": {f"c-{cause}": round(float(rng.uniform(0.2, 0.9)), 2) for cause in ended},
            "hazards": [{"kind": "data", "severity": 2, "chance": round(float(rng.uniform(0, 0.5)), 2)}],
        }
        rung: dict[str, Any] = {"step": step["id"]}
        if is_rich and n < 3:
            rung["when"] = f"model is {('one', 'two', 'three')[n]}"
        if is_rich and n % 2:
            step["footing"] = f"f-{n % 3}"
        steps.append(step)
        ladder.append(rung)
    if has_every_word:
        _with_every_word(causes, steps, ladder)
    for _ in range(bonds):
        upper, lower = sorted(rng.choice(blocks, size=2, replace=False).tolist())
        steps[lower]["needs"] = [f"s-{upper}"]
    return Playbook.model_validate(
        {
            "format": "mild-ladder/playbook/1",
            "id": "wide",
            "title": "Wide",
            "symptom": {"says": "Wide"},
            "facts": [{"id": "model", "ask": "?", "type": "choice", "choices": {"one": 0.5, "two": 0.3, "three": 0.2}}],
            "causes": causes,
            "footings": [
                {"id": f"f-{n}", "title": "F", "enter": {"hands_on": 2 + n}, "leave": {"hands_on": 1}} for n in range(3)
            ],
            "steps": steps,
            "ladder": ladder,
            "retest": {"how": "Try", "hands_on": 1},
            "hand_offs": [{"id": "crew", "title": "Crew", "effort": {"hands_on": 30}}],
            "policy": {"mode": "balanced"},
        }
    )
