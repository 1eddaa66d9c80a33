"""Unit groups: sorts of units that a ladder treats differently, and what a step is on each (method, section 2)."""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np

from mildladder.core.errors import BadInput
from mildladder.core.ladder.causes import FloatArray, priors_on
from mildladder.core.ladder.conditions import (
    Condition,
    EarlierCases,
    EarlierResolved,
    Ended,
    Found,
    World,
    evaluate,
    facts_of,
    histories_of,
    parse,
    partly,
    show,
    walk,
)
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Cause, Fact, Playbook, Step

__all__ = [
    "UnitGroup",
    "combinations",
    "conditions_of",
    "fact_types",
    "mean_priors",
    "on_unit",
    "share_where",
    "telling_facts",
    "unit_groups",
    "variant_on",
]

_MOST_GROUPS = 5_000


@dataclass(frozen=True)
class UnitGroup:
    """One combination of values of the facts that matter, and its share of all cases; members: every combination that
    a ladder treats alike, the first of them being `facts`."""

    facts: Mapping[str, str]
    share: float
    members: tuple[Mapping[str, str], ...] = ()


def fact_types(playbook: Playbook) -> dict[str, str]:
    """The type of every fact."""
    return {fact.id: fact.type for fact in playbook.facts}


def combinations(playbook: Playbook) -> int:
    """How many combinations of values there are of the facts that some condition, variant or cause looks at."""
    return math.prod(len(fact.spread) for fact in telling_facts(playbook))


def telling_facts(playbook: Playbook) -> list[Fact]:
    """The facts with shares that some condition, variant or cause looks at; a test of history under its own words."""
    conditions = list(conditions_of(playbook))
    asked = {fact for condition in conditions for fact in facts_of(condition)}
    asked |= {show(test) for condition in conditions for test in histories_of(condition)}
    return [fact for fact in playbook.facts if fact.id in asked and fact.spread]


def unit_groups(playbook: Playbook) -> list[UnitGroup]:
    """Every combination of values, with shares, of the facts that some condition, variant or cause looks at.

    Combinations for which all of these come out the same are one group, known by the first of them.
    Raises BadInput when there are more combinations than anybody would wait for.
    """
    facts = telling_facts(playbook)
    count = combinations(playbook)
    if count > _MOST_GROUPS:
        raise BadInput(f"the conditions tell {count:,} sorts of units apart; at most {_MOST_GROUPS:,} are worked out")
    groups: dict[tuple[object, ...], UnitGroup] = {}
    types = fact_types(playbook)
    conditions = list(conditions_of(playbook))
    for values in product(*(fact.spread.items() for fact in facts)):
        share = 1.0
        for _, part in values:
            share *= part
        if share > 0:
            known = {fact.id: value for fact, (value, _) in zip(facts, values, strict=True)}
            world = World(facts=known, types=types)
            alike = tuple(partly(condition, world) for condition in conditions)
            same = groups.get(alike) or UnitGroup(known, 0.0)
            groups[alike] = UnitGroup(same.facts, same.share + share, (*same.members, known))
    return list(groups.values())


def share_where(condition: Condition, playbook: Playbook) -> float | None:
    """Share of units for which a condition holds, by the shares of the facts that it looks at.

    None where it hangs on something that has no shares: a finding, a unit's history, a fact of which nobody knows them.
    """
    asked = set(facts_of(condition))
    facts = [fact for fact in playbook.facts if fact.id in asked]
    known = len(facts) == len(asked) and all(fact.spread for fact in facts)
    others = any(isinstance(part, Found | Ended | EarlierResolved | EarlierCases) for part in walk(condition))
    if not known or others or math.prod(len(fact.spread) for fact in facts) > _MOST_GROUPS:
        return None
    types, share = fact_types(playbook), 0.0
    for values in product(*(fact.spread.items() for fact in facts)):
        world = World(facts={fact.id: value for fact, (value, _) in zip(facts, values, strict=True)}, types=types)
        if evaluate(condition, world):
            share += math.prod(part for _, part in values)
    return share


def conditions_of(playbook: Playbook) -> Iterator[Condition]:
    """Every condition that may tell units apart, each once: of rungs, variants and causes."""
    whens = [rung.when for rung in rungs_of(playbook.ladder) if rung.when]
    whens += [variant.when for step in playbook.steps for variant in step.varies]
    whens += [one.when for cause in playbook.causes for one in cause.likelier]
    return map(parse, dict.fromkeys(whens))


def mean_priors(playbook: Playbook, causes: Sequence[Cause]) -> FloatArray:
    """P(cause) over all sorts of units, shape (K,)."""
    types = fact_types(playbook)
    made = np.zeros(len(causes))
    for group in unit_groups(playbook):
        made += group.share * priors_on(causes, group.facts, types)
    return made


def on_unit(step: Step, facts: Mapping[str, str], types: Mapping[str, str]) -> Step:
    """The step as it is on a unit: with the keys of the first variant whose condition holds there."""
    number = variant_on(step, facts, types)
    if number is None:
        return step
    variant = step.varies[number]
    changed = {name: getattr(variant, name) for name in variant.model_fields_set if name != "when"}
    return step.model_copy(update=changed)


def variant_on(step: Step, facts: Mapping[str, str], types: Mapping[str, str]) -> int | None:
    """Which of the step's variants holds on a unit: the first whose condition does; None: none."""
    if not step.varies:
        return None
    world = World(facts=facts, types=types)
    return next((at for at, variant in enumerate(step.varies) if evaluate(parse(variant.when), world)), None)
