"""What was to make a step safe and does not: the agent is told why, and says yes to what remains."""

from collections.abc import Mapping
from dataclasses import dataclass

from mildladder.core.model import HazardKind, Step
from mildladder.core.model.outcomes import HARMS

__all__ = ["UNDONE", "Lack", "in_words", "lacking"]


@dataclass(frozen=True)
class Lack:
    """A step that was to stand before another one and does not, with the outcome that it had, or `UNDONE`. hazard: what
    it was to ease; None where the other one needs it."""

    step: str
    outcome: str
    hazard: HazardKind | None


def lacking(step: Step, failed: Mapping[str, str]) -> tuple[Lack, ...]:
    """What a step lacks: the safeguards of its hazards, and what it needs, among the steps that failed, by outcome."""
    eased = [(hazard.eased_by, hazard.kind) for hazard in step.hazards if hazard.eased_by is not None]
    wanted: list[tuple[str, HazardKind | None]] = [*eased, *((needed, None) for needed in step.needs)]
    return tuple(Lack(name, failed[name], hazard) for name, hazard in dict.fromkeys(wanted) if name in failed)


# Not an outcome: it was done, and another step undid it since.
UNDONE = "undone"
_NOT_DONE = {"not-available": "is not there on this unit", "skipped": "was skipped", UNDONE: "has been undone since"}
_REMAINS = {"yes": "", "partly": "; only part of that can be undone", "no": "; that cannot be undone"}


def in_words(lack: Lack, title: str, step: Step) -> str:
    """Such as “Save the counts” could not be done: something stored may be lost; that cannot be undone.

    title: of what is lacking; step: the one that it was to make safe.
    """
    was = f"“{title}” {_NOT_DONE.get(lack.outcome, 'could not be done')}"
    if lack.hazard is None:
        return f"{was}, and this step needs it"
    hazard = next(one for one in step.hazards if one.kind == lack.hazard and one.eased_by == lack.step)
    undone = hazard.undo or (step.undo.possible if step.undo else "no")
    return f"{was}: {HARMS[lack.hazard].may_come}{_REMAINS[undone]}"
