"""What would make a good draft better."""

from collections.abc import Iterator
from functools import partial

from mildladder.core.model import Playbook
from mildladder.core.review.doubts import doubts
from mildladder.core.review.finding import Found, Place, Subject

__all__ = ["hints"]

_LONG_WAIT = 5


def hints(subject: Subject) -> Iterator[Found]:
    """Every hint."""
    for step, rung in subject.used():
        if step.is_tested and not step.expect:
            says = f"“{step.title}” does not say what is seen when it has worked"
            yield Found("hint", "no-expect", subject.where(step, ".expect"), says, rung)
        if step.effort.wait > _LONG_WAIT and not step.stuck:
            says = f"“{step.title}” waits {step.effort.wait:g} minutes and does not say what a stuck wait looks like"
            yield Found("hint", "no-stuck", subject.where(step, ".stuck"), says, rung)
    for doubt in doubts(subject.playbook):
        if doubt.code == "always-holds":
            place = next(one for one in subject.places if one.row.path == doubt.path)
            mend = "Leave the condition out" if place.row.depth == 0 else None
            mended = partial(_without_condition, subject.playbook, place) if mend else None
            yield Found("hint", doubt.code, doubt.path, f"“{place.step.title}”: {doubt.says}", doubt.path, mend, mended)
    if subject.playbook.symptom.see_also and not subject.playbook.symptom.leave_alone:
        says = "a sign has a look-alike, and nothing says which part the symptom wrongly throws suspicion on"
        yield Found("hint", "no-leave-alone", "symptom.leave_alone", says)
    fixes = [value for place in subject.places for value in place.step.fixes.values()]
    if fixes and all(isinstance(value, str) for value in fixes):
        yield Found("hint", "all-guesses", "steps", "every chance is still a guess in words, none a figure")


def _without_condition(playbook: Playbook, place: Place) -> Playbook:
    rung = place.rung.model_copy(update={"when": None})
    ladder = (*playbook.ladder[: place.index], rung, *playbook.ladder[place.index + 1 :])
    return playbook.model_copy(update={"ladder": ladder})
