"""What to change next: every change that may pay is judged alike, and what could be luck is not shown (evidence, 9)."""

import hashlib
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence, Set
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from mildladder.core.advice import changes, counted, together
from mildladder.core.advice.adopting import adopted
from mildladder.core.advice.first_ladder import Tried
from mildladder.core.advice.guarding import unguarded
from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudge import Change, Nudge
from mildladder.core.advice.regrading import regraded
from mildladder.core.evidence.differences import Split
from mildladder.core.evidence.estimate import Estimated
from mildladder.core.evidence.forward import Span, Told, span_of
from mildladder.core.evidence.learned import LearnedMinutes
from mildladder.core.evidence.rates import StepEvidence
from mildladder.core.evidence.taught import taught_playbook
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ladder.saying import told_in_words
from mildladder.core.model import HazardKind, Playbook, Step, Variant

__all__ = ["Grounds", "certain_changes", "nudges_of"]

_LEAST_RECORDS = 30
_MARGIN, _SURE = 0.01, 0.975
_LEAST_A_MONTH = 10.0
_BEST = 5
_MOST_LOST = 0.01
_WHOLE_ORDER = 1.5
_MOST_SPLITS = 2


@dataclass(frozen=True)
class Grounds:
    """What nudges of a draft rest on. a_month: cases a month; refit: an estimate of the same cases for
    a ladder that tells more units apart, or has a step more; minutes: that steps take, as logged; odd: what was tried
    and no step of the draft says; elsewhere: what eases a step's harm in other playbooks, by step and kind."""

    made: Estimated
    draft: Playbook
    told: Told
    counts: Mapping[str, StepEvidence]
    splits: Sequence[Split]
    a_month: float
    refit: Callable[[Playbook], Estimated]
    minutes: Mapping[str, LearnedMinutes] = field(default_factory=dict)
    odd: Sequence[Tried] = ()
    elsewhere: Mapping[tuple[str, HazardKind], Sequence[Step]] = field(default_factory=dict)


class Sure(NamedTuple):
    """A change that is worth showing, by whom it was judged, and what it saves a case by each of many sets."""

    change: Change
    judge: Judge
    saves: FloatArray


def nudges_of(grounds: Grounds, is_stopped: Callable[[], bool] = lambda: False) -> tuple[Nudge, ...]:
    """Those worth showing, the one worth most first; of several that touch the same rungs, the one worth most. Raises
    Stopped, and BadInput as the forecast of the draft does."""
    return tuple(_nudge(one, grounds) for one in _without_doubles(certain_changes(grounds, is_stopped)))


def certain_changes(grounds: Grounds, is_stopped: Callable[[], bool] = lambda: False) -> list[Sure]:
    """Every change that the cases are sure of, the one worth most first, whatever rungs it touches. Raises as
    `nudges_of` does."""
    if grounds.made.estimate.refused or grounds.made.estimate.cases < _LEAST_RECORDS or grounds.a_month <= 0:
        return []
    judge = Judge(grounds.made, grounds.draft, grounds.told, is_stopped)
    guarded = list(_shown(judge, unguarded(judge, grounds.told.harms, grounds.draft, grounds.elsewhere), grounds))
    found = [
        *_shown(judge, _of_ladder(judge, grounds), grounds),
        *_shown(judge, counted.hard_to_do(judge, grounds.counts), grounds),
        *guarded,
        *_demoted(grounds, is_stopped),
        *_split(grounds, is_stopped),
        *_regraded(grounds, {one.change.steps[0] for one in guarded}),
        *_adopted(grounds, is_stopped),
    ]
    return sorted(found, key=lambda one: -float(one.saves.mean()))


def _of_ladder(judge: Judge, grounds: Grounds) -> Iterator[Change]:
    learned = {one.step: one for one in grounds.made.estimate.steps}
    means = taught_playbook(grounds.made.model, judge.few.mean(), grounds.draft, grounds.told)
    yield from changes.moves(judge, learned)
    if order := changes.best_whole_order(judge, means, learned):
        yield order
    yield from changes.drops(judge, learned)
    yield from changes.additions(judge, learned, grounds.counts)
    yield from changes.beyond(judge, means)
    yield from together.together(judge, learned)
    yield from together.apart(judge, learned)


def _shown(judge: Judge, found: Iterable[Change], grounds: Grounds) -> Iterator[Sure]:
    """Of each kind the best by few sets, those of them that many sets are sure of."""
    by_kind: dict[tuple[str, bool], list[tuple[float, Change]]] = {}
    least = _MARGIN * float(judge.now.mean())
    for change in found:
        if not judge.may_be(change.playbook):
            continue
        worth = judge.worth(change.playbook)
        if worth is not None and worth > least:
            by_kind.setdefault((change.kind, change.is_order), []).append((worth, change))
    for group in by_kind.values():
        for _, change in sorted(group, key=lambda one: -one[0])[:_BEST]:
            saves = judge.saving(change.playbook)
            if _is_sure(judge, saves, grounds.a_month) and not _loses(judge, change):
                yield Sure(change, judge, saves)


def _is_sure(judge: Judge, saves: FloatArray, a_month: float) -> bool:
    is_more = saves > _MARGIN * judge.now_over_draws
    return bool(is_more.mean() >= _SURE and saves.mean() * a_month >= _LEAST_A_MONTH)


def _loses(judge: Judge, change: Change) -> bool:
    """Whether more than a hundredth of the cases would stay unresolved for what is left out."""
    return change.kind in ("drop", "split") and judge.share_lost(change.playbook) > _MOST_LOST


def _demoted(grounds: Grounds, is_stopped: Callable[[], bool]) -> Iterator[Sure]:
    """Steps whose cures come back, at the best place further down, where only cures that last count."""
    usual = counted.share_back(grounds.counts)
    for step, holds in counted.without_cures_that_come_back(grounds.counts).items():
        judge = Judge(grounds.made, grounds.draft, grounds.told, is_stopped, {step: holds})
        learned = {one.step: one for one in grounds.made.estimate.steps}
        title = next((one.title for one in grounds.draft.steps if one.id == step), "")
        why = f"{1 - holds:.0%} of the cures of “{title}” come back, of all {usual:.0%}".replace("%", "\u00a0%")
        lower = (
            replace(change, kind="demote", why=why)
            for change in changes.moves(judge, learned)
            if step in change.steps and _is_lower(grounds.draft, change.playbook, step)
        )
        yield from sorted(_shown(judge, lower, grounds), key=lambda one: -float(one.saves.mean()))[:1]


def _is_lower(before: Playbook, after: Playbook, step: str) -> bool:
    places = [[rung.step for rung in one.ladder] for one in (before, after)]
    return step in places[0] and places[1].index(step) > places[0].index(step)


def _adopted(grounds: Grounds, is_stopped: Callable[[], bool]) -> Iterator[Sure]:
    """Steps that people do and the draft does not have, each at its best place."""
    model = grounds.made.model.playbook
    for judge, places in adopted(grounds.draft, grounds.odd, model, grounds.told, grounds.refit, is_stopped):
        yield from sorted(_shown(judge, places, grounds), key=lambda one: -float(one.saves.mean()))[:1]


def _regraded(grounds: Grounds, guarded: Set[str]) -> Iterator[Sure]:
    """Steps that are to be judged anew, whatever that saves: figures that are wrong mislead every order. guarded: those
    of whose harm it is said already what would ease it."""
    learned = {one.step: one for one in grounds.made.estimate.steps}
    for one in regraded(grounds.made, grounds.draft, grounds.told, grounds.minutes, learned):
        if guarded.isdisjoint(one.change.steps):
            yield Sure(*one)


def _split(grounds: Grounds, is_stopped: Callable[[], bool]) -> Iterator[Sure]:
    """Rungs that end almost nothing on units with one value of a fact: tried elsewhere alone."""
    sure = [one for one in grounds.splits if one.level == "sure" and one.resolved < one.expected]
    tried = 0
    for split in sorted(sure, key=lambda one: one.z):
        rungs = [number for number, rung in enumerate(grounds.draft.ladder) if rung.step == split.step]
        facts = {fact.id for fact in grounds.draft.facts if fact.type == "choice"}
        if len(rungs) != 1 or split.fact not in facts or tried == _MOST_SPLITS:
            continue
        tried += 1
        draft = _telling(grounds.draft, split)
        judge = Judge(grounds.refit(_telling(grounds.made.model.playbook, split)), draft, grounds.told, is_stopped)
        yield from _shown(judge, [_only_where(judge, split, rungs[0])], grounds)


def _telling(playbook: Playbook, split: Split) -> Playbook:
    """The step told apart on those units, so that its chances there are learned by themselves."""
    step = playbook.step(split.step)
    apart = Variant(when=_is(split), fixes=dict(step.fixes))
    changed = step.model_copy(update={"varies": (apart, *step.varies)})
    return playbook.model_copy(update={"steps": tuple(changed if s.id == step.id else s for s in playbook.steps)})


def _is(split: Split, word: str = "is") -> str:
    return f'{split.fact} {word} "{split.value}"'


def _only_where(judge: Judge, split: Split, number: int) -> Change:
    draft = judge.draft
    rung = draft.ladder[number]
    when = f"({rung.when}) and {_is(split, 'is not')}" if rung.when else _is(split, "is not")
    ladder = (*draft.ladder[:number], rung.model_copy(update={"when": when}), *draft.ladder[number + 1 :])
    title = draft.step(rung.step).title
    says = f"Try “{title}” only where {told_in_words(_is(split, 'is not'), draft)}"
    why = (
        f"Where {told_in_words(_is(split), draft)} it ended {split.resolved} of {split.tries};"
        f" {split.expected:.0f} were to be expected"
    )
    after = draft.model_copy(update={"ladder": ladder})
    return Change("split", says, why, after, frozenset({number}), (rung.step,), ladder)


def _without_doubles(found: Sequence[Sure]) -> list[Sure]:
    """Of those that touch the same rungs the first; the whole order first of all where it saves half again as much as
    the best single move."""
    single = max(
        (float(one.saves.mean()) for one in found if one.change.kind == "move" and not one.change.is_order), default=0.0
    )
    orders = [one for one in found if one.change.is_order and one.saves.mean() > _WHOLE_ORDER * single]
    chosen: list[Sure] = []
    for one in [*orders, *(other for other in found if not other.change.is_order)]:
        is_said = any(one.change.touches & other.change.touches for other in chosen)
        if not is_said and all(one.change.steps != other.change.steps for other in chosen):
            chosen.append(one)
    return sorted(chosen, key=lambda one: -float(one.saves.mean()))


def _nudge(judged: Sure, grounds: Grounds) -> Nudge:
    change, judge, saves = judged
    spared = judge.spared(change.playbook)
    often = grounds.a_month

    def month(one: Span) -> Span:
        return Span(mean=often * one.mean, low=often * one.low, high=often * one.high)

    return Nudge(
        key=hashlib.sha256(f"{grounds.draft.id} {change.kind} {change.says}".encode()).hexdigest()[:16],
        kind=change.kind,
        says=change.says,
        why=change.why or _why(change, grounds),
        steps=tuple(dict.fromkeys(change.steps)),
        saving=month(span_of(saves)),
        people=month(spared.people),
        by_person={person: often * mean for person, mean in spared.by_person.items()},
        waiting=month(spared.waiting),
        parts=month(spared.parts),
        harm=month(spared.harm),
        resolved_before=spared.resolved[0],
        resolved_after=spared.resolved[1],
        before=spared.arriving[0],
        after=spared.arriving[1],
        cases=grounds.made.estimate.cases,
        ladder=change.ladder,
        adds=tuple(step.model_dump(mode="json", by_alias=True, exclude_unset=True) for step in change.adds),
    )


def _why(change: Change, grounds: Grounds) -> str:
    """What the cases say of the steps that it is about."""
    first = {one.step: one.first.mean for one in grounds.made.estimate.steps if not one.refused}
    titles = {step.id: step.title for step in grounds.draft.steps}
    told = [
        f"“{titles[step]}” ends {first[step]:.0%} if tried first".replace("%", "\u00a0%")
        for step in dict.fromkeys(change.steps)
        if first.get(step) is not None
    ]
    return "; ".join(told[:2]) or "By what the cases have taught of the steps around it"
