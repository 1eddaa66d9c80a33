"""Small desks with a known truth, drawn from the very priors of the estimate: what it must find again."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from mildladder.core.evidence.estimate import first
from mildladder.core.evidence.learnable import Learnable, learnable
from mildladder.core.evidence.posterior import Chances, Posterior
from mildladder.core.evidence.records import KeyedTally, LeftOut, Records
from mildladder.core.model import Playbook, Rung
from mildladder.core.tally.signature import AttemptSign, Signature

_NOTHING = Records((), 0, 0, 0.0, 0.0, LeftOut())
_MODELS = {"K1": 0.3, "K2": 0.45, "K3": 0.25}


@dataclass(frozen=True)
class Desk:
    """A playbook, what is really so, and what its cases say. raw: of each fix, resolved and tried."""

    playbook: Playbook
    model: Learnable
    truth: Chances
    tallies: list[KeyedTally]
    raw: dict[str, tuple[int, int]]

    def first(self, step: str) -> float:
        """How often a step really ends the fault if tried first."""
        return float(first(self.model, step, self.truth)[0])


def small_desk(seed: int, cases: int = 2000, fixes: int = 8, is_flat: bool = False, before: float = 0.0) -> Desk:
    """A desk of that seed. is_flat: fixes one below the other and nothing else; before: share of callers who tried
    some fix themselves."""
    rng = np.random.default_rng(seed)
    playbook = Playbook.model_validate(_playbook(rng, fixes, is_flat))
    model = learnable(playbook)
    truth = Posterior(model, _NOTHING).prior_draws(1, int(rng.integers(1 << 30)))
    return desk_of(playbook, truth, rng, cases, before)


def desk_of(playbook: Playbook, truth: Chances, rng: np.random.Generator, cases: int, before: float = 0.0) -> Desk:
    """The desk of a playbook and of what is really so, laid out as what can be learned of the playbook."""
    return next(grown_desk(playbook, truth, rng, [cases], before))


def grown_desk(
    playbook: Playbook, truth: Chances, rng: np.random.Generator, sizes: Sequence[int], before: float = 0.0
) -> Iterator[Desk]:
    """The same desk as its log grows, at each of these numbers of cases."""
    model = learnable(playbook)
    walk = _Walk(playbook, model, truth, rng, before)
    signs: Counter[tuple[Signature, tuple[tuple[str, str], ...]]] = Counter()
    for size in sizes:
        signs.update(walk.case() for _ in range(size - signs.total()))
        tallies = [KeyedTally(sign, dict(facts), False, count) for (sign, facts), count in signs.items()]
        yield Desk(playbook, model, truth, tallies, _raw(tallies))


def _raw(tallies: list[KeyedTally]) -> dict[str, tuple[int, int]]:
    resolved: Counter[str] = Counter()
    tried: Counter[str] = Counter()
    for tally in tallies:
        for one in tally.signature.attempts:
            if one.trial is None and one.result in ("fixed", "no-change") and not one.before:
                tried[one.step] += tally.count
                resolved[one.step] += tally.count * (one.result == "fixed")
    return {step: (resolved[step], tried[step]) for step in tried}


def _playbook(rng: np.random.Generator, fixes: int, is_flat: bool) -> dict[str, Any]:
    causes = [f"cause-{n}" for n in range(4)]
    steps: list[dict[str, Any]] = []
    ladder: list[dict[str, Any]] = []
    for number in range(fixes):
        listed = rng.choice(causes, size=int(rng.integers(1, 3)), replace=False)
        step = {
            "id": f"fix-{number}",
            "title": f"Fix {number}",
            "kind": "fix",
            "effort": {"hands_on": 2},
            "done": 0.93,
            "fixes": {str(cause): float(rng.choice([0.35, 0.6, 0.8])) for cause in listed},
        }
        rung: dict[str, Any] = {"step": step["id"]}
        if not is_flat and number == 3:
            rung["when"] = "model in (K1, K2)"
        if not is_flat and number in (4, 5):
            rung["trial"] = "together"
        if not is_flat and number == 6:
            step["done"] = 0.8
            step["varies"] = [{"when": "model is K3", "fixes": {str(listed[0]): 0.2}}]
        steps.append(step)
        ladder.append(rung)
    data: dict[str, Any] = {
        "format": "mild-ladder/playbook/1",
        "id": "small",
        "title": "Small",
        "symptom": {"says": "It is small"},
        "causes": [
            {"id": cause, "title": cause, "layer": "data", "weight": float(rng.integers(1, 6))} for cause in causes
        ],
        "steps": steps,
        "ladder": ladder,
    }
    if not is_flat:
        data["facts"] = [{"id": "model", "ask": "Which model?", "type": "choice", "choices": _MODELS}]
        data["causes"][0]["likelier"] = [{"when": "model is K1", "times": 2.5}]
        steps.append(_check(rng, causes))
        ladder.insert(1, {"step": "look", "on": {"left": [ladder.pop(2)]}})
    return data


def _check(rng: np.random.Generator, causes: list[str]) -> dict[str, Any]:
    chances = {cause: float(rng.choice([0.1, 0.5, 0.9])) for cause in causes}
    left = {"id": "left", "title": "Left", "given": {**chances, "*": 0.5}}
    right = {"id": "right", "title": "Right", "given": {**{c: 1 - one for c, one in chances.items()}, "*": 0.5}}
    return {"id": "look", "title": "Look", "kind": "check", "effort": {"hands_on": 1}, "findings": [left, right]}


class _Walk:
    """One case after another, by the rules of the guided case."""

    def __init__(
        self, playbook: Playbook, model: Learnable, truth: Chances, rng: np.random.Generator, before: float
    ) -> None:
        self.playbook, self.model, self.truth, self.rng, self.before = playbook, model, truth, rng, before
        self.clears = float(truth.clears[0])

    def case(self) -> tuple[Signature, tuple[tuple[str, str], ...]]:
        while True:
            made = self._case()
            if made is not None:
                return made

    def _case(self) -> tuple[Signature, tuple[tuple[str, str], ...]] | None:
        rng = self.rng
        self.group = int(rng.choice(len(self.model.groups), p=self.truth.shares[:, 0]))
        self.cause = int(rng.choice(len(self.model.causes), p=self.truth.causes[self.group, :, 0]))
        self.attempts: list[AttemptSign] = []
        self.facts: dict[str, str] = {}
        if rng.random() < self.before:
            own = str(rng.choice(list(self.model.steps)))
            if rng.random() < self._cure(own):
                return None
            self.attempts.append(AttemptSign(step=own, result="no-change", before=True))
        baseline = "fails" if rng.random() < 0.5 else None
        if baseline and rng.random() < self.clears:
            return self._ended("self-cleared", "works")
        ended = self._line(list(self.playbook.ladder))
        return self._ended("resolved" if ended else "handed-off", baseline)

    def _ended(self, end: str, baseline: Any) -> tuple[Signature, tuple[tuple[str, str], ...]]:
        sign = Signature(attempts=tuple(self.attempts), end=end, resolved_by=None, baseline=baseline)
        return sign, tuple(self.facts.items())

    def _cure(self, step: str) -> float:
        return float(self.truth.cures[self.model.source(step, self.group, {}), self.cause, 0])

    def _line(self, rungs: list[Any]) -> bool:
        place = 0
        while place < len(rungs):
            rung = rungs[place]
            assert isinstance(rung, Rung)
            trial = [rung]
            while rung.trial and place + 1 < len(rungs) and rungs[place + 1].trial == rung.trial:
                place += 1
                trial.append(rungs[place])
            place += 1
            if self._trial([one for one in trial if one.step not in {tried.step for tried in self.attempts}]):
                return True
        return False

    def _trial(self, trial: list[Rung]) -> bool:
        rng, carried = self.rng, []
        for rung in trial:
            step = self.playbook.step(rung.step)
            own = self.model.groups[self.group].facts
            if rung.when or step.varies:
                self.facts.update(own)
            if rung.when and own["model"] == "K3":
                continue
            if step.kind == "check":
                found = "left" if rng.random() < self.truth.findings[0][0, self.cause, 0] else "right"
                self.attempts.append(AttemptSign(step=step.id, result="found", finding=found))
                return self._line(list(rung.on.get(found, ())))
            if rng.random() > step.done:
                self.attempts.append(AttemptSign(step=step.id, result="could-not"))
            else:
                carried.append(step.id)
        if not carried:
            return False
        not_cured = [1 - self._cure(step) for step in carried]
        is_fixed = bool(rng.random() > (1 - self.clears) * np.prod(not_cured))
        number = 1 if len(carried) > 1 else None
        result = "fixed" if is_fixed else "no-change"
        self.attempts += [AttemptSign(step=step, result=result, trial=number) for step in carried]
        return is_fixed
