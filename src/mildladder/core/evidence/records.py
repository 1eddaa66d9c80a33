"""What each case says to the estimate, alike ones added up (evidence, section 1)."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import NamedTuple

from mildladder.core.evidence.learnable import NOTHING, SOMETHING, Learnable
from mildladder.core.model.outcomes import TESTED
from mildladder.core.tally.signature import AttemptSign, Signature

__all__ = ["KeyedTally", "LeftOut", "Records", "events_of", "is_counted", "is_informative", "kinds_of", "records_of"]

_LEAST_NOTHING = 5


@dataclass(frozen=True)
class KeyedTally:
    """How many cases share a signature, what is known of their units, and when, where and how they were logged.

    is_double: logged before under another id; month: of closing, as 2026-03; is_guided: here, not brought in; edition:
    by which they were climbed, 0 where none is known; seconds: of them all, from opening to closing without waiting.
    """

    signature: Signature
    facts: Mapping[str, str]
    is_double: bool
    count: int
    month: str = ""
    site: str = ""
    is_guided: bool = True
    edition: int = 0
    seconds: int = 0


class LeftOut(NamedTuple):
    """Cases that say nothing to the estimate: perhaps two faults at once, and logged twice."""

    better: int = 0
    double: int = 0


class Row(NamedTuple):
    """What happened, on sorts of units on which all its steps are alike. failed, before: numbers of sources; events:
    those of each trial that ended the fault."""

    groups: tuple[int, ...]
    failed: tuple[int, ...]
    before: tuple[int, ...]
    events: tuple[tuple[int, ...], ...]


@dataclass(frozen=True)
class Record:
    """What so many cases say. rows: one for each class of open sorts of units; findings: (which step's, which)."""

    rows: tuple[Row, ...]
    findings: tuple[tuple[int, int], ...]
    count: float


@dataclass(frozen=True)
class Records:
    """What a log says to the estimate. The records of negative count take out what tries before the call would say by
    themselves. cases: how many; baselines: of them, those that were tried at the start; looks: how often the fault
    could have been seen gone by itself, and cleared, how often it was."""

    records: tuple[Record, ...]
    cases: int
    baselines: int
    looks: float
    cleared: float
    left_out: LeftOut

    def scaled(self, factor: float) -> "Records":
        """As if each case had been so many."""
        records = tuple(replace(one, count=one.count * factor) for one in self.records)
        return Records(records, self.cases, self.baselines, self.looks * factor, self.cleared * factor, self.left_out)


class Events(NamedTuple):
    """What a signature says, by step. ended: the steps of each trial that ended the fault."""

    failed: tuple[str, ...]
    before: tuple[str, ...]
    found: tuple[tuple[str, str], ...]
    ended: tuple[tuple[str, ...], ...]
    looks: int
    is_cleared: bool


def is_counted(attempt: AttemptSign) -> bool:
    """Whether the original action was tried again after it (method, section 5, Counting)."""
    return attempt.result in TESTED and attempt.took != "no"


def is_informative(tally: KeyedTally) -> bool:
    """Whether the cases say anything to the estimate: logged once, and of one fault."""
    return not tally.is_double and not any(one.result == "better" for one in tally.signature.attempts)


@lru_cache(maxsize=65_536)
def events_of(signature: Signature, tested: frozenset[str]) -> Events:
    """What happened, as far as it speaks of causes. tested: the fixes and workarounds of the playbook."""
    during = [one for one in signature.attempts if not one.before]
    failed = dict.fromkeys(
        one.step for one in during if one.step in tested and is_counted(one) and one.result in ("no-change", "worse")
    )
    before = dict.fromkeys(
        one.step
        for one in signature.attempts
        if one.before and one.step in tested and is_counted(one) and one.result in ("no-change", "worse")
    )
    trials: dict[tuple[int | None, int], list[AttemptSign]] = defaultdict(list)
    for place, one in enumerate(during):
        if one.step in tested and is_counted(one):
            trials[(one.trial, -1) if one.trial is not None else (None, place)].append(one)
    ended, looks = [], 0
    is_cleared = signature.end == "self-cleared" or signature.baseline == "works"
    for trial in trials.values():
        cures = tuple(dict.fromkeys(one.step for one in trial if one.result == "fixed"))
        if not cures:
            looks += 1
        elif left := tuple(step for step in cures if step not in failed):
            ended.append(left)
        else:
            is_cleared = True
    found: dict[str, str] = {}
    for one in signature.attempts:
        if one.finding is not None and one.took != "no":
            found.setdefault(one.step, one.finding)
    return Events(
        failed=tuple(failed),
        before=tuple(step for step in before if step not in failed),
        found=tuple(found.items()),
        ended=tuple(ended),
        looks=looks + (signature.baseline == "fails"),
        is_cleared=is_cleared,
    )


def records_of(tallies: Iterable[KeyedTally], model: Learnable, is_part: bool = False) -> tuple[Records, Learnable]:
    """The records of a log, and the model with what its cases say of steps for which there was nothing to do.

    is_part: of a log whose model is known already.
    """
    kept: list[KeyedTally] = []
    better = double = 0
    for tally in tallies:
        if is_informative(tally):
            kept.append(tally)
        elif tally.is_double:
            double += tally.count
        else:
            better += tally.count
    model = model if is_part else _with_nothing(kept, model)
    counts: Counter[tuple[tuple[Row, ...], tuple[tuple[int, int], ...]]] = Counter()
    maker = _Maker(model)
    looks = cleared = cases = baselines = 0
    for tally in kept:
        events = events_of(tally.signature, maker.tested)
        rows = maker.rows(events, tally.facts)
        counts[rows, maker.findings(tally.signature, events)] += tally.count
        if events.before:
            counts[maker.companion(events.before), ()] -= tally.count
        looks += events.looks * tally.count
        cleared += events.is_cleared * tally.count
        cases += tally.count
        baselines += tally.count * (tally.signature.baseline is not None)
    made = tuple(Record(*key, float(count)) for key, count in sorted(counts.items()) if count)
    return Records(made, cases, baselines, looks, cleared, LeftOut(better, double)), model


def kinds_of(tallies: Iterable[KeyedTally], model: Learnable) -> tuple[Records, list[tuple[KeyedTally, int]]]:
    """Every sort of record in a log whose model is known, each counted once and in a fixed order; and of each tally
    that speaks, which of them its cases are."""
    maker = _Maker(model)
    kept = [tally for tally in tallies if is_informative(tally)]
    keys = []
    for tally in kept:
        events = events_of(tally.signature, maker.tested)
        keys.append((maker.rows(events, tally.facts), maker.findings(tally.signature, events)))
    place = {key: number for number, key in enumerate(sorted(set(keys)))}
    kinds = tuple(Record(*key, 1.0) for key in place)
    cases = sum(tally.count for tally in kept)
    return Records(kinds, cases, 0, 0.0, 0.0, LeftOut()), [
        (tally, place[key]) for tally, key in zip(kept, keys, strict=True)
    ]


def _with_nothing(tallies: Iterable[KeyedTally], model: Learnable) -> Learnable:
    """With two findings more for each step that had nothing to do often enough."""
    nothing: Counter[str] = Counter()
    tried: Counter[str] = Counter()
    for tally in tallies:
        for one in tally.signature.attempts:
            if one.result == "nothing-to-do" and one.took != "no":
                nothing[one.step] += tally.count
            elif is_counted(one) or (one.result == "found" and one.took != "no"):
                tried[one.step] += tally.count
    return model.with_findings(
        [
            model.nothing_to_do(step.id, nothing[step.id] / (nothing[step.id] + tried[step.id]))
            for step in model.playbook.steps
            if nothing[step.id] >= _LEAST_NOTHING and tried[step.id] > 0
        ]
    )


class _Maker:
    """Makes rows and findings of events; what is alike in many cases is worked out once."""

    def __init__(self, model: Learnable) -> None:
        self.model = model
        self.tested = frozenset(model.steps)
        self.may_vary = frozenset(source.step for source in model.sources if source.variant is not None)
        self.unshared = frozenset(fact.id for fact in model.playbook.facts if not fact.spread)
        self._open: dict[tuple[tuple[str, str], ...], tuple[int, ...]] = {}
        self._rows: dict[tuple[Events, tuple[tuple[str, str], ...]], tuple[Row, ...]] = {}

    def rows(self, events: Events, facts: Mapping[str, str]) -> tuple[Row, ...]:
        known = tuple(sorted(facts.items()))
        bare = events._replace(found=(), looks=0, is_cleared=False)
        made = self._rows.get((bare, known))
        if made is None:
            if known not in self._open:
                self._open[known] = self.model.open_groups(facts)
            made = self._rows[bare, known] = self._classes(bare, self._open[known], facts)
        return made

    def companion(self, before: tuple[str, ...]) -> tuple[Row, ...]:
        """What tries before the call would say by themselves."""
        return self.rows(Events((), before, (), (), 0, is_cleared=False), {})

    def _classes(self, events: Events, groups: tuple[int, ...], facts: Mapping[str, str]) -> tuple[Row, ...]:
        known = {fact: value for fact, value in facts.items() if fact in self.unshared}
        used = [*events.failed, *events.before, *(step for trial in events.ended for step in trial)]
        varied = [step for step in dict.fromkeys(used) if step in self.may_vary]
        classes: dict[tuple[int, ...], list[int]] = defaultdict(list)
        for group in groups:
            classes[tuple(self.model.source(step, group, known) for step in varied)].append(group)
        return tuple(sorted(self._row(events, tuple(own), known) for own in classes.values()))

    def _row(self, events: Events, groups: tuple[int, ...], known: Mapping[str, str]) -> Row:
        number = {
            step: self.model.source(step, groups[0], known)
            for step in (*events.failed, *events.before, *(step for trial in events.ended for step in trial))
        }
        return Row(
            groups=groups,
            failed=tuple(sorted(number[step] for step in events.failed)),
            before=tuple(sorted(number[step] for step in events.before)),
            events=tuple(sorted(tuple(number[step] for step in trial) for trial in events.ended)),
        )

    def findings(self, signature: Signature, events: Events) -> tuple[tuple[int, int], ...]:
        """The first finding of each step, and whether there was anything to do."""
        found = [self.model.found_at[pair] for pair in events.found if pair in self.model.found_at]
        work: dict[str, str] = {}
        for one in signature.attempts:
            if one.took == "no" or (one.step, NOTHING) not in self.model.found_at:
                continue
            if one.result == "nothing-to-do":
                work.setdefault(one.step, NOTHING)
            elif is_counted(one) or one.result == "found":
                work.setdefault(one.step, SOMETHING)
        found += [self.model.found_at[pair] for pair in work.items()]
        return tuple(sorted(found))
