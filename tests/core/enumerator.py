"""A slow, obvious twin of the forecast: it follows every path by itself, from the method's sections 1 to 3.

It imports nothing of ours but the shapes, so that the two can only agree by both being right.
"""

import math
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from itertools import product

from mildladder.core.model import Again, Effort, HandOffRef, Hazard, Playbook, PlaybookRef, RailEntry, Rung, Step

POINTS = {1: 1, 2: 3, 3: 10, 4: 30, 5: 100}
UNDO = {"yes": 0.3, "partly": 0.6, "no": 1.0}
WORDS = {"nearly-always": 0.95, "usually": 0.8, "often": 0.6, "sometimes": 0.35, "rarely": 0.1}


@dataclass(frozen=True)
class Path:
    """One way in which a case can go: its chance, how the unit stands, and what has been noted of each rung."""

    chance: float
    footing: str | None = None
    done: frozenset[str] = frozenset()
    found: dict[str, str] = field(default_factory=dict)
    notes: tuple[tuple[str, str, float], ...] = ()

    def note(self, place: str, what: str, amount: float = 1.0) -> "Path":
        return replace(self, notes=(*self.notes, (place, what, amount)))

    def likely(self, chance: float) -> "Path":
        return replace(self, chance=self.chance * chance)


Then = Callable[[Path], None]


@dataclass(frozen=True)
class Placed:
    """A rung with its place on the ladder."""

    rung: Rung
    place: str


def enumerate_ladder(playbook: Playbook) -> dict:
    """Every figure of the forecast, by adding up whole paths. Notes are kept by place; `shares` too."""
    causes = causes_with_chances(playbook)
    names = ("effort", "harm", "elapsed", "resolved", "worked_around", "handed_off", "sent_on")
    total = dict.fromkeys(names, 0.0) | {"by_cause": dict.fromkeys(causes, 0.0), "places": {}}
    for (cause, share), (facts, group_share) in product(causes.items(), groups(playbook)):
        walk = Walk(playbook, cause, facts)
        walk.line(playbook.ladder, "ladder", None, Path(group_share), walk.at_the_foot)
        for path in walk.ended:
            add(total, cause, share, path)
    return total


def add(total: dict, cause: str, share: float, path: Path) -> None:
    for place, what, amount in path.notes:
        weight = path.chance * share * amount
        if what in total:
            total[what] += weight
        if what == "effort":
            total["by_cause"][cause] += path.chance * amount
        # A rung of the main line counts its side rails in; where cases come to counts for the rung alone.
        parts = place.split(".on.")
        counted = [place] if what == "reach" else [".on.".join(parts[:n]) for n in range(1, len(parts) + 1)]
        for where in counted:
            key = (where, what)
            total["places"][key] = total["places"].get(key, 0.0) + weight


def causes_with_chances(playbook: Playbook) -> dict[str, float]:
    weights = {cause.id: cause.weight for cause in playbook.causes}
    if "something-else" not in weights:
        weights["something-else"] = sum(weights.values()) / 9
    return {cause: weight / sum(weights.values()) for cause, weight in weights.items()}


def groups(playbook: Playbook) -> Iterator[tuple[dict[str, str], float]]:
    known = [fact for fact in playbook.facts if fact.choices or fact.shares]
    for values in product(*((fact.choices or fact.shares).items() for fact in known)):
        share = math.prod(part for _, part in values)
        if share > 0:
            yield {fact.id: value for fact, (value, _) in zip(known, values, strict=True)}, share


class Walk:
    """Every path of one cause on one sort of unit."""

    def __init__(self, playbook: Playbook, cause: str, facts: dict[str, str]) -> None:
        self.playbook, self.cause, self.facts = playbook, cause, facts
        self.types = {fact.id: fact.type for fact in playbook.facts}
        self.ended: list[Path] = []

    # The line: one part after the other.

    def line(self, entries: tuple[RailEntry, ...], place: str, host: Placed | None, path: Path, then: Then) -> None:
        if path.chance == 0:
            return
        if not entries:
            then(path)
            return
        self.part(entries, 0, place, host, path, then)

    def part(self, entries, at: int, place: str, host: Placed | None, path: Path, then: Then) -> None:
        if path.chance == 0:
            return
        if at == len(entries):
            then(path)
            return
        entry = entries[at]
        if isinstance(entry, HandOffRef | PlaybookRef):
            self.end_of_rail(entry, host, path)
            return
        group, after = [], at + 1
        if isinstance(entry, Again):
            group = [host]
        else:
            group = [Placed(entry, f"{place}.{at}")]
            while entry.trial and after < len(entries) and getattr(entries[after], "trial", None) == entry.trial:
                group.append(Placed(entries[after], f"{place}.{after}"))
                after += 1
        follow = lambda rest: self.part(entries, after, place, host, rest, then)  # noqa: E731
        self.trial(group, 0, (), None, isinstance(entry, Again), path, follow)

    def end_of_rail(self, entry: HandOffRef | PlaybookRef, host: Placed, path: Path) -> None:
        path = self.leave(host.place, path)
        if isinstance(entry, HandOffRef):
            team = next(team for team in self.playbook.hand_offs if team.id == entry.hand_off)
            self.ended.append(self.pay(host.place, path, team.effort).note(host.place, "handed_off"))
        else:
            self.ended.append(path.note(host.place, "sent_on"))

    def at_the_foot(self, path: Path) -> None:
        path = self.leave("foot", path)
        marked = [team for team in self.playbook.hand_offs if team.default]
        teams = marked or (self.playbook.hand_offs if len(self.playbook.hand_offs) == 1 else ())
        if teams:
            path = self.pay("foot", path, teams[0].effort)
        self.ended.append(path.note("foot", "handed_off"))

    # A trial: come to each rung, then test.

    def trial(
        self, group: list[Placed], at: int, carried: tuple, leaving: Placed | None, again: bool, path: Path, then
    ) -> None:
        if path.chance == 0:
            return
        if at == len(group):
            self.test(group, carried, leaving, path, then)
            return
        here = group[at]
        step = self.step(here.rung.step)
        go_on = lambda rest: self.trial(group, at + 1, carried, leaving, again, rest, then)  # noqa: E731
        if not again and here.rung.when and self.holds(here.rung.when, path.found) is False:
            go_on(path)
        elif step.id in path.done:
            self.rail(here, path.found.get(step.id, ""), path, go_on)
        else:
            self.attempt(group, at, carried, leaving, again, path, then)

    def attempt(self, group, at, carried, leaving, again, path, then) -> None:
        here, step = group[at], self.step(group[at].rung.step)
        if not again:
            path = path.note(here.place, "reach")
        if step.footing != "any":
            path = self.switch(here.place, path, step.footing)
        path = self.pay(here.place, path, step.effort)
        proves_late = step.proves == "after-leaving"
        leaving = here if proves_late else leaving
        done = 1.0 if again else step.done
        failed = path.likely(1 - done)
        if failed.chance:
            if proves_late:
                failed = self.leave(here.place, failed)
            go_on = lambda rest: self.trial(  # noqa: E731
                group, at + 1, carried, leaving, again, rest, then
            )
            self.rail(here, "could-not", failed, go_on)
        path = path.likely(done)
        if not path.chance:
            return
        path = self.hurt(here.place, path, step.hazards, UNDO[step.undo.possible if step.undo else "no"])
        path = replace(path, done=path.done | self.included(step.id))
        if step.kind in ("fix", "workaround"):
            self.trial(group, at + 1, (*carried, here), leaving, again, path, then)
            return
        for rest in self.findings(here, path):
            go_on = lambda last: self.trial(  # noqa: E731
                group, at + 1, carried, leaving, again, last, then
            )
            self.rail(here, rest.found.get(step.id, ""), rest, go_on)

    def test(self, group: list[Placed], carried: tuple, leaving: Placed | None, path: Path, then: Then) -> None:
        if leaving:
            path = self.leave(leaving.place, path)
        if not carried:
            then(path)
            return
        steps = [self.step(here.rung.step) for here in carried]
        if any(step.proves == "after-restart" for step in steps) and self.playbook.restart:
            path = self.pay(carried[-1].place, path, self.playbook.restart)
        if self.playbook.retest:
            retest = self.playbook.retest
            effort = Effort(hands_on=retest.hands_on, by=steps[-1].effort.by, wait=retest.wait)
            path = self.pay(carried[-1].place, path, effort)
        for here, step in zip(carried, steps, strict=True):
            q = step.fixes.get(self.cause, 0.0)
            q = WORDS[q] if isinstance(q, str) else q
            self.cured(here, step, carried, path.likely(q))
            path = path.likely(1 - q)
        for here, step in zip(carried, steps, strict=True):
            if step.undo and step.undo.effort and step.undo.after in ("always", "no-change"):
                path = self.pay(here.place, path, step.undo.effort)
        self.after_test(group, carried, path, then)

    def cured(self, here: Placed, step: Step, carried: tuple, path: Path) -> None:
        if not path.chance:
            return
        path = self.leave(here.place, path.note(here.place, "resolved" if step.kind == "fix" else "worked_around"))
        for other in carried:
            undo = self.step(other.rung.step).undo
            if undo and undo.effort and undo.after == "always":
                path = self.pay(other.place, path, undo.effort)
        self.ended.append(path)

    def after_test(self, group: list[Placed], carried: tuple, path: Path, then: Then) -> None:
        paths = [path]
        for here in carried:
            paths = [after for before in paths for after in self.findings(here, before)]
        last = group[-1]
        for rest in paths:
            found = rest.found.get(last.rung.step, "") if last in carried else ""
            self.rail(last, found, rest, then)

    def findings(self, here: Placed, path: Path) -> Iterator[Path]:
        step = self.step(here.rung.step)
        if not step.findings:
            yield path
            return
        chances = [finding.given.get(self.cause, finding.given.get("*", 0.0)) for finding in step.findings]
        for finding, chance in zip(step.findings, chances, strict=True):
            rest = replace(path.likely(chance / sum(chances)), found={**path.found, step.id: finding.id})
            if step.search:
                rest = self.searched(here.place, rest, step, finding.id == "found")
            if rest.chance:
                yield rest

    def searched(self, place: str, path: Path, step: Step, is_found: bool) -> Path:
        n, k = step.search.count, int(math.log2(step.search.count))
        if step.search.how == "one-by-one":
            rounds = (n + 1) / 2 - 1 / n if is_found else n
        else:
            rounds = k + 2 * (n - 2**k) / n if is_found else math.ceil(math.log2(n)) + 1
        once = step.search.round
        return path.note(place, "effort", rounds * self.minutes(once)).note(place, "elapsed", rounds * clock(once))

    def rail(self, here: Placed, name: str, path: Path, then: Then) -> None:
        if not path.chance:
            return
        rail = here.rung.on.get(name)
        if rail is None:
            then(path)
            return
        back = lambda rest: then(self.switch(here.place, rest, path.footing))  # noqa: E731
        self.line(rail, f"{here.place}.on.{name}", here, path, back)

    # How a unit stands, and what changing it costs.

    def chain(self, footing: str | None) -> list[str]:
        chain = []
        while footing is not None:
            chain.insert(0, footing)
            footing = next(f for f in self.playbook.footings if f.id == footing).within
        return chain

    def switch(self, place: str, path: Path, target: str | None) -> Path:
        old, new = self.chain(path.footing), self.chain(target)
        by_id = {footing.id: footing for footing in self.playbook.footings}
        while old and new and old[0] == new[0]:
            old, new = old[1:], new[1:]
        for name in reversed(old):
            path = self.pay(place, path, by_id[name].leave)
        for name in new:
            path = self.pay(place, path, by_id[name].enter)
            path = self.hurt(place, path, by_id[name].enter.hazards, 1.0)
        return replace(path, footing=target)

    def leave(self, place: str, path: Path) -> Path:
        return self.switch(place, path, None)

    def pay(self, place: str, path: Path, effort: Effort) -> Path:
        return path.note(place, "effort", self.minutes(effort)).note(place, "elapsed", clock(effort))

    def hurt(self, place: str, path: Path, hazards: tuple[Hazard, ...], undo: float) -> Path:
        for hazard in hazards:
            ease = hazard.eased_to if hazard.eased_by in path.done else 1.0
            path = path.note(place, "harm", undo * POINTS[hazard.severity] * hazard.chance * ease)
        return path

    def minutes(self, effort: Effort) -> float:
        w = self.playbook.policy.weights
        person = {"caller": w.caller, "desk": w.desk, "visit": w.visit}[effort.by]
        return effort.hands_on * person + effort.wait * w.wait + effort.travel * w.travel + effort.parts * w.parts

    # Steps on this unit, and conditions.

    def step(self, step_id: str) -> Step:
        step = next(step for step in self.playbook.steps if step.id == step_id)
        for variant in step.varies:
            if self.holds(variant.when, {}) is True:
                changes = {name: getattr(variant, name) for name in variant.model_fields_set - {"when"}}
                return step.model_copy(update=changes)
        return step

    def included(self, step_id: str) -> frozenset[str]:
        done: set[str] = set()
        waiting = [step_id]
        while waiting:
            name = waiting.pop()
            if name not in done:
                done.add(name)
                waiting += next(step for step in self.playbook.steps if step.id == name).includes
        return frozenset(done)

    def holds(self, text: str, found: dict[str, str]) -> bool | None:
        return Reader(text, self.facts, self.types, found).either()


class Reader:
    """Reads and decides a condition in one go: or, and, not, brackets, then the single tests."""

    def __init__(self, text: str, facts: dict[str, str], types: dict[str, str], found: dict[str, str]) -> None:
        self.words = re.findall(r'"[^"]*"|[(),]|[^\s(),]+', text)
        self.facts, self.types, self.found = facts, types, found

    def take(self) -> str:
        return self.words.pop(0).strip('"')

    def next_is(self, *words: str) -> bool:
        if tuple(self.words[: len(words)]) != words:
            return False
        del self.words[: len(words)]
        return True

    def either(self) -> bool | None:
        values = [self.both()]
        while self.next_is("or"):
            values.append(self.both())
        return True if True in values else None if None in values else False

    def both(self) -> bool | None:
        values = [self.one()]
        while self.next_is("and"):
            values.append(self.one())
        return False if False in values else None if None in values else True

    def one(self) -> bool | None:
        if self.next_is("not"):
            value = self.one()
            return None if value is None else not value
        if self.next_is("("):
            value = self.either()
            self.take()
            return value
        if self.next_is("earlier"):
            while self.words and self.words[0] not in ("and", "or", ")"):
                self.take()
            return False
        return self.test(self.take())

    def test(self, name: str) -> bool | None:
        if self.next_is("found"):
            return self.found.get(name) == self.take()
        mine = self.facts.get(name)
        if self.next_is("known"):
            return True if mine is not None else None
        for words in (("is", "not"), ("is",), ("below",), ("above",), ("at", "least"), ("at", "most")):
            if self.next_is(*words):
                return self.compare(mine, " ".join(words), self.take(), self.types[name])
        assert self.next_is("in", "(")
        values = [self.take()]
        while self.next_is(","):
            values.append(self.take())
        self.take()
        return None if mine is None else mine in values

    def compare(self, mine: str | None, how: str, other: str, kind: str) -> bool | None:
        if mine is None:
            return None
        a, b = (ordered(value, kind) for value in (mine, other))
        return {
            "is": a == b, "is not": a != b, "below": a < b, "above": a > b, "at least": a >= b, "at most": a <= b,
        }[how]  # fmt: skip


def ordered(value: str, kind: str):
    if kind == "version":
        return [int(part) for part in value.split(".")]
    return float(value) if kind == "number" else value


def clock(effort: Effort) -> float:
    return effort.hands_on + effort.wait + effort.travel
