"""What a playbook document must keep that no single field can say: every id known, every share adding up.

These are errors, refused at the door wherever a document comes in; matters of judgement are not looked at here.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from functools import cached_property

from mildladder.core.errors import BadInput
from mildladder.core.ladder.causes import all_causes, finding_chances, priors
from mildladder.core.ladder.conditions import (
    Compare,
    Condition,
    EarlierCases,
    EarlierResolved,
    Ended,
    Found,
    Known,
    parse,
    walk,
)
from mildladder.core.ladder.messages import names_in
from mildladder.core.ladder.sums import names_in_sum
from mildladder.core.ladder.units import mean_priors
from mildladder.core.ladder.values import comparable, not_of
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import (
    Again,
    Guard,
    HandOffRef,
    Hazard,
    Input,
    Instruction,
    Playbook,
    PlaybookRef,
    RailEntry,
    Rung,
    Step,
    Variant,
)
from mildladder.core.model.outcomes import ENDS_TESTED, OPENS_RAIL, OUTCOMES, RESTORED
from mildladder.core.model.step import SEARCH_FINDS

__all__ = ["check", "faults", "nearest"]

DEEPEST_RAILS = 6
_ORDERED_TYPES = ("number", "version", "duration")
_RESERVED = (*OUTCOMES, "any", RESTORED)


@dataclass(frozen=True)
class Fault:
    """One thing wrong: where (such as ``steps.2.fixes.bad-lead``) and a plain sentence."""

    path: str
    says: str


def check(playbook: Playbook) -> Playbook:
    """The playbook itself; raises BadInput with the first fault when it is not sound."""
    for fault in faults(playbook):
        raise BadInput(fault.says, path=fault.path)
    return playbook


def nearest(word: str, known: Iterable[str]) -> str:
    """A closing phrase that names the nearest known word, or all of them when few; empty when there are none."""
    names = list(dict.fromkeys(known))
    close = get_close_matches(word, names, n=1, cutoff=0.5)
    if close:
        return f"; did you mean '{close[0]}'?"
    return f"; there are: {', '.join(names)}" if 0 < len(names) <= 8 else ""


def faults(playbook: Playbook) -> Iterator[Fault]:
    """Every fault of the document, in the order of the file's keys."""
    yield from _Reader(playbook).faults()


class _Reader:
    def __init__(self, playbook: Playbook) -> None:
        self.playbook = playbook
        self.steps = {step.id: step for step in playbook.steps}
        self.facts = {fact.id: fact for fact in playbook.facts}
        self.teams = [team.id for team in playbook.hand_offs]
        self.footings = [footing.id for footing in playbook.footings]
        self.causes = [cause.id for cause in all_causes(playbook)]

    @cached_property
    def inputs(self) -> list[str]:
        """Every input's id."""
        return [one.id for step in self.playbook.steps for one in step.inputs]

    def faults(self) -> Iterator[Fault]:
        playbook = self.playbook
        yield from self._facts()
        yield from _twice("causes", [cause.id for cause in playbook.causes])
        yield from self._causes()
        yield from self._signs()
        yield from self._instructions(playbook.restart.do if playbook.restart else (), "restart.do")
        yield from self._footings()
        yield from _twice("steps", [step.id for step in playbook.steps])
        for number, step in enumerate(playbook.steps):
            yield from self._step(step, f"steps.{number}")
        yield from self._line(playbook.ladder, "ladder", None, "", 0)
        yield from self._conflicting_places()
        for number, after in enumerate(playbook.after_fix):
            yield from _unknown(f"after_fix.{number}.step", "step", after.step, self.steps)
            if after.when is not None:
                yield from self._condition(after.when, f"after_fix.{number}.when")
        yield from _twice("hand_offs", self.teams)
        if sum(team.default for team in playbook.hand_offs) > 1:
            yield Fault("hand_offs", "more than one hand-off is the default; mark one alone")
        for number, team in enumerate(playbook.hand_offs):
            for name in team.tell:
                known = [*self.facts, *self.inputs, *self._parts]
                yield from _unknown(f"hand_offs.{number}.tell", "fact, input or part of a message", name, known)

    @cached_property
    def _parts(self) -> list[str]:
        """The parts of messages that change."""
        return [name for sign in self.playbook.symptom.signs if sign.kind == "message" for name in names_in(sign.text)]

    def _causes(self) -> Iterator[Fault]:
        wrong: list[Fault] = []
        for number, cause in enumerate(self.playbook.causes):
            for place, one in enumerate(cause.likelier):
                wrong += self._of_facts(one.when, f"causes.{number}.likelier.{place}.when", "a cause is likelier")
        yield from wrong
        if not wrong:
            try:
                causes = all_causes(self.playbook)
                priors(causes)
                if any(cause.likelier for cause in causes):
                    mean_priors(self.playbook, causes)
            except BadInput as error:
                yield Fault("causes", error.says)

    def _signs(self) -> Iterator[Fault]:
        for number, sign in enumerate(self.playbook.symptom.signs):
            for cause in sign.points_to:
                yield from _unknown(f"symptom.signs.{number}.points_to.{cause}", "cause", cause, self.causes)

    def _of_facts(self, when: str, path: str, what: str) -> Iterator[Fault]:
        """A condition that may look at facts of the unit alone."""
        wrong = list(self._condition(when, path))
        yield from wrong
        if not wrong and any(
            isinstance(part, Found | Ended | EarlierResolved | EarlierCases) for part in walk(parse(when))
        ):
            yield Fault(path, f"{what} by facts of the unit alone, not by findings, ends of steps or its history")

    def _facts(self) -> Iterator[Fault]:
        yield from _twice("facts", [fact.id for fact in self.playbook.facts])
        for number, fact in enumerate(self.playbook.facts):
            key = f"facts.{number}.{'choices' if fact.type == 'choice' else 'shares'}"
            total = sum(fact.spread.values())
            if fact.spread and abs(total - 1) > 1e-6:
                yield Fault(key, f"the shares of '{fact.id}' sum to {total:g}; make them sum to 1")
            for value in fact.spread:
                if comparable(value, fact.type) is None:
                    yield Fault(f"{key}.{value}", f"{not_of(value, fact.type)}, as '{fact.id}' is")

    def _footings(self) -> Iterator[Fault]:
        yield from _twice("footings", self.footings)
        parents = {footing.id: footing.within for footing in self.playbook.footings}
        for number, footing in enumerate(self.playbook.footings):
            path = f"footings.{number}"
            yield from self._hazards(footing.enter.hazards, f"{path}.enter.hazards")
            yield from self._instructions(footing.enter.do, f"{path}.enter.do")
            yield from self._instructions(footing.leave.do, f"{path}.leave.do")
            if footing.within is None:
                continue
            yield from _unknown(f"{path}.within", "footing", footing.within, self.footings)
            seen, current = {footing.id}, parents.get(footing.id)
            while current is not None and current not in seen:
                seen.add(current)
                current = parents.get(current)
            if current is not None:
                yield Fault(f"{path}.within", f"'{footing.id}' lies within itself")

    # Steps

    def _step(self, step: Step, path: str) -> Iterator[Fault]:
        yield from self._fixes(step, step.fixes, f"{path}.fixes")
        yield from self._footing(step.footing, f"{path}.footing")
        yield from self._hazards(step.hazards, f"{path}.hazards")
        yield from self._footing(step.undo.footing if step.undo else None, f"{path}.undo.footing")
        if step.proves != "in-place" and not step.is_tested:
            yield Fault(f"{path}.proves", f"a {step.kind} proves nothing; only fixes and workarounds do")
        for name in ("needs", "includes", "cancels"):
            for number, other in enumerate(getattr(step, name)):
                yield from _unknown(f"{path}.{name}.{number}", "step", other, self.steps)
                if other == step.id:
                    yield Fault(f"{path}.{name}.{number}", f"'{step.id}' names itself")
        for number, other in enumerate(step.cancels):
            if other in step.includes:
                yield Fault(f"{path}.cancels.{number}", f"'{step.id}' cannot do '{other}' as well and undo it")
        for number, variant in enumerate(step.varies):
            yield from self._variant(step, variant, f"{path}.varies.{number}")
        yield from self._guards(step.guard, f"{path}.guard")
        yield from _twice(f"{path}.inputs", [one.id for one in step.inputs])
        for number, one in enumerate(step.inputs):
            if one.compute is not None:
                yield from self._sum(one, f"{path}.inputs.{number}.compute")
        yield from self._instructions(step.do, f"{path}.do")
        yield from self._findings(step, path)

    def _guards(self, guards: Sequence[Guard], path: str) -> Iterator[Fault]:
        for number, guard in enumerate(guards):
            if isinstance(guard.else_, HandOffRef):
                yield from _unknown(f"{path}.{number}.else.hand_off", "hand-off", guard.else_.hand_off, self.teams)

    def _sum(self, one: Input, path: str) -> Iterator[Fault]:
        """What a value is computed from: numbers that somebody gives, or that are computed, and not from itself."""
        inputs = {other.id: other for step in self.playbook.steps for other in step.inputs}
        try:
            seen, waiting = set[str](), names_in_sum(one.compute or "")
            known = [*self.facts, *inputs, *self._parts]
            for name in waiting:
                yield from _unknown(path, "fact, input or part of a message", name, known)
            while waiting:
                name = waiting.pop()
                other = inputs.get(name)
                kind = self.facts[name].type if name in self.facts else other.type if other else "text"
                if name == one.id:
                    yield Fault(path, f"'{one.id}' is computed from itself")
                    return
                if other is not None and other.compute is not None:
                    waiting += [] if name in seen else names_in_sum(other.compute)
                elif kind != "number" and name not in self._parts:
                    yield Fault(path, f"'{name}' is a {kind}; a sum is made of numbers")
                seen.add(name)
        except BadInput as error:
            yield Fault(path, error.says)

    def _variant(self, step: Step, variant: Variant, path: str) -> Iterator[Fault]:
        yield from self._of_facts(variant.when, f"{path}.when", "a step varies")
        yield from self._fixes(step, variant.fixes or {}, f"{path}.fixes")
        yield from self._footing(variant.footing, f"{path}.footing")
        yield from self._hazards(variant.hazards or (), f"{path}.hazards")
        yield from self._guards(variant.guard or (), f"{path}.guard")

    def _fixes(self, step: Step, fixes: Iterable[str], path: str) -> Iterator[Fault]:
        for cause in fixes:
            yield from _unknown(f"{path}.{cause}", "cause", cause, self.causes)
        if fixes and not step.is_tested:
            yield Fault(path, f"a {step.kind} ends no cause; make '{step.id}' a fix or a workaround")

    def _footing(self, footing: str | None, path: str) -> Iterator[Fault]:
        if footing is not None:
            yield from _unknown(path, "footing", footing, [*self.footings, "any"])

    def _hazards(self, hazards: Sequence[Hazard], path: str) -> Iterator[Fault]:
        for number, hazard in enumerate(hazards):
            if hazard.eased_by is None:
                continue
            place = f"{path}.{number}.eased_by"
            safeguard = self.steps.get(hazard.eased_by)
            if safeguard is None:
                names = [step.id for step in self.playbook.steps if step.kind == "safeguard"]
                yield Fault(place, f"there is no step '{hazard.eased_by}'{nearest(hazard.eased_by, names)}")
            elif safeguard.kind != "safeguard":
                yield Fault(place, f"'{hazard.eased_by}' is a {safeguard.kind}; only a safeguard eases a hazard")

    def _instructions(self, instructions: Sequence[Instruction], path: str) -> Iterator[Fault]:
        for number, instruction in enumerate(instructions):
            if instruction.when is not None:
                yield from self._condition(instruction.when, f"{path}.{number}.when")
            for way, steps in enumerate(instruction.ways or ()):
                yield from self._instructions(steps, f"{path}.{number}.ways.{way}")

    def _findings(self, step: Step, path: str) -> Iterator[Fault]:
        ids = [finding.id for finding in step.findings]
        yield from _twice(f"{path}.findings", ids)
        for number, finding in enumerate(step.findings):
            for cause in finding.given:
                yield from _unknown(f"{path}.findings.{number}.given.{cause}", "cause", cause, [*self.causes, "*"])
        if step.findings:
            try:
                finding_chances(step, all_causes(self.playbook))
            except BadInput as error:
                yield Fault(f"{path}.findings", error.says)
        if step.undo is not None and step.undo.after == RESTORED and step.kind != "workaround":
            says = f"only a workaround is taken off before the lasting repair; '{step.id}' is a {step.kind}"
            yield Fault(f"{path}.undo.after", says)
        is_check = step.kind == "check" and sorted(ids) == sorted(SEARCH_FINDS)
        if step.search is not None and not is_check and step.kind != "fix":
            says = "a search is a check with the findings 'found' and 'none', or a fix that tries one after the other"
            yield Fault(f"{path}.search", says)
        for number, band in enumerate(step.reading.bands if step.reading else ()):
            yield from _unknown(f"{path}.reading.bands.{number}.finding", "finding", band.finding, ids)

    # The ladder

    def _line(
        self, entries: Sequence[RailEntry], path: str, host: Rung | None, key: str, depth: int
    ) -> Iterator[Fault]:
        if depth > DEEPEST_RAILS:
            yield Fault(path, f"rails hang deeper than {DEEPEST_RAILS} upon each other; lay some of them side by side")
            return
        for number, entry in enumerate(entries):
            place = f"{path}.{number}"
            if isinstance(entry, Rung):
                follower = entries[number + 1] if number + 1 < len(entries) else None
                yield from self._rung(entry, follower, place, depth)
                continue
            if isinstance(entry, Again):
                if host is None or key != "could-not":
                    yield Fault(place, "'again' belongs into a could-not rail: it offers that step once more")
                continue
            if isinstance(entry, HandOffRef):
                yield from _unknown(f"{place}.hand_off", "hand-off", entry.hand_off, self.teams)
            if isinstance(entry, HandOffRef | PlaybookRef) and number + 1 < len(entries):
                yield Fault(f"{path}.{number + 1}", "the rail has ended above this; nothing here is ever reached")

    def _conflicting_places(self) -> Iterator[Fault]:
        """One step that is to stand both first and last."""
        pins: dict[str, str] = {}
        for number, rung in enumerate(self.playbook.ladder):
            if rung.pin is not None and pins.setdefault(rung.step, rung.pin) != rung.pin:
                yield Fault(f"ladder.{number}.pin", f"'{rung.step}' is pinned first on one rung and last on another")

    def _rung(self, rung: Rung, follower: RailEntry | None, path: str, depth: int) -> Iterator[Fault]:
        yield from _unknown(f"{path}.step", "step", rung.step, self.steps)
        if rung.when is not None:
            yield from self._condition(rung.when, f"{path}.when")
        step = self.steps.get(rung.step)
        known = [*(finding.id for finding in step.findings), *OPENS_RAIL] if step else []
        goes_on = rung.trial is not None and isinstance(follower, Rung) and follower.trial == rung.trial
        if rung.trial is not None and step is not None and step.search is not None and step.kind == "fix":
            says = f"'{step.id}' tries one after the other and tests each, so it stands in no trial"
            yield Fault(f"{path}.trial", says)
        if RESTORED in rung.on and step is not None and step.kind != "workaround":
            yield Fault(f"{path}.on.{RESTORED}", f"only a workaround restores; '{step.id}' is a {step.kind}")
        if rung.on and goes_on:
            yield Fault(f"{path}.on", f"only the last rung of the trial '{rung.trial}' may carry rails")
        for key, rail in rung.on.items():
            if step is not None:
                yield from _unknown(f"{path}.on.{key}", "finding or outcome", key, known)
            if key == "could-not" and rung.trial is not None and self._cures_or_repeats(rail):
                says = "the could-not rail of a trial holds no fixes and no 'again': what was done is tested first"
                yield Fault(f"{path}.on.{key}", says)
            yield from self._line(rail, f"{path}.on.{key}", rung, key, depth + 1)

    def _cures_or_repeats(self, rail: Sequence[RailEntry]) -> bool:
        steps = [self.steps.get(rung.step) for rung in rungs_of(tuple(rail))]
        return any(isinstance(entry, Again) for entry in rail) or any(step and step.is_tested for step in steps)

    # Conditions

    def _condition(self, text: str, path: str) -> Iterator[Fault]:
        try:
            condition = parse(text)
        except BadInput as error:
            yield Fault(path, error.says)
            return
        for part in walk(condition):
            yield from self._test(part, path)

    def _test(self, part: Condition, path: str) -> Iterator[Fault]:
        match part:
            case Known(fact):
                yield from _unknown(path, "fact", fact, self.facts)
            case Compare():
                yield from self._comparison(part, path)
            case Ended(step, outcome):
                yield from _unknown(path, "step", step, self.steps)
                yield from _unknown(path, "end of a step", outcome, ENDS_TESTED)
            case EarlierResolved(step):
                yield from _unknown(path, "step", step, self.steps)
            case Found(step_id, finding):
                checks = {step.id: step for step in self.playbook.steps if step.findings}
                yield from _unknown(path, "check", step_id, checks)
                if step_id in checks:
                    ids = [found.id for found in checks[step_id].findings]
                    yield from _unknown(path, f"finding of {step_id}", finding, ids)

    def _comparison(self, test: Compare, path: str) -> Iterator[Fault]:
        fact = self.facts.get(test.fact)
        if fact is None:
            yield from _unknown(path, "fact", test.fact, self.facts)
            return
        if test.operator in ("below", "above", "at least", "at most") and fact.type not in _ORDERED_TYPES:
            yield Fault(path, f"'{test.fact}' is a {fact.type} fact: it is not {test.operator} anything; use is or in")
            return
        for value in test.values:
            if fact.choices is not None:
                yield from _unknown(path, f"value of {fact.id}", value, fact.choices)
            elif comparable(value, fact.type) is None:
                yield Fault(path, f"{not_of(value, fact.type)}, as '{fact.id}' is")


def _twice(path: str, ids: Sequence[str]) -> Iterator[Fault]:
    for number, name in enumerate(ids):
        if name in ids[:number]:
            yield Fault(f"{path}.{number}.id", f"the id '{name}' is used twice; give one of them another")
        if name in _RESERVED:
            meaning = "the name of an outcome" if name in OUTCOMES else "a word of the format"
            yield Fault(f"{path}.{number}.id", f"'{name}' is {meaning}; choose another id")


def _unknown(path: str, what: str, name: str, known: Iterable[str]) -> Iterator[Fault]:
    names = list(known)
    if name not in names:
        yield Fault(path, f"there is no {what} '{name}'{nearest(name, names)}")
