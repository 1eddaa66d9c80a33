"""Conditions of a ladder that somebody surely meant otherwise: never or always true, or counted twice.

Told beside the rung while the draft is edited; nothing is refused for it.
"""

from typing import Literal

from mildladder.core.ladder.conditions import Condition, facts_of, negation, parse, possible_values
from mildladder.core.ladder.units import fact_types
from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import Playbook, Rung, Shape

__all__ = ["doubts"]


class Doubt(Shape):
    """What is doubtful about the condition of the rung at `path`, in one sentence."""

    code: Literal["never-reached", "always-holds", "counted-twice"]
    path: str
    says: str


def doubts(playbook: Playbook) -> list[Doubt]:
    """Every doubt, from top to bottom."""
    types = fact_types(playbook)
    choices = {fact.id: list(fact.choices) for fact in playbook.facts if fact.choices is not None}
    shared = {fact.id for fact in playbook.facts if fact.spread}
    found: list[Doubt] = []
    seen: list[tuple[str, Condition]] = []
    for row in rows_of(playbook):
        if not isinstance(row.entry, Rung) or row.entry.when is None:
            continue
        condition = parse(row.entry.when)
        values = possible_values(condition, types, choices)
        if values == {False}:
            found.append(
                Doubt(code="never-reached", path=row.path, says="its condition can never hold: no unit comes here")
            )
        elif values == {True}:
            found.append(
                Doubt(code="always-holds", path=row.path, says="its condition always holds: it may as well be left out")
            )
        may_be_unknown = any(fact not in shared for fact in facts_of(condition))
        contrary = next((label for label, other in seen if other == negation(condition)), None)
        if may_be_unknown and contrary is not None:
            says = f"where the fact is unknown both this and rung {contrary} count, though one excludes the other"
            found.append(Doubt(code="counted-twice", path=row.path, says=says))
        seen.append((row.label, condition))
    return found
