"""What files that are read together say differently of one thing: they share a library of steps and the desk's facts.

Kept apart from what makes one playbook sound, so that each file may be right by itself and wrong beside another.
"""

from collections.abc import Callable, Iterator, Sequence
from typing import Any, NamedTuple

from mildladder.core.ladder.halves import shared_half
from mildladder.core.model import Playbook

__all__ = ["disagreements"]


class Disagreement(NamedTuple):
    """A place in one of the playbooks that an earlier one contradicts. at: which playbook; path: where in it."""

    at: int
    path: str
    says: str


def disagreements(
    playbooks: Sequence[tuple[str, Playbook]], is_settled: Callable[[str], bool] = lambda _: False
) -> Iterator[Disagreement]:
    """Every thing that two playbooks, given with the names of their files, say differently, in the files' order.

    is_settled: whether it was said what becomes of the texts of a step that differ.
    """
    ids: dict[str, str] = {}
    facts: dict[str, tuple[str, str]] = {}
    steps: dict[str, tuple[str, dict[str, Any]]] = {}
    for at, (name, playbook) in enumerate(playbooks):
        if playbook.id in ids:
            yield Disagreement(at, "id", f"'{playbook.id}' stands in {ids[playbook.id]} too; bring one of them")
            continue
        ids[playbook.id] = name
        for number, fact in enumerate(playbook.facts):
            other, kind = facts.setdefault(fact.id, (name, fact.type))
            if kind != fact.type:
                says = f"'{fact.id}' is a {fact.type} here and a {kind} in {other}; make them alike, or rename one"
                yield Disagreement(at, f"facts.{number}.type", says)
        for number, step in enumerate(playbook.steps):
            shared = shared_half(step)
            other, theirs = steps.setdefault(step.id, (name, shared))
            if theirs != shared and not is_settled(step.id):
                keys = ", ".join(key for key in {**theirs, **shared} if theirs.get(key) != shared.get(key))
                says = f"'{step.id}' has another text in {other} ({keys}); make them alike, or give one another id"
                yield Disagreement(at, f"steps.{number}", says)
