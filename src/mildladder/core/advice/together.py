"""Rungs that are better tested in one go, since they share a restart or a state that is left, and trials that are
better taken apart (evidence, section 9)."""

from collections.abc import Iterator, Mapping
from itertools import count, groupby

from mildladder.core.advice.changes import is_known
from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudge import Change
from mildladder.core.evidence.estimate import StepEstimate
from mildladder.core.model import Playbook, Rung

__all__ = ["apart", "together"]


def together(judge: Judge, learned: Mapping[str, StepEstimate]) -> Iterator[Change]:
    """Every two neighbours of the main line that share what their test needs, made one trial, or one with the trial
    that stands beside."""
    draft = judge.draft
    free = next(name for number in count(1) if (name := f"together-{number}") not in {r.trial for r in draft.ladder})
    for upper, lower in zip(range(len(draft.ladder)), range(1, len(draft.ladder)), strict=False):
        first, second = draft.ladder[upper], draft.ladder[lower]
        shared = _shared(draft, first, second)
        if shared is None or first.on or not is_known(draft, [upper, lower], learned):
            continue
        if first.trial is not None and second.trial is not None:
            continue
        trial = first.trial or second.trial or free
        ladder = _with(draft, {upper: trial, lower: trial})
        says = f"Test “{_title(draft, first)}” and “{_title(draft, second)}” in one go"
        why = f"{shared}; which of them it was then stays open where they work"
        yield _change(draft, says, why, ladder, (upper, lower))


def _shared(draft: Playbook, first: Rung, second: Rung) -> str | None:
    """What two rungs need alike before their cure shows, in words; None for nothing."""
    one, other = draft.step(first.step), draft.step(second.step)
    if one.id == other.id or one.proves != other.proves or one.search is not None or other.search is not None:
        return None
    if one.proves == "after-restart":
        return "Both show after a restart, and one restart is enough"
    if one.proves == "after-leaving" and one.footing == other.footing:
        titles = {footing.id: footing.title for footing in draft.footings}
        if one.footing in titles:
            return f"Both show once “{titles[one.footing]}” is left, and leaving it once is enough"
    return None


def apart(judge: Judge, learned: Mapping[str, StepEstimate]) -> Iterator[Change]:
    """Every trial of the main line as rungs of their own."""
    draft = judge.draft
    for trial, numbers in groupby(range(len(draft.ladder)), key=lambda number: draft.ladder[number].trial):
        rungs = list(numbers)
        if trial is None or len(rungs) < 2 or not is_known(draft, rungs, learned):
            continue
        titles = " and ".join(f"“{_title(draft, draft.ladder[rung])}”" for rung in rungs)
        ladder = _with(draft, dict.fromkeys(rungs))
        why = "The first of them alone ends so much that the others are seldom needed"
        yield _change(draft, f"Test {titles} one after the other", why, ladder, tuple(rungs))


def _with(draft: Playbook, trials: Mapping[int, str | None]) -> tuple[Rung, ...]:
    return tuple(
        rung.model_copy(update={"trial": trials[number]}) if number in trials else rung
        for number, rung in enumerate(draft.ladder)
    )


def _change(draft: Playbook, says: str, why: str, ladder: tuple[Rung, ...], rungs: tuple[int, ...]) -> Change:
    steps = tuple(draft.ladder[rung].step for rung in rungs)
    after = draft.model_copy(update={"ladder": ladder})
    return Change("trial", says, why, after, frozenset(rungs), steps, ladder)


def _title(draft: Playbook, rung: Rung) -> str:
    return draft.step(rung.step).title
