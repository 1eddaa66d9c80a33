"""A slow second opinion on the forecast: one case walks down the ladder, once for every way that chance can fall.

Written from the method's sections 1 to 3 alone. It imports nothing of the product but its shapes, merges nothing, and
keeps no mass: a case is walked as a person would walk it, and every time that chance decides, the walk is taken again
for each of the other ways.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import product
from math import ceil, floor, log2, prod

from mildladder.core.model import Again, Effort, HandOffRef, Hazard, Playbook, PlaybookRef, Rung, Step

WORDS = {"nearly-always": 0.95, "usually": 0.8, "often": 0.6, "sometimes": 0.35, "rarely": 0.1}
POINTS = {1: 1, 2: 3, 3: 10, 4: 30, 5: 100}
UNDO = {"yes": 0.3, "partly": 0.6, "no": 1.0}
FIGURES = ("effort", "harm", "elapsed", "resolved", "worked_around", "handed_off", "sent_on")


class Chance:
    """Decides what chance decides, and takes the next of all ways at every new walk."""

    def __init__(self) -> None:
        self.ahead: list[tuple[int, int]] = []
        self.at = 0
        self.probability = 1.0

    def walks(self) -> Iterator["Chance"]:
        """Itself, set to each of the ways in turn, until there are no more."""
        while True:
            self.at, self.probability = 0, 1.0
            yield self
            while self.ahead and self.ahead[-1][0] + 1 == self.ahead[-1][1]:
                self.ahead.pop()
            if not self.ahead:
                return
            taken, of = self.ahead.pop()
            self.ahead.append((taken + 1, of))

    def one_of(self, ways: dict) -> object:
        """One of the possible ways; those that cannot be are never taken."""
        possible = [(way, chance) for way, chance in ways.items() if chance > 0]
        if self.at == len(self.ahead):
            self.ahead.append((0, len(possible)))
        way, chance = possible[self.ahead[self.at][0]]
        self.at += 1
        self.probability *= chance
        return way

    def happens(self, chance: float) -> bool:
        """Whether something of that chance happens."""
        return bool(self.one_of({True: chance, False: 1 - chance}))


class TheEnd(Exception):
    """The case is over."""


def enumerate_ladder(playbook: Playbook) -> dict:
    """Every figure of the forecast: totals by name, `by_cause`, and `places`: (path of a rung, name) -> figure."""
    names = [fact.id for fact in playbook.facts if fact.spread]
    spreads = [fact.spread for fact in playbook.facts if fact.spread]
    made: dict = dict.fromkeys(FIGURES, 0.0) | {"by_cause": {}, "places": {}}
    overall: dict[str, float] = {}
    for values in product(*spreads):
        share = prod(spread[value] for spread, value in zip(spreads, values, strict=True))
        facts = dict(zip(names, values, strict=True))
        for cause, prior in _priors(playbook, facts).items() if share else ():
            overall[cause] = overall.get(cause, 0.0) + share * prior
            for chance in Chance().walks() if prior else ():
                case = Case(playbook, facts, cause, chance)
                case.walk()
                _add(made, case, share * prior * chance.probability)
    made["by_cause"] = {c: made["by_cause"].get(c, 0.0) / share if share else 0.0 for c, share in overall.items()}
    return made


def _add(made: dict, case: "Case", probability: float) -> None:
    for (path, name), figure in case.spent.items():
        if path:
            made["places"][path, name] = made["places"].get((path, name), 0.0) + probability * figure
            continue
        made[name] += probability * figure
        if name == "effort":
            made["by_cause"][case.cause] = made["by_cause"].get(case.cause, 0.0) + probability * figure


def _priors(playbook: Playbook, facts: dict[str, str]) -> dict[str, float]:
    """P(cause) on units of these facts."""
    unit = Case(playbook, facts, "", Chance())
    added = sum(cause.weight for cause in playbook.causes) / 9
    weights = {
        cause.id: cause.weight * prod(one.times for one in cause.likelier if Condition(one.when, unit).holds() is True)
        for cause in playbook.causes
    }
    if "something-else" not in weights:
        weights["something-else"] = added
    return {cause: weight / sum(weights.values()) for cause, weight in weights.items()}


@dataclass
class Trial:
    """The rungs of one trial: those that were come to, and the fixes and workarounds carried out, in order."""

    come_to: list[tuple[str, Step]] = field(default_factory=list)
    carried_out: list[tuple[str, Step, Rung]] = field(default_factory=list)


@dataclass
class Case:
    """One case on one sort of unit, with one cause, going one way."""

    playbook: Playbook
    facts: dict[str, str]
    cause: str
    chance: Chance
    footing: str | None = None
    done: set[str] = field(default_factory=set)
    found: dict[str, str] = field(default_factory=dict)
    ended: dict[str, str] = field(default_factory=dict)
    spent: dict[tuple[str, str], float] = field(default_factory=dict)

    def walk(self) -> None:
        """From the first rung to whatever end the case has."""
        try:
            self.line(self.playbook.ladder, "ladder", ())
            self.switch(None, ())
            default = self.playbook.default_hand_off
            self.hand_off(default.effort if default else Effort(), ())
        except TheEnd:
            pass

    # What is counted. `within`: the paths of the rungs that it counts for, outermost first.

    def count(self, name: str, figure: float, within: tuple[str, ...]) -> None:
        for path in ("", *within):
            self.spent[path, name] = self.spent.get((path, name), 0.0) + figure

    def pay(self, effort: Effort | None, within: tuple[str, ...], times: float = 1) -> None:
        if effort is None:
            return
        w = self.playbook.policy.weights
        minutes = effort.hands_on * getattr(w, effort.by) + effort.wait * w.wait
        minutes += effort.travel * w.travel + effort.parts * w.parts
        self.count("effort", times * minutes, within)
        self.count("elapsed", times * (effort.hands_on + effort.wait + effort.travel), within)

    def hurt(self, hazards: tuple[Hazard, ...], undo: float, within: tuple[str, ...], times: float = 1) -> None:
        for hazard in hazards:
            ease = hazard.eased_to if hazard.eased_by in self.done else 1.0
            left = UNDO[hazard.undo] if hazard.undo else undo
            self.count("harm", times * left * POINTS[hazard.severity] * hazard.chance * ease, within)

    def hand_off(self, effort: Effort, within: tuple[str, ...]) -> None:
        self.pay(effort, within)
        self.count("handed_off", 1, within)
        raise TheEnd

    # Footings

    def _around(self, footing: str | None) -> list[str]:
        """The footing and all that it lies within, innermost first."""
        around: list[str] = []
        while footing is not None:
            around.append(footing)
            footing = self._footing(footing).within
        return around

    def _footing(self, name: str):
        return next(footing for footing in self.playbook.footings if footing.id == name)

    def switch(self, to: str | None, within: tuple[str, ...]) -> None:
        here, there = self._around(self.footing), self._around(to)
        for name in here:
            if name not in there:
                self.pay(self._footing(name).leave, within)
        for name in reversed(there):
            if name not in here:
                self.pay(self._footing(name).enter, within)
                self.hurt(self._footing(name).enter.hazards, 1.0, within)
        self.footing = to

    # Rungs

    def line(self, rungs: tuple, place: str, within: tuple[str, ...], again=None) -> None:
        """Rung after rung. `again`: carries out once more the step whose could-not rail this is."""
        at = 0
        while at < len(rungs):
            entry = rungs[at]
            if isinstance(entry, Again):
                again()
            elif isinstance(entry, HandOffRef):
                team = next(team for team in self.playbook.hand_offs if team.id == entry.hand_off)
                self.switch(None, within)
                self.hand_off(team.effort, within)
            elif isinstance(entry, PlaybookRef):
                self.switch(None, within)
                self.count("sent_on", 1, within)
                raise TheEnd
            else:
                group = [at]
                while entry.trial and group[-1] + 1 < len(rungs):
                    below = rungs[group[-1] + 1]
                    if not isinstance(below, Rung) or below.trial != entry.trial:
                        break
                    group.append(group[-1] + 1)
                self.trial([(f"{place}.{n}", rungs[n]) for n in group], within)
                at = group[-1]
            at += 1

    def trial(self, rungs: list[tuple[str, Rung]], within: tuple[str, ...]) -> None:
        """All rungs of one trial, the test, and what hangs on the last of them."""
        trial = Trial()
        for path, rung in rungs:
            outcome = self.rung(path, rung, trial, within)
        if outcome == "could-not":
            is_left = len(rungs) == 1 and trial.come_to[-1][1].proves == "after-leaving"
            self.rail(path, rung, "could-not", within, is_left)
        self.test(trial, within)
        if outcome in ("done", "passed"):
            self.rail(path, rung, self.found.get(rung.step), within)

    def rung(self, path: str, rung: Rung, trial: Trial, within: tuple[str, ...], is_again: bool = False) -> str | None:
        """Come to one rung: None where its condition is false, `passed` where it was done, `could-not`, or `done`."""
        if rung.when is not None and not is_again and Condition(rung.when, self).holds() is False:
            return None
        if rung.step in self.done:
            return "passed"
        step, mine = self.on_this_unit(rung.step), (*within, path)
        if not is_again:
            self._reach(path)
        if step.footing != "any":
            self.switch(step.footing, mine)
        trial.come_to.append((path, step))
        if not is_again and not self.chance.happens(step.done):
            self.pay(step.effort, mine)
            self.ended[step.id] = "could-not"
            return "could-not"
        self.carry_out(path, step, rung, trial, mine)
        return "done"

    def _reach(self, path: str) -> None:
        """Reach is a rung's own: it counts for no rung around it."""
        self.spent[path, "reach"] = self.spent.get((path, "reach"), 0.0) + 1

    def carry_out(self, path: str, step: Step, rung: Rung, trial: Trial, mine: tuple[str, ...]) -> None:
        self.pay(step.effort, mine)
        self.hurt(step.hazards, UNDO[step.undo.possible if step.undo else "no"], mine)
        self.ended[step.id] = "carried out"
        self._do(step.id)
        if step.kind in ("fix", "workaround"):
            trial.carried_out.append((path, step, rung))
        else:
            self.find(step, mine)

    def _do(self, name: str) -> None:
        does: list[str] = [name]
        for step in does:
            does += [one for one in self.playbook.step(step).includes if one not in does]
        for step in does:
            for gone in self.playbook.step(step).cancels:
                if gone not in does:
                    self.done.discard(gone)
                    self.found.pop(gone, None)
        self.done.update(does)

    def find(self, step: Step, mine: tuple[str, ...]) -> None:
        if not step.findings:
            return
        given = {f.id: f.given.get(self.cause, f.given.get("*", 0.0)) for f in step.findings}
        self.found[step.id] = self.chance.one_of({name: share / sum(given.values()) for name, share in given.items()})
        if step.search and step.kind == "check":
            self.pay(step.search.round, mine, self.rounds(step, self.found[step.id] == "found"))

    def rounds(self, step: Step, is_found: bool) -> float:
        """How often one looks, or tries, on average; who tries cannot deduce the last suspect."""
        n, k = step.search.count, floor(log2(step.search.count))
        if step.search.how == "one-by-one":
            deduced = 1 / n if step.kind == "check" else 0
            return (n + 1) / 2 - deduced if is_found else n
        return k + 2 * (n - 2**k) / n if is_found else ceil(log2(n)) + 1

    def test(self, trial: Trial, within: tuple[str, ...]) -> None:
        """Try the original action, if anything was done that could have ended the fault."""
        leaving = [path for path, step in trial.come_to if step.proves == "after-leaving"]
        if leaving:
            self.switch(None, (*within, leaving[-1]))
        if not trial.carried_out:
            return
        last, step, _ = trial.carried_out[-1]
        if any(step.proves == "after-restart" and not step.search for _, step, _ in trial.carried_out):
            self.pay(self.playbook.restart, (*within, last))
        if not step.search:
            self.retest(step, 1, (*within, last))
        for path, step, rung in trial.carried_out:
            self.try_it(path, step, rung, trial, within)
        if step.search:
            self.try_each(step, False, (*within, last))
        self.put_back(trial, ("always", "no-change"), within)
        for path, step, _ in trial.carried_out:
            self.find(step, (*within, path))

    def retest(self, step: Step, times: float, mine: tuple[str, ...]) -> None:
        retest = self.playbook.retest
        if retest:
            self.pay(Effort(hands_on=retest.hands_on, wait=retest.wait, by=step.effort.by), mine, times)

    def try_each(self, step: Step, is_found: bool, mine: tuple[str, ...]) -> None:
        """The rounds of a fix that searches, each with a retest of its own, and with the restart or the leaving that
        must come before it: each round but the first enters the step's own footing again."""
        rounds = self.rounds(step, is_found)
        self.pay(step.search.round, mine, rounds)
        self.retest(step, rounds, mine)
        if step.proves == "after-restart":
            self.pay(self.playbook.restart, mine, rounds)
        if step.proves == "after-leaving" and step.footing != "any":
            for name in self._around(step.footing):
                footing = self._footing(name)
                self.pay(footing.enter, mine, rounds - 1)
                self.pay(footing.leave, mine, rounds - 1)
                self.hurt(footing.enter.hazards, 1.0, mine, rounds - 1)

    def try_it(self, path: str, step: Step, rung: Rung, trial: Trial, within: tuple[str, ...]) -> None:
        chance = step.fixes.get(self.cause, 0.0)
        if not self.chance.happens(WORDS[chance] if isinstance(chance, str) else chance):
            return
        if step.search:
            self.try_each(step, True, (*within, path))
        self.put_back(trial, ("always",), within)
        self.switch(None, (*within, path))
        if step.kind == "workaround":
            self.rail(path, rung, "restored", within)
        self.count("resolved" if step.kind == "fix" else "worked_around", 1, (*within, path))
        raise TheEnd

    def put_back(self, trial: Trial, after: tuple[str, ...], within: tuple[str, ...]) -> None:
        """The last first, each in the footing that this takes; there the unit stays."""
        for path, step, _ in reversed(trial.carried_out):
            if step.undo and step.undo.after in after:
                where = step.undo.footing or step.footing
                if where != "any":
                    self.switch(where, (*within, path))
                self.pay(step.undo.effort, (*within, path))

    def rail(self, path: str, rung: Rung, name: str | None, within: tuple[str, ...], is_left: bool = False) -> None:
        """A rail, and back to the footing held, or (is_left) to the normal state."""
        if name not in rung.on:
            return
        held = None if is_left else self.footing
        self.line(rung.on[name], f"{path}.on.{name}", (*within, path), lambda: self.again(path, rung, within))
        self.switch(held, (*within, path))

    def again(self, path: str, rung: Rung, within: tuple[str, ...]) -> None:
        trial = Trial()
        outcome = self.rung(path, rung, trial, within, is_again=True)
        self.test(trial, within)
        if outcome in ("done", "passed"):
            self.rail(path, rung, self.found.get(rung.step), within)

    def on_this_unit(self, name: str) -> Step:
        """The step with the first variant that holds."""
        step = self.playbook.step(name)
        for variant in step.varies:
            if Condition(variant.when, self).holds() is True:
                said = {key: getattr(variant, key) for key in variant.model_fields_set if key != "when"}
                return step.model_copy(update=said)
        return step


TOKENS = re.compile(r"[()]|,|[^\s(),]+")


class Condition:
    """A condition read and answered in one go: True, False, or None where nobody can tell."""

    def __init__(self, text: str, case: Case) -> None:
        self.words, self.case = TOKENS.findall(text), case

    def holds(self) -> bool | None:
        answer = self._any()
        assert not self.words, self.words
        return answer

    def _next(self) -> str:
        return self.words.pop(0)

    def _comes(self, word: str) -> bool:
        return bool(self.words) and self.words[0] == word

    def _any(self) -> bool | None:
        answers = [self._all()]
        while self._comes("or"):
            self._next()
            answers.append(self._all())
        return True if True in answers else (None if None in answers else False)

    def _all(self) -> bool | None:
        answers = [self._not()]
        while self._comes("and"):
            self._next()
            answers.append(self._not())
        return False if False in answers else (None if None in answers else True)

    def _not(self) -> bool | None:
        if self._comes("not"):
            self._next()
            answer = self._not()
            return None if answer is None else not answer
        if self._comes("("):
            self._next()
            answer = self._any()
            assert self._next() == ")"
            return answer
        return self._test()

    def _test(self) -> bool | None:
        name = self._next()
        if name == "earlier":
            while self._next() != "days":
                pass
            return False
        verb = self._next()
        if verb == "found":
            return self.case.found.get(name) == self._next()
        if verb == "ended":
            return self.case.ended.get(name) == self._next()
        value = self.case.facts.get(name)
        if verb == "known":
            return True if value is not None else None
        return self._compare(verb, value)

    def _compare(self, verb: str, value: str | None) -> bool | None:
        how, others = self._other_side(verb)
        if value is None:
            return None
        if how in ("in", "not in"):
            return (value in others) == (how == "in")
        mine, its = (tuple(int(part) for part in text.split(".")) for text in (value, others[0]))
        return {"below": mine < its, "above": mine > its, "least": mine >= its, "most": mine <= its}[how]

    def _other_side(self, verb: str) -> tuple[str, list[str]]:
        """How the fact is compared, and with what."""
        if verb == "in":
            others = []
            self._next()
            while (word := self._next()) != ")":
                others.append(word)
            return "in", others
        if verb == "is":
            is_negated = self._comes("not") and bool(self._next())
            return "not in" if is_negated else "in", [self._next()]
        return verb if verb in ("below", "above") else self._next(), [self._next()]
