"""What each single try of a step should have come to, given all that was known before it in its case (evidence,
section 7): what was tried first, and by what units, is thereby allowed for."""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from mildladder.core.evidence.learnable import NOTHING, SOMETHING, Learnable
from mildladder.core.evidence.posterior import Chances
from mildladder.core.evidence.records import KeyedTally, is_counted, is_informative
from mildladder.core.tally.signature import Signature

__all__ = ["Cell", "Expected", "expected"]

_HALF = 0.5


class Try(NamedTuple):
    """A single try of a step: the chance that it would end the fault, and whether it did."""

    step: str
    chance: float
    is_resolved: bool


@dataclass
class Cell:
    """Tries added up: how many, resolved, expected to be, and the variance of that."""

    tries: float = 0.0
    resolved: float = 0.0
    expected: float = 0.0
    variance: float = 0.0

    def add(self, one: Try, count: float) -> None:
        """So many such tries more."""
        self.tries += count
        self.resolved += count * one.is_resolved
        self.expected += count * one.chance
        self.variance += count * one.chance * (1 - one.chance)

    def apart(self, whole: "Cell") -> float:
        """How many more were resolved than expected, the step's own surplus elsewhere allowed for."""
        surplus = whole.resolved - whole.expected
        return self.resolved - self.expected - self.variance / whole.variance * surplus

    def score(self, whole: "Cell") -> float:
        """`apart` in standard deviations; 0 where nothing can be told apart."""
        spread = self.variance * (1 - self.variance / whole.variance) if whole.variance > 0 else 0.0
        return self.apart(whole) / float(np.sqrt(spread)) if spread > 0 else 0.0


def _cells() -> dict[str, Cell]:
    return defaultdict(Cell)


@dataclass
class Expected:
    """The cells of each step: of all its tries, by fact and value, of those whose fact is known, by month, and by
    origin (guided here: True)."""

    whole: dict[str, Cell] = field(default_factory=_cells)
    by_value: dict[tuple[str, str, str], Cell] = field(default_factory=lambda: defaultdict(Cell))
    by_fact: dict[tuple[str, str], Cell] = field(default_factory=lambda: defaultdict(Cell))
    by_month: dict[tuple[str, str], Cell] = field(default_factory=lambda: defaultdict(Cell))
    by_origin: dict[tuple[str, bool], Cell] = field(default_factory=lambda: defaultdict(Cell))


def expected(tallies: Iterable[KeyedTally], model: Learnable, chances: Chances) -> Expected:
    """The cells of a log. chances: one set, such as the posterior means."""
    made, walk = Expected(), _Walk(model, chances)
    for tally in tallies:
        if not is_informative(tally):
            continue
        facts = {**tally.facts, "site": tally.site} if tally.site else dict(tally.facts)
        for one in walk.tries(tally):
            made.whole[one.step].add(one, tally.count)
            made.by_month[one.step, tally.month].add(one, tally.count)
            made.by_origin[one.step, tally.is_guided].add(one, tally.count)
            for fact, value in facts.items():
                made.by_value[one.step, fact, value].add(one, tally.count)
                made.by_fact[one.step, fact].add(one, tally.count)
    return made


class _Walk:
    """Walks cases in order; alike ones once."""

    def __init__(self, model: Learnable, chances: Chances) -> None:
        self.model = model
        self.unshared = frozenset(fact.id for fact in model.playbook.facts if not fact.spread)
        self.prior = chances.shares * chances.causes[..., 0]
        self.cures = chances.cures[..., 0]
        self.findings = [one[..., 0] for one in chances.findings]
        self._kept: dict[tuple[int, tuple[tuple[str, str], ...]], list[Try]] = {}
        self._facts: dict[tuple[tuple[str, str], ...], tuple[tuple[int, ...], Mapping[str, str]]] = {}
        self._held: list[Signature] = []

    def tries(self, tally: KeyedTally) -> list[Try]:
        """The single tries of a case, in order."""
        known = tuple(sorted(tally.facts.items()))
        key = (id(tally.signature), known)
        made = self._kept.get(key)
        if made is None:
            # What is known by its place in memory has to stay there.
            self._held.append(tally.signature)
            made = self._kept[key] = self._walk(tally, known)
        return made

    def _walk(self, tally: KeyedTally, known: tuple[tuple[str, str], ...]) -> list[Try]:
        if known not in self._facts:
            others = {fact: value for fact, value in known if fact in self.unshared}
            self._facts[known] = (self.model.open_groups(tally.facts), others)
        groups, unshared = self._facts[known]
        likely = np.zeros_like(self.prior)
        likely[list(groups)] = self.prior[list(groups)]
        sizes: dict[int | None, int] = defaultdict(int)
        for one in tally.signature.attempts:
            sizes[one.trial] += 1
        made: list[Try] = []
        seen: set[str] = set()
        found: set[int] = set()
        for one in tally.signature.attempts:
            if one.took == "no":
                continue
            if one.step in self.model.steps and is_counted(one):
                cures = np.stack([self.cures[self.model.source(one.step, g, unshared)] for g in range(len(self.prior))])
                is_single = one.trial is None or sizes[one.trial] == 1
                total = float(likely.sum())
                if is_single and not one.before and one.step not in seen and total > 0:
                    seen.add(one.step)
                    made.append(Try(one.step, float((likely * cures).sum()) / total, one.result == "fixed"))
                if one.result in ("no-change", "worse"):
                    likely = likely * (1 - cures) ** (_HALF if one.before else 1.0)
            for name in self._found(one.step, one.result, one.finding):
                place, at = self.model.found_at[one.step, name]
                if place not in found:
                    found.add(place)
                    likely = likely * self.findings[place][at]
        return made

    def _found(self, step: str, result: str, finding: str | None) -> list[str]:
        names = [finding] if finding is not None else []
        names.append(NOTHING if result == "nothing-to-do" else SOMETHING)
        return [name for name in names if (step, name) in self.model.found_at]
