"""A slow, obvious twin of the forecast: it follows every path by itself, from the method's sections 1 to 3.

It imports nothing of ours but the shapes, so that the two can only agree by both being right.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import product

from mildladder.core.model import Effort, Playbook, Step

POINTS = {1: 1, 2: 3, 3: 10, 4: 30, 5: 100}
UNDO = {"yes": 0.3, "partly": 0.6, "no": 1.0}
WORDS = {"nearly-always": 0.95, "usually": 0.8, "often": 0.6, "sometimes": 0.35, "rarely": 0.1}


@dataclass
class Path:
    """One way in which a case can go: its chance, what has been done, and what it cost rung by rung."""

    chance: float
    done: tuple[str, ...] = ()
    reached: dict[int, bool] = field(default_factory=dict)
    effort: dict[int, float] = field(default_factory=dict)
    elapsed: float = 0.0
    harm: dict[int, float] = field(default_factory=dict)
    ended_by: int | None = None


def enumerate_ladder(playbook: Playbook) -> dict:
    """Every figure of the forecast, by adding up whole paths."""
    causes = causes_with_chances(playbook)
    total = {
        "effort": 0.0, "harm": 0.0, "elapsed": 0.0, "resolved": 0.0, "worked_around": 0.0, "handed_off": 0.0,
        "by_cause": dict.fromkeys(causes, 0.0),
        "rungs": [
            {"reach": 0.0, "resolved": 0.0, "worked_around": 0.0, "effort": 0.0, "harm": 0.0} for _ in playbook.ladder
        ],
    }  # fmt: skip
    for (cause, share), (facts, group_share) in product(causes.items(), groups(playbook)):
        for path in paths(playbook, cause, facts, Path(chance=group_share), 0):
            add(total, playbook, cause, share, path)
    return total


def causes_with_chances(playbook: Playbook) -> dict[str, float]:
    weights = {cause.id: cause.weight for cause in playbook.causes}
    if "something-else" not in weights:
        weights["something-else"] = sum(weights.values()) / 9
    return {cause: weight / sum(weights.values()) for cause, weight in weights.items()}


def groups(playbook: Playbook) -> Iterator[tuple[dict[str, str], float]]:
    for values in product(*(fact.choices.items() for fact in playbook.facts)):
        share = 1.0
        for _, value_share in values:
            share *= value_share
        yield {fact.id: value for fact, (value, _) in zip(playbook.facts, values, strict=True)}, share


def paths(playbook: Playbook, cause: str, facts: dict[str, str], path: Path, at: int) -> Iterator[Path]:
    """Every way on from a rung."""
    if at == len(playbook.ladder) or path.ended_by is not None:
        yield path
        return
    rung = playbook.ladder[at]
    step = next(step for step in playbook.steps if step.id == rung.step)
    if (rung.when and not holds(rung.when, facts)) or step.id in path.done:
        yield from paths(playbook, cause, facts, path, at + 1)
        return
    spent = spend(path, at, playbook, step.effort)
    if step.done < 1:
        yield from paths(playbook, cause, facts, split(spent, 1 - step.done), at + 1)
    carried = split(spent, step.done)
    carried.done = (*carried.done, step.id)
    carried.harm[at] = carried.harm.get(at, 0.0) + harm(step, path.done)
    if step.kind not in ("fix", "workaround"):
        yield from paths(playbook, cause, facts, carried, at + 1)
        return
    if playbook.retest:
        by = step.effort.by
        retest = Effort(hands_on=playbook.retest.hands_on, by=by, wait=playbook.retest.wait)
        carried = spend(carried, at, playbook, retest)
    q = step.fixes.get(cause, 0.0)
    q = WORDS.get(q, q) if isinstance(q, str) else q
    cured = split(carried, q)
    cured.ended_by = at
    yield cured
    yield from paths(playbook, cause, facts, split(carried, 1 - q), at + 1)


def holds(when: str, facts: dict[str, str]) -> bool:
    fact, value = when.split(" is ")
    return facts[fact] == value.strip('"')


def split(path: Path, chance: float) -> Path:
    return Path(
        chance=path.chance * chance, done=path.done, reached=dict(path.reached), effort=dict(path.effort),
        elapsed=path.elapsed, harm=dict(path.harm), ended_by=path.ended_by,
    )  # fmt: skip


def spend(path: Path, at: int, playbook: Playbook, effort: Effort) -> Path:
    spent = split(path, 1.0)
    spent.reached[at] = True
    spent.effort[at] = spent.effort.get(at, 0.0) + minutes(playbook, effort)
    spent.elapsed += effort.hands_on + effort.wait + effort.travel
    return spent


def minutes(playbook: Playbook, effort: Effort) -> float:
    w = playbook.policy.weights
    person = {"caller": w.caller, "desk": w.desk, "visit": w.visit}[effort.by]
    return effort.hands_on * person + effort.wait * w.wait + effort.travel * w.travel + effort.parts * w.parts


def harm(step: Step, done: tuple[str, ...]) -> float:
    points = 0.0
    for hazard in step.hazards:
        ease = hazard.eased_to if hazard.eased_by in done else 1.0
        points += POINTS[hazard.severity] * hazard.chance * ease
    return points * UNDO[step.undo.possible if step.undo else "no"]


def add(total: dict, playbook: Playbook, cause: str, share: float, path: Path) -> None:
    chance = path.chance * share
    effort, elapsed = sum(path.effort.values()), path.elapsed
    if path.ended_by is None:
        total["handed_off"] += chance
        hand_off = next((h for h in playbook.hand_offs if h.default or len(playbook.hand_offs) == 1), None)
        if hand_off:
            effort += minutes(playbook, hand_off.effort)
            elapsed += hand_off.effort.hands_on + hand_off.effort.wait + hand_off.effort.travel
    else:
        step = next(s for s in playbook.steps if s.id == playbook.ladder[path.ended_by].step)
        kind = "resolved" if step.kind == "fix" else "worked_around"
        total[kind] += chance
        total["rungs"][path.ended_by][kind] += chance
    total["effort"] += chance * effort
    total["elapsed"] += chance * elapsed
    total["harm"] += chance * sum(path.harm.values())
    total["by_cause"][cause] += path.chance * effort
    for at, rung in enumerate(total["rungs"]):
        rung["reach"] += chance * path.reached.get(at, False)
        rung["effort"] += chance * path.effort.get(at, 0.0)
        rung["harm"] += chance * path.harm.get(at, 0.0)
