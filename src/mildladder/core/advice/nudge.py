"""What a nudge is: one change to a draft, with what it would save the desk and the cases that say so."""

from dataclasses import dataclass
from typing import Any, Literal

from mildladder.core.evidence.forward import Span
from mildladder.core.model import Person, Playbook, Rung, Shape, Step
from mildladder.core.model.base import Id

__all__ = ["Change", "Kind", "Nudge"]

Kind = Literal["move", "drop", "add", "split", "rail", "safeguard", "demote", "text", "regrade", "trial", "adopt"]


@dataclass(frozen=True)
class Change:
    """A change that is to be judged. playbook: the draft with it; touches: rungs of the main line that it speaks of, by
    index, two changes of the same being one too many; steps: what it is about. says: what to do; why: what the cases
    say. ladder: with the change made, where a ladder can make it."""

    kind: Kind
    says: str
    why: str
    playbook: Playbook
    touches: frozenset[int]
    steps: tuple[str, ...]
    ladder: tuple[Rung, ...] | None = None
    is_order: bool = False
    adds: tuple[Step, ...] = ()


class Nudge(Shape):
    """One change that the cases are for. saving: effort minutes a month, harm at the desk's rate counted in; it ranks
    alone. people: minutes of people a month, journeys included, by_person their means without journeys; waiting:
    minutes; parts: money; harm: points, each a month. resolved_before, resolved_after: shares of cases. before, after:
    the share of cases that comes to each rung of the main line. cases: that say so, of how many a month.

    key: the same for the same change of the same rungs. ladder: what the draft's becomes; None: the step itself is to
    be changed. adds: steps that the draft is given with it, in place of its own of the same id, as a file says them.
    """

    key: str
    kind: Kind
    says: str
    why: str
    steps: tuple[Id, ...]
    saving: Span
    people: Span
    by_person: dict[Person, float]
    waiting: Span
    parts: Span
    harm: Span
    resolved_before: float
    resolved_after: float
    before: tuple[float, ...]
    after: tuple[float, ...]
    cases: int
    ladder: tuple[Rung, ...] | None
    adds: tuple[dict[str, Any], ...] = ()
