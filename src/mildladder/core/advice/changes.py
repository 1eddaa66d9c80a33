"""Changes of a ladder that may pay: other places, fewer rungs, rungs that are missing, side rails, conditions."""

from collections.abc import Iterable, Iterator, Mapping

from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudge import Change, Kind
from mildladder.core.evidence.estimate import StepEstimate
from mildladder.core.evidence.rates import StepEvidence
from mildladder.core.ladder.moves import reordered
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Playbook, Rung
from mildladder.core.ordering.best import Infeasible, best_order
from mildladder.core.ordering.blocks import Ladder
from mildladder.core.ordering.suggestions import suggestions

__all__ = ["additions", "best_whole_order", "beyond", "drops", "everywhere", "is_known", "moves"]

# A step that the log knows and the ladder does not is worth a place once it was tried so often.
_LEAST_TRIED = 20
_KINDS: dict[str, Kind] = {"rail": "rail", "split": "split", "drop-check": "drop"}


def moves(judge: Judge, learned: Mapping[str, StepEstimate]) -> Iterator[Change]:
    """Every piece of the main line at every other place that the rules allow."""
    draft = judge.draft
    ladder = Ladder(draft, "balanced")
    count = len(ladder.pieces)
    for piece in range(count):
        if not is_known(draft, ladder.rungs(ladder.pieces[piece]), learned):
            continue
        for target in range(count):
            # Next to each other, one moved down is the other moved up.
            if target == piece or target == piece + 1:
                continue
            order = [one for one in range(count) if one != piece]
            order.insert(target, piece)
            yield _moved(draft, ladder, piece, target, order)


def is_known(draft: Playbook, rungs: list[int], learned: Mapping[str, StepEstimate]) -> bool:
    """Whether the cases say enough of every step that moves; a check ends nothing, so that nothing need be known."""
    steps = [draft.step(draft.ladder[rung].step) for rung in rungs]
    return all(not step.is_tested or (step.id in learned and not learned[step.id].refused) for step in steps)


def _moved(draft: Playbook, ladder: Ladder, piece: int, target: int, order: list[int]) -> Change:
    rungs = ladder.rungs(ladder.blocks_in(order))
    mine = ladder.rungs(ladder.pieces[piece])
    passed = list(range(min(piece, target), max(piece, target) + 1))
    touched = frozenset(rung for one in passed for rung in ladder.rungs(ladder.pieces[one]))
    after = reordered(draft, rungs)
    names = " and ".join(f"“{draft.step(draft.ladder[rung].step).title}”" for rung in mine)
    if target < piece:
        beside = ladder.rungs(ladder.pieces[target])[0]
        says = f"Put {names} above “{draft.step(draft.ladder[beside].step).title}”"
    else:
        beside = ladder.rungs(ladder.pieces[target])[-1]
        says = f"Put {names} below “{draft.step(draft.ladder[beside].step).title}”"
    steps = tuple(draft.ladder[rung].step for rung in mine)
    return Change("move", says, "", after, touched, (*steps, draft.ladder[beside].step), after.ladder)


def best_whole_order(judge: Judge, means: Playbook, learned: Mapping[str, StepEstimate]) -> Change | None:
    """The best order under the means of what was learned; None where it is the draft's, or nobody knows enough."""
    try:
        best = best_order(means, is_stopped=judge.is_stopped)
    except Infeasible:
        return None
    before = list(range(len(means.ladder)))
    if list(best.order) == before:
        return None
    away = _out_of_line(best.order)
    if not is_known(judge.draft, [*away, *best.left_out], learned):
        return None
    after = reordered(judge.draft, best.order)
    titles = [f"“{judge.draft.step(judge.draft.ladder[rung].step).title}”" for rung in (*away, *best.left_out)]
    says = f"Take the best order: {', '.join(titles[:4])}{' and others' if len(titles) > 4 else ''} stand elsewhere"
    steps = tuple(judge.draft.ladder[rung].step for rung in (*away, *best.left_out))
    return Change("move", says, "", after, frozenset(before), steps, after.ladder, is_order=True)


def _out_of_line(order: tuple[int, ...]) -> list[int]:
    """The fewest rungs that must move to make this order of the draft's: all but the longest run that keeps its own."""
    runs: list[list[int]] = []
    for rung in order:
        runs.append([*_longest(one for one in runs if one[-1] < rung), rung])
    stays = set(_longest(runs))
    return sorted(rung for rung in order if rung not in stays)


def _longest(runs: Iterable[list[int]]) -> list[int]:
    found: list[int] = []
    for run in runs:
        found = run if len(run) > len(found) else found
    return found


def drops(judge: Judge, learned: Mapping[str, StepEstimate]) -> Iterator[Change]:
    """Every rung that nothing leans on, taken out."""
    draft = judge.draft
    for number, rung in enumerate(draft.ladder):
        if rung.trial is None and is_known(draft, [number], learned):
            ladder = (*draft.ladder[:number], *draft.ladder[number + 1 :])
            says = f"Take “{draft.step(rung.step).title}” out of the ladder"
            after = draft.model_copy(update={"ladder": ladder})
            yield Change("drop", says, "", after, frozenset({number}), (rung.step,), ladder)


def additions(
    judge: Judge, learned: Mapping[str, StepEstimate], counts: Mapping[str, StepEvidence]
) -> Iterator[Change]:
    """Steps that stand on no rung and were tried all the same, at every place."""
    there = {rung.step for rung in rungs_of(judge.draft.ladder)}
    for step in judge.draft.steps:
        row = counts.get(step.id)
        if step.id in there or not step.is_tested or row is None or row.tried < _LEAST_TRIED:
            continue
        if not _is_known_step(step.id, learned):
            continue
        why = f"It stands on no rung, and was tried in {row.tried} cases"
        for place, ladder, where in everywhere(judge.draft, Rung(step=step.id)):
            says = f"Give “{step.title}” a rung, {where}"
            after = judge.draft.model_copy(update={"ladder": ladder})
            yield Change("add", says, why, after, frozenset({place}), (step.id,), ladder)


def everywhere(draft: Playbook, rung: Rung) -> Iterator[tuple[int, tuple[Rung, ...], str]]:
    """The ladder with one more rung at every place, and where that is in words."""
    for place in range(len(draft.ladder) + 1):
        where = f"above “{draft.step(draft.ladder[place].step).title}”" if place < len(draft.ladder) else "last"
        yield place, (*draft.ladder[:place], rung, *draft.ladder[place:]), where


def _is_known_step(step: str, learned: Mapping[str, StepEstimate]) -> bool:
    return step in learned and not learned[step].refused


def _on_rails(ladder: tuple[Rung, ...]) -> set[str]:
    """The steps on the rails of a ladder."""
    return {one.step for rung in ladder for rail in rung.on.values() for one in rungs_of(rail)}


def beyond(judge: Judge, means: Playbook) -> Iterator[Change]:
    """Side rails, rungs split by unit, checks not worth asking, that pay under the means of what was learned."""
    for one in suggestions(means, judge.is_stopped):
        if one.ladder is None or one.kind not in _KINDS:
            continue
        after = judge.draft.model_copy(update={"ladder": one.ladder})
        new = _on_rails(one.ladder) - _on_rails(judge.draft.ladder)
        steps = (*sorted(new), judge.draft.ladder[one.rung].step)
        same = {number for number, rung in enumerate(judge.draft.ladder) if rung.step in new}
        yield Change(_KINDS[one.kind], one.change, "", after, frozenset({one.rung, *same}), steps, one.ladder)
