"""A draft with what the cases have taught in place of its guesses, so that whatever works on a playbook works on that.

The document itself is never rewritten (evidence, section 6): this one is made to be looked at, and thrown away.
"""

from collections.abc import Mapping, Sequence

from mildladder.core.evidence.carried import Carried
from mildladder.core.evidence.forward import Told, with_all_learned
from mildladder.core.evidence.learnable import Learnable
from mildladder.core.evidence.posterior import Chances
from mildladder.core.figures.drawn import OnUnit
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ladder.conditions import AllOf, AnyOf, Compare, Condition, show
from mildladder.core.ladder.units import UnitGroup, fact_types, variant_on
from mildladder.core.model import Cause, Fact, Likelier, Playbook, Step

__all__ = ["taught_playbook", "with_units"]


def taught_playbook(model: Learnable, means: Chances, draft: Playbook, told: Told) -> Playbook:
    """The draft with its causes, chances and findings as the means of the cases have them, one set laid out as the
    model is, and with what was counted of its steps and units."""
    learned = with_all_learned(draft, told)
    carried = Carried(model, means, learned)
    groups = carried.groups
    units = carried.units()
    causes = _causes(carried.causes, groups, units)
    known = [cause.id for cause in carried.causes]
    types = fact_types(learned)
    steps = tuple(_step(step, groups, units, known, types) for step in learned.steps)
    return learned.model_copy(update={"causes": causes, "steps": steps})


def with_units(model: Learnable, means: Chances, playbook: Playbook) -> Playbook:
    """The playbook with the shares of its facts as the means of the cases have them. Changes that are judged set by set
    keep the lead's: each set has shares of its own."""
    return playbook.model_copy(update={"facts": tuple(_fact(fact, model, means) for fact in playbook.facts)})


def _fact(fact: Fact, model: Learnable, means: Chances) -> Fact:
    """A fact in the shares that the cases have it in; one that the lead has judged anew since stays as it is judged."""
    seen = model.spread_under(fact.id, means.shares)
    if seen is None or model.judged_spread(fact.id) != fact.spread:
        return fact
    return fact.model_copy(
        update={
            "choices" if fact.choices else "shares": {
                value: float(seen[value][0]) if value in seen else 0.0 for value in fact.spread
            }
        }
    )


def _causes(causes: Sequence[Cause], groups: Sequence[UnitGroup], units: Sequence[OnUnit]) -> tuple[Cause, ...]:
    """With one sort of unit, weights; with several, how likely each is on each of them."""
    shares = [unit.mass[:, 0] / unit.mass[:, 0].sum() for unit in units]
    if len(groups) == 1:
        return tuple(
            cause.model_copy(update={"weight": float(share), "likelier": ()})
            for cause, share in zip(causes, shares[0], strict=True)
        )
    whens = [show(_on(group)) for group in groups]
    return tuple(
        cause.model_copy(
            update={
                "weight": 1.0,
                "likelier": tuple(
                    Likelier.model_construct(when=when, times=float(share[place]))
                    for when, share in zip(whens, shares, strict=True)
                ),
            }
        )
        for place, cause in enumerate(causes)
    )


def _on(group: UnitGroup) -> Condition:
    """The condition that holds on a sort of unit and on no other."""
    members: list[Condition] = []
    for member in group.members:
        tests: list[Condition] = [Compare(fact, "is", (value,)) for fact, value in member.items()]
        members.append(tests[0] if len(tests) == 1 else AllOf(tuple(tests)))
    return members[0] if len(members) == 1 else AnyOf(tuple(members))


def _step(
    step: Step, groups: Sequence[UnitGroup], units: Sequence[OnUnit], causes: Sequence[str], types: Mapping[str, str]
) -> Step:
    changes: dict[str, object] = {}
    if step.is_tested:
        held = [variant_on(step, group.facts, types) for group in groups]
        own = [number if number is not None and step.varies[number].fixes is not None else None for number in held]
        fixes = {number: units[place].cures[step.id] for place, number in reversed(list(enumerate(own)))}
        if None in fixes:
            changes["fixes"] = _fixes(fixes[None], causes)
        changes["varies"] = tuple(
            variant.model_copy(update={"fixes": _fixes(fixes[number], causes)}) if number in fixes else variant
            for number, variant in enumerate(step.varies)
        )
    if found := units[0].findings.get(step.id):
        changes["findings"] = tuple(
            one.model_copy(update={"given": dict(zip(causes, found[one.id][:, 0].tolist(), strict=True))})
            for one in step.findings
        )
    return step.model_copy(update=changes)


def _fixes(chances: FloatArray, causes: Sequence[str]) -> dict[str, float]:
    return {cause: float(one) for cause, one in zip(causes, chances[:, 0], strict=True) if one > 0}
