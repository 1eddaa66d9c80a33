"""Random ladders with every feature at once, from a seed."""

from typing import Any

import numpy as np

from mildladder.core.model import Playbook

_KINDS = ("fix", "fix", "fix", "workaround", "check", "safeguard")
_WORDS = ("nearly-always", "usually", "often", "sometimes", "rarely")


def random_playbook(seed: int, rungs: int = 6, repeats: float = 0.3) -> Playbook:
    """A sound playbook; some chances are 0 or 1, some efforts are 0.

    repeats: chance that a rung's step stands higher up already.
    """
    rng = np.random.default_rng(seed)
    causes = [f"cause-{n}" for n in range(int(rng.integers(1, 4)))]
    if rng.random() < 0.3:
        causes.append("something-else")
    facts = [_fact(rng, f"fact-{n}") for n in range(int(rng.integers(0, 3)))]
    steps = [_step(rng, f"step-{n}", causes) for n in range(rungs)]
    safeguards = [step["id"] for step in steps if step["kind"] == "safeguard"]
    for step in steps:
        step["hazards"] = [_hazard(rng, safeguards) for _ in range(int(rng.integers(0, 3)))]
    ladder = [
        _rung(rng, f"step-{int(rng.integers(n)) if n and rng.random() < repeats else n}", facts) for n in range(rungs)
    ]
    data: dict[str, Any] = {
        "format": "mild-ladder/playbook/1",
        "id": "random",
        "title": "Random",
        "symptom": {"says": "It is random"},
        "facts": facts,
        "causes": [
            {"id": c, "title": c, "layer": "data", "weight": round(float(rng.random()) + 0.05, 3)} for c in causes
        ],
        "steps": steps,
        "ladder": ladder,
        "policy": {"weights": {"wait": _amount(rng), "visit": 1 + _amount(rng)}},
    }
    if rng.random() < 0.8:
        data["retest"] = {"how": "Try it", "hands_on": _amount(rng), "wait": _amount(rng)}
    if rng.random() < 0.8:
        data["hand_offs"] = [{"id": "crew", "title": "Crew", "effort": _effort(rng)}]
    return Playbook.model_validate(data)


def _amount(rng: np.random.Generator) -> float:
    return 0.0 if rng.random() < 0.15 else round(float(rng.random()) * 10, 2)


def _share(rng: np.random.Generator) -> float:
    return float(rng.choice([0.0, 1.0, round(float(rng.random()), 3)], p=[0.1, 0.1, 0.8]))


def _effort(rng: np.random.Generator) -> dict[str, Any]:
    by = str(rng.choice(["caller", "desk", "visit"]))
    return {"hands_on": _amount(rng), "by": by, "wait": _amount(rng), "travel": _amount(rng), "parts": _amount(rng)}


def _fact(rng: np.random.Generator, name: str) -> dict[str, Any]:
    share = round(float(rng.random()), 2)
    return {"id": name, "ask": "Which?", "type": "choice", "choices": {"one": share, "two": 1 - share}}


def _step(rng: np.random.Generator, name: str, causes: list[str]) -> dict[str, Any]:
    kind = str(rng.choice(_KINDS))
    step: dict[str, Any] = {
        "id": name, "title": name, "kind": kind, "effort": _effort(rng),
        "undo": {"possible": str(rng.choice(["yes", "partly", "no"]))},
    }  # fmt: skip
    if rng.random() < 0.4:
        step["done"] = _share(rng)
    if kind in ("fix", "workaround"):
        step["fixes"] = {c: str(rng.choice(_WORDS)) if rng.random() < 0.3 else _share(rng) for c in causes
                         if rng.random() < 0.7}  # fmt: skip
    return step


def _hazard(rng: np.random.Generator, safeguards: list[str]) -> dict[str, Any]:
    hazard: dict[str, Any] = {"kind": "data", "severity": int(rng.integers(1, 6)), "chance": _share(rng)}
    if safeguards and rng.random() < 0.6:
        hazard |= {"eased_by": str(rng.choice(safeguards)), "eased_to": _share(rng)}
    return hazard


def _rung(rng: np.random.Generator, step: str, facts: list[dict[str, Any]]) -> dict[str, Any]:
    if facts and rng.random() < 0.35:
        return {"step": step, "when": f"{rng.choice([f['id'] for f in facts])} is {rng.choice(['one', 'two'])}"}
    return {"step": step}
