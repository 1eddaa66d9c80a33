"""A step with the states that are entered for it: their minutes, hazards and tools count as its own.

Kept apart because the caller's yes, what is read out and what is asked of harm all look at the same sum.
"""

from collections.abc import Sequence

from mildladder.core.model import Footing, Hazard, Step

__all__ = ["with_entering"]


def with_entering(step: Step, entered: Sequence[Footing]) -> Step:
    """The step as it is carried out once these states are entered, outermost first.

    What a state does is not undone with the step: where its hazard does not say how far it can be, it cannot.
    """
    if not entered:
        return step
    enter = [footing.enter for footing in entered]
    effort = step.effort.model_copy(
        update={
            name: getattr(step.effort, name) + sum(getattr(one, name) for one in enter)
            for name in ("hands_on", "wait", "travel", "parts")
        }
    )
    hazards = tuple(_of_state(hazard) for one in enter for hazard in one.hazards)
    to_hand = tuple(dict.fromkeys(need for one in enter for need in one.to_hand))
    return step.model_copy(
        update={"effort": effort, "hazards": (*hazards, *step.hazards), "to_hand": (*to_hand, *step.to_hand)}
    )


def _of_state(hazard: Hazard) -> Hazard:
    return hazard if hazard.undo else hazard.model_copy(update={"undo": "no"})
