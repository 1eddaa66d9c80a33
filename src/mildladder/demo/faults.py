"""Faults before anybody reports them: what broke on which unit, and what would truly end it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta

import numpy as np

from mildladder.core.ladder.causes import all_causes, cure_chances
from mildladder.core.model import Playbook, Step
from mildladder.demo.truth import Truth

__all__ = ["Fault", "Fleet", "new_fault", "pick"]

_SPACING = timedelta(days=20)
_MONTH = timedelta(days=30)


@dataclass(frozen=True)
class Fault:
    """A fault that is about to be reported. `unit` is None when nobody will have noted it."""

    playbook: str
    truth: Truth
    cause: str
    facts: Mapping[str, str]
    unit: str | None

    def cure_chance(self, playbook: Playbook, step: Step) -> float:
        """The true chance that a step ends it; `step@fact=value` in the truth speaks of one sort of unit alone."""
        for name, chances in self.truth.cures.items():
            wanted, _, where = name.partition("@")
            fact, _, value = where.partition("=")
            if wanted == step.id and (not where or self.facts.get(fact) == value):
                return chances.get(self.cause, 0.0)
        return self.guessed_chance(playbook, step)

    def guessed_chance(self, playbook: Playbook, step: Step) -> float:
        """The lead's guess of the same."""
        causes = all_causes(playbook)
        column = next(i for i, cause in enumerate(causes) if cause.id == self.cause)
        return float(cure_chances(step, causes)[column])


@dataclass
class Fleet:
    """The units of one symptom: which are free to fail afresh, so that only real returns look like returns."""

    truth: Truth
    last: dict[int, datetime] = field(default_factory=dict)

    def take(self, at: datetime, facts: Mapping[str, str], rng: np.random.Generator) -> str | None:
        """A unit that has been quiet for some weeks; None, nobody having noted it, when there is none."""
        quiet = [n for n in range(self.truth.units) if n not in self.last or self.last[n] + _SPACING < at]
        if not quiet:
            return None
        number = int(rng.choice(quiet))
        self.last[number] = at
        return f"{self.truth.prefix or facts['model']}-{1001 + number * 7}"


def new_fault(
    playbooks: Mapping[str, Playbook],
    fleets: Mapping[str, Fleet],
    began: datetime,
    at: datetime,
    rng: np.random.Generator,
) -> Fault:
    """A fault that shows at `at`. began: when the desk's first month began, for what is rolled out by month."""
    name = pick({name: fleet.truth.share for name, fleet in fleets.items()}, rng)
    truth = fleets[name].truth
    cause = pick(truth.causes, rng)
    facts = {}
    for fact in playbooks[name].facts:
        shares: Mapping[str, float] = fact.spread
        if not shares:
            continue
        if fact.id in truth.given_cause:
            table = truth.given_cause[fact.id]
            shares = table.get(cause, table["*"])
        if fact.id in truth.rollouts:
            month = (at - began) // _MONTH
            shares = truth.rollouts[fact.id][max(since for since in truth.rollouts[fact.id] if since <= max(month, 0))]
        facts[fact.id] = pick(shares, rng)
    return Fault(name, truth, cause, facts, fleets[name].take(at, facts, rng))


def pick(weights: Mapping[str, float], rng: np.random.Generator) -> str:
    """One of the names, each as likely as its weight says."""
    left = float(rng.random()) * sum(weights.values())
    for name, weight in weights.items():
        left -= weight
        if left < 0:
            return name
    return next(reversed(list(weights)))
