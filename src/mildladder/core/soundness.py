"""What a playbook document must keep that no single field can say: every id known, every share adding up.

These are errors, refused at the door wherever a document comes in; matters of judgement are not looked at here.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from difflib import get_close_matches

from mildladder.core.causes import all_causes, finding_chances, priors
from mildladder.core.conditions import parse
from mildladder.core.errors import BadInput
from mildladder.core.model import OUTCOMES, HandOffRef, Playbook, Step

__all__ = ["Fault", "check", "faults", "nearest"]


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
    yield from _twice("facts", [fact.id for fact in playbook.facts])
    for number, fact in enumerate(playbook.facts):
        total = sum(fact.choices.values())
        if abs(total - 1) > 1e-6:
            yield Fault(f"facts.{number}.choices", f"the shares of '{fact.id}' sum to {total:g}; make them sum to 1")
    yield from _twice("causes", [cause.id for cause in playbook.causes])
    try:
        priors(all_causes(playbook))
    except BadInput as error:
        yield Fault("causes", error.says)
    yield from _twice("steps", [step.id for step in playbook.steps])
    for number, step in enumerate(playbook.steps):
        yield from _step_faults(playbook, step, f"steps.{number}")
    yield from _rung_faults(playbook)
    yield from _twice("hand_offs", [hand_off.id for hand_off in playbook.hand_offs])
    if sum(hand_off.default for hand_off in playbook.hand_offs) > 1:
        yield Fault("hand_offs", "more than one hand-off is the default; mark one alone")
    for number, hand_off in enumerate(playbook.hand_offs):
        for fact_id in hand_off.tell:
            yield from _unknown(f"hand_offs.{number}.tell", "fact", fact_id, [fact.id for fact in playbook.facts])


def _twice(path: str, ids: Sequence[str]) -> Iterator[Fault]:
    for number, name in enumerate(ids):
        if name in ids[:number]:
            yield Fault(f"{path}.{number}.id", f"the id '{name}' is used twice; give one of them another")
        if name in OUTCOMES:
            yield Fault(f"{path}.{number}.id", f"'{name}' is the name of an outcome; choose another id")


def _unknown(path: str, what: str, name: str, known: Sequence[str]) -> Iterator[Fault]:
    if name not in known:
        yield Fault(path, f"there is no {what} '{name}'{nearest(name, known)}")


def _step_faults(playbook: Playbook, step: Step, path: str) -> Iterator[Fault]:
    causes = [cause.id for cause in all_causes(playbook)]
    for cause in step.fixes:
        yield from _unknown(f"{path}.fixes.{cause}", "cause", cause, causes)
    if step.fixes and not step.is_tested:
        yield Fault(f"{path}.fixes", f"a {step.kind} ends no cause; make '{step.id}' a fix or a workaround")
    for number, hazard in enumerate(step.hazards):
        if hazard.eased_by is not None:
            yield from _easing_faults(playbook, hazard.eased_by, f"{path}.hazards.{number}.eased_by")
    for number, guard in enumerate(step.guard):
        if isinstance(guard.else_, HandOffRef):
            known = [hand_off.id for hand_off in playbook.hand_offs]
            yield from _unknown(f"{path}.guard.{number}.else.hand_off", "hand-off", guard.else_.hand_off, known)
    yield from _finding_faults(playbook, step, path, causes)


def _easing_faults(playbook: Playbook, eased_by: str, path: str) -> Iterator[Fault]:
    safeguard = next((step for step in playbook.steps if step.id == eased_by), None)
    if safeguard is None:
        names = [step.id for step in playbook.steps if step.kind == "safeguard"]
        yield Fault(path, f"there is no step '{eased_by}'{nearest(eased_by, names)}")
    elif safeguard.kind != "safeguard":
        yield Fault(path, f"'{eased_by}' is a {safeguard.kind}; only a safeguard eases a hazard")


def _finding_faults(playbook: Playbook, step: Step, path: str, causes: Sequence[str]) -> Iterator[Fault]:
    yield from _twice(f"{path}.findings", [finding.id for finding in step.findings])
    for number, finding in enumerate(step.findings):
        for cause in finding.given:
            yield from _unknown(f"{path}.findings.{number}.given.{cause}", "cause", cause, [*causes, "*"])
    if step.findings:
        try:
            finding_chances(step, all_causes(playbook))
        except BadInput as error:
            yield Fault(f"{path}.findings", error.says)


def _rung_faults(playbook: Playbook) -> Iterator[Fault]:
    steps = [step.id for step in playbook.steps]
    for number, rung in enumerate(playbook.ladder):
        yield from _unknown(f"ladder.{number}.step", "step", rung.step, steps)
        if rung.when is not None:
            yield from _condition_faults(playbook, rung.when, f"ladder.{number}.when")


def _condition_faults(playbook: Playbook, when: str, path: str) -> Iterator[Fault]:
    try:
        condition = parse(when)
    except BadInput as error:
        yield Fault(path, error.says)
        return
    fact = next((fact for fact in playbook.facts if fact.id == condition.fact), None)
    if fact is None:
        yield from _unknown(path, "fact", condition.fact, [fact.id for fact in playbook.facts])
    else:
        yield from _unknown(path, f"value of {fact.id}", condition.value, list(fact.choices))
