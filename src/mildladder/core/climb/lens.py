"""A playbook as one sort of unit meets it: the facts that are known of it settle shares, variants and texts."""

from collections.abc import Mapping

from mildladder.core.climb.wording import Filler
from mildladder.core.errors import BadInput
from mildladder.core.ladder.conditions import World, evaluate, parse
from mildladder.core.ladder.shown import filled_step
from mildladder.core.ladder.units import fact_types, on_unit
from mildladder.core.ladder.values import is_value
from mildladder.core.model import Fact, Instruction, Playbook, Step

__all__ = ["settled_on", "worded_for_unit"]


def settled_on(playbook: Playbook, unit: Mapping[str, str]) -> Playbook:
    """The playbook whose cases all come from units with these facts; what is not told of them stays as common as it is.

    Raises BadInput for a fact that it has not, and for a value that the fact cannot have.
    """
    facts = {fact.id: fact for fact in playbook.facts}
    for name, value in unit.items():
        if name not in facts:
            raise BadInput("there is no such fact in this playbook any more", path="unit")
        if not is_value(facts[name], value):
            raise BadInput(f"“{facts[name].ask}” cannot be “{value}”", path="unit")
    return playbook.model_copy(update={"facts": tuple(_settled(fact, unit.get(fact.id)) for fact in playbook.facts)})


def _settled(fact: Fact, value: str | None) -> Fact:
    if value is None:
        return fact
    if fact.choices is not None:
        return fact.model_copy(update={"choices": {one: float(one == value) for one in fact.choices}})
    return fact.model_copy(update={"shares": {value: 1.0}})


def worded_for_unit(playbook: Playbook, unit: Mapping[str, str]) -> Playbook:
    """The playbook with its steps as such a unit's agent reads them: the variant that holds, the instructions that are
    for it, its values filled in. What hangs on anything else stays as it is written."""
    types = fact_types(playbook)
    world = World(facts=unit, types=types)
    words = Filler(unit, unit, {fact.id: tuple(fact.choices or ()) for fact in playbook.facts})
    steps = tuple(_worded(on_unit(step, unit, types), world, words) for step in playbook.steps)
    return playbook.model_copy(update={"steps": steps})


def _worded(step: Step, world: World, words: Filler) -> Step:
    return filled_step(step, words.fill).model_copy(update={"do": _instructions(step.do, world, words)})


def _instructions(instructions: tuple[Instruction, ...], world: World, words: Filler) -> tuple[Instruction, ...]:
    found = []
    for one in instructions:
        holds = evaluate(parse(one.when), world) if one.when else True
        if holds is False:
            continue
        changed = {
            "when": None if holds else one.when,
            "text": words.fill(one.text) if one.text else one.text,
            "copy_": words.command(one.copy_) if one.copy_ else one.copy_,
            "ways": tuple(_instructions(way, world, words) for way in one.ways) if one.ways else one.ways,
        }
        found.append(one.model_copy(update=changed))
    return tuple(found)
