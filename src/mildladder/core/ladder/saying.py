"""Conditions as one says them: questions, values and titles instead of the ids by which they are written."""

from collections.abc import Iterable, Iterator, Mapping

from mildladder.core.errors import BadInput
from mildladder.core.ladder.conditions import parse
from mildladder.core.ladder.syntax import (
    AllOf,
    AnyOf,
    Compare,
    Condition,
    EarlierCases,
    EarlierResolved,
    Ended,
    Found,
    Known,
    Not,
)
from mildladder.core.ladder.values import value_in_words
from mildladder.core.model import Instruction, Playbook
from mildladder.core.model.outcomes import OUTCOMES

__all__ = ["condition_in_words", "conditions_in_words", "fact_in_words", "told_in_words", "units_in_words"]

_NO_FACT = "something that is no longer asked"
_NO_STEP = "a step that is no longer there"


def told_in_words(when: str, playbook: Playbook) -> str:
    """A condition as it is written, as one says it; as it stands where it cannot be read."""
    try:
        return condition_in_words(parse(when), playbook)
    except BadInput:
        return when


def conditions_in_words(playbook: Playbook) -> dict[str, str]:
    """Every condition of the steps' texts and variants, as it is written, with how one says it."""
    written = [variant.when for step in playbook.steps for variant in step.varies]
    written += [when for step in playbook.steps for when in _conditions_in_words(step.do)]
    return {when: told_in_words(when, playbook) for when in written}


def _conditions_in_words(instructions: Iterable[Instruction]) -> Iterator[str]:
    for one in instructions:
        if one.when:
            yield one.when
        for way in one.ways or ():
            yield from _conditions_in_words(way)


def condition_in_words(condition: Condition, playbook: Playbook) -> str:
    """Such as “Model on the side plate is GR4, and “Read the home sensor” found “Reads blocked””, without the ids."""
    match condition:
        case Compare(fact, operator, values):
            return _compared(fact, operator, values, playbook)
        case Known(fact):
            return f"{fact_in_words(fact, playbook)} is known"
        case Found(check, finding):
            return f"{_step(check, playbook)} found {_finding(check, finding, playbook)}"
        case Ended(step, outcome):
            return f"{_step(step, playbook)} ended {_ended(outcome)}"
        case EarlierResolved(step, days):
            return f"{_step(step, playbook)} ended it on this unit within {days} days before"
        case EarlierCases(least, days):
            return f"the unit had at least {least} {'case' if least == 1 else 'cases'} of it within {days} days before"
        case Not(Known(fact)):
            return f"{fact_in_words(fact, playbook)} is not known"
        case Not(Found(check, finding)):
            return f"{_step(check, playbook)} did not find {_finding(check, finding, playbook)}"
        case Not(Ended(step, outcome)):
            return f"{_step(step, playbook)} did not end {_ended(outcome)}"
        case Not(one):
            return f"not ({condition_in_words(one, playbook)})"
        case AllOf(parts):
            return " and ".join(_bracketed(part, playbook) for part in parts)
        case AnyOf(parts):
            return " or ".join(condition_in_words(part, playbook) for part in parts)
    return "always" if condition else "never"


def fact_in_words(fact: str, playbook: Playbook) -> str:
    """What a fact is called: its question, in quotes where it is one."""
    ask = next((one.ask for one in playbook.facts if one.id == fact), None)
    if ask is None:
        return _NO_FACT
    return f"“{ask}”" if ask.rstrip().endswith("?") else ask


def units_in_words(members: Iterable[Mapping[str, str]], playbook: Playbook) -> str:
    """Sorts of units, such as “Model on the side plate is GR4 or GR6”; what is true of all units is left out."""
    known = list(members)
    said = []
    for fact in playbook.facts:
        values = tuple(value for value in fact.spread if any(one.get(fact.id) == value for one in known))
        if 0 < len(values) < len([share for share in fact.spread.values() if share > 0]):
            in_words = [value_in_words(value) if fact.type == "duration" else value for value in values]
            said.append(f"{fact_in_words(fact.id, playbook)} is {' or '.join(in_words)}")
    return ", ".join(said) or "every unit"


def _compared(fact: str, operator: str, values: tuple[str, ...], playbook: Playbook) -> str:
    kind = next((one.type for one in playbook.facts if one.id == fact), "text")
    said = [value_in_words(value) if kind == "duration" else value for value in values]
    name = fact_in_words(fact, playbook)
    if kind == "yes-no" and operator in ("is", "is not"):
        word = said[0] if operator == "is" else {"yes": "no", "no": "yes"}.get(said[0], f"not {said[0]}")
        return f"the answer to {name} is {word}" if name.endswith("”") else f"{name}: {word}"
    if operator == "in":
        return f"{name} is {' or '.join(said)}"
    return f"{name} {operator} {said[0]}" if operator.startswith("is") else f"{name} is {operator} {said[0]}"


def _ended(outcome: str) -> str:
    meaning = OUTCOMES.get(outcome)  # type: ignore[call-overload]
    return f"“{meaning.label if meaning else outcome}”"


def _step(step_id: str, playbook: Playbook) -> str:
    title = next((step.title for step in playbook.steps if step.id == step_id), None)
    return f"“{title}”" if title else _NO_STEP


def _finding(check: str, finding: str, playbook: Playbook) -> str:
    findings = next((step.findings for step in playbook.steps if step.id == check), ())
    return f"“{next((one.title for one in findings if one.id == finding), 'what it no longer finds')}”"


def _bracketed(condition: Condition, playbook: Playbook) -> str:
    says = condition_in_words(condition, playbook)
    return f"({says})" if isinstance(condition, AnyOf) else says
