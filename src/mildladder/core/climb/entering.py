"""A step with the states that are entered for it: their minutes, hazards and tools count as its own.

Kept apart because the caller's yes, what is read out and what is asked of harm all look at the same sum.
"""

from collections.abc import Sequence

from mildladder.core.figures.judgement import search_rounds
from mildladder.core.model import Effort, Footing, Hazard, Step

__all__ = ["with_entering"]


def with_entering(step: Step, entered: Sequence[Footing], is_each_round: bool = False) -> Step:
    """The step as it is carried out once these states are entered, outermost first. is_each_round: each round of its
    search enters and leaves them anew.

    What a state does is not undone with the step: where its hazard does not say how far it can be, it cannot.
    """
    if not entered:
        return step
    enter = [footing.enter for footing in entered]
    update: dict[str, object] = {
        "to_hand": (*dict.fromkeys(need for one in enter for need in one.to_hand), *step.to_hand)
    }
    times = 1.0
    if is_each_round and step.search is not None:
        times = search_rounds(step.search.count, step.search.how, is_found=True, is_fix=True)
        round_ = _sum(step.search.round, [*enter, *(footing.leave for footing in entered)])
        update["search"] = step.search.model_copy(update={"round": round_})
    else:
        update["effort"] = _sum(step.effort, enter)
    hazards = tuple(_of_state(hazard, times) for one in enter for hazard in one.hazards)
    return step.model_copy(update={**update, "hazards": (*hazards, *step.hazards)})


def _sum(effort: Effort, others: Sequence[Effort]) -> Effort:
    names = ("hands_on", "wait", "travel", "parts")
    return effort.model_copy(
        update={name: getattr(effort, name) + sum(getattr(one, name) for one in others) for name in names}
    )


def _of_state(hazard: Hazard, times: float) -> Hazard:
    """The hazard over so many times that the state is entered."""
    chance = hazard.chance if times == 1 else 1 - (1 - hazard.chance) ** times
    return hazard.model_copy(update={"chance": chance, "undo": hazard.undo or "no"})
