"""Steps whose judged minutes or harm are not what the cases show: to be judged anew, whatever the order then gains."""

from collections.abc import Iterator, Mapping
from typing import NamedTuple

import numpy as np
from scipy.special import bdtr

from mildladder.core.advice.changes import best_whole_order
from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudge import Change
from mildladder.core.evidence.counts import HarmCount
from mildladder.core.evidence.estimate import Estimated, StepEstimate
from mildladder.core.evidence.forward import Told
from mildladder.core.evidence.learned import LearnedMinutes, taking
from mildladder.core.evidence.rates import is_more_than
from mildladder.core.evidence.taught import taught_playbook
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Hazard, Playbook, Step
from mildladder.core.model.outcomes import HARMS

__all__ = ["regraded"]

_RARE = 0.001
# That harm is rarer than judged is said only where it was asked about so often.
_LEAST_ASKED = 100


class Regraded(NamedTuple):
    """A step that is to be judged anew. judge: of the draft with the new figures; saves: what their best order saves a
    case against the draft's own, by set."""

    change: Change
    judge: Judge
    saves: FloatArray


def regraded(
    made: Estimated,
    draft: Playbook,
    told: Told,
    minutes: Mapping[str, LearnedMinutes],
    learned: Mapping[str, StepEstimate],
) -> Iterator[Regraded]:
    """Every step on a rung whose minutes or harm lie outside what the cases allow."""
    on_rungs = {rung.step for rung in rungs_of(draft.ladder)}
    for step in draft.steps:
        if step.id not in on_rungs:
            continue
        found = minutes.get(step.id)
        if found is not None and found.is_off:
            yield _judged_anew(made, _taking(draft, step, found.median), told, step, _of_minutes(step, found), learned)
        elif harm := _harm_off(step, told.harms.get(step.id)):
            yield _judged_anew(made, draft, told, step, harm, learned)


def _judged_anew(
    made: Estimated,
    draft: Playbook,
    told: Told,
    step: Step,
    words: tuple[str, str],
    learned: Mapping[str, StepEstimate],
) -> Regraded:
    judge = Judge(made, draft, told)
    means = taught_playbook(made.model, judge.few.mean(), draft, told)
    order = best_whole_order(judge, means, learned)
    saves = judge.saving(order.playbook) if order is not None else np.zeros_like(judge.now_over_draws)
    if order is None or saves.mean() <= 0:
        order, saves = None, np.zeros_like(judge.now_over_draws)
    after = order.playbook if order is not None else judge.draft
    says, why = words
    if order is not None:
        why = f"{why}; with that another order is the better one"
    return Regraded(Change("regrade", says, why, after, frozenset(), (step.id,)), judge, saves)


def _taking(draft: Playbook, step: Step, minutes: float) -> Playbook:
    """The draft with a step that takes so many minutes."""
    taking_it = taking(step, minutes, draft.retest)
    return draft.model_copy(update={"steps": tuple(taking_it if one.id == step.id else one for one in draft.steps)})


def _of_minutes(step: Step, found: LearnedMinutes) -> tuple[str, str]:
    says = f"Judge the minutes of “{step.title}” anew: {_short(found.median)}, not {_short(found.judged)}"
    why = (
        f"Half of {found.tries} tries took over {_short(found.median)} minutes"
        f" (between {_short(found.low)} and {_short(found.high)})"
    )
    return says, why


def _harm_off(step: Step, told: HarmCount | None) -> tuple[str, str] | None:
    """What to say of a hazard that is seen more often than judged, eased as it was, or less often."""
    if told is None:
        return None
    for hazard in step.hazards:
        seen = told.seen.get(hazard.kind, 0)
        share = hazard.chance * told.ease(hazard)
        if is_more_than(share, seen, told.asked) or _is_less(share, seen, told.asked):
            says = f"Judge the harm of “{step.title}” anew"
            why = (
                f"After {seen} of {told.asked} times {HARMS[hazard.kind].was_seen};"
                f" {share * told.asked:.0f} were to be expected as it is judged{_as_eased(hazard, told)}"
            )
            return says, why
    return None


def _as_eased(hazard: Hazard, told: HarmCount) -> str:
    return f" and was eased {told.guarded.get(hazard.eased_by, 0.0):.0%} of the times" if hazard.eased_by else ""


def _is_less(share: float, seen: int, asked: int) -> bool:
    """Whether so few would come by luck in fewer than 1 of 1,000 logs."""
    return asked >= _LEAST_ASKED and float(bdtr(seen, asked, share)) < _RARE


def _short(minutes: float) -> str:
    return f"{minutes:.0f}" if minutes >= 10 or float(minutes).is_integer() else f"{minutes:.1f}"
