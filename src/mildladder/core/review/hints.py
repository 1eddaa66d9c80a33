"""What would make a good draft better."""

from collections.abc import Iterator
from datetime import date
from functools import partial

from mildladder.core.model import Playbook, Step
from mildladder.core.review.doubts import doubts
from mildladder.core.review.finding import Found, Place, Subject

__all__ = ["hints"]

_LONG_WAIT = 5
_OLD = 2


def hints(subject: Subject) -> Iterator[Found]:
    """Every hint."""
    for step, rung in subject.used():
        if step.is_tested and not step.expect:
            says = f"“{step.title}” does not say what is seen when it has worked"
            yield Found("hint", "no-expect", subject.where(step, ".expect"), says, rung)
        if step.effort.wait > _LONG_WAIT and not step.stuck:
            says = f"“{step.title}” waits {step.effort.wait:g} minutes and does not say what a stuck wait looks like"
            yield Found("hint", "no-stuck", subject.where(step, ".stuck"), says, rung)
        yield from _source(subject, step, rung)
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


def _source(subject: Subject, step: Step, rung: str | None) -> Iterator[Found]:
    """Advice that may be out of date, or that somebody earns by, where no case speaks for it."""
    source = step.source
    if source is None or step.id in subject.helped:
        return
    where = subject.where(step, ".source")
    is_known_old = subject.today is not None and source.read is not None
    if is_known_old and (years := _years(source.read, subject.today)) >= _OLD:
        says = f"“{step.title}” goes by advice that was read {years} years ago, and no case speaks for it"
        yield Found("hint", "old-source", where, says, rung)
    if source.kind == "seller":
        says = f"“{step.title}” comes from somebody who sells something, and no case speaks for it"
        yield Found("hint", "seller-source", where, says, rung)


def _years(since: date | None, today: date | None) -> int:
    """Whole years between two days."""
    assert since is not None
    assert today is not None
    return today.year - since.year - ((today.month, today.day) < (since.month, since.day))


def _without_condition(playbook: Playbook, place: Place) -> Playbook:
    rung = place.rung.model_copy(update={"when": None})
    ladder = (*playbook.ladder[: place.index], rung, *playbook.ladder[place.index + 1 :])
    return playbook.model_copy(update={"ladder": ladder})
