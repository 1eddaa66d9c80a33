"""Changes beyond the order that would pay: side rails, rungs split by unit, checks not worth asking, earlier hand-off.

Langseth & Jensen 2003 and Ottosen & Jensen 2011 for when asking pays. What a suggestion is worth is always the
difference between the forecasts of two whole ladders.
"""

from collections.abc import Callable, Iterator
from typing import Literal

from mildladder.core.errors import BadInput, Stopped
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.ladder.saying import told_in_words
from mildladder.core.ladder.soundness import faults
from mildladder.core.model import Fact, Playbook, RailEntry, Rung, Shape
from mildladder.core.ordering.best import hand_off_after
from mildladder.core.ordering.blocks import Ladder
from mildladder.core.ordering.reasons import amount, gain, more_or_less

__all__ = ["Suggestion", "suggestions"]

_WORTH = 0.01
_LONGEST_RAIL = 3
_WINDOW = 12


class Suggestion(Shape):
    """One change that would pay. change: what it is, without what it is worth. effort, harm: what it saves a case.
    ladder: with the change made; None: none is proposed. rung: index of the rung that it is about."""

    kind: Literal["rail", "split", "drop-check", "hand-off"]
    rung: int
    change: str
    says: str
    effort: float
    harm: float
    ladder: tuple[Rung, ...] | None


def suggestions(playbook: Playbook, is_stopped: Callable[[], bool] = lambda: False) -> list[Suggestion]:
    """Every change worth at least one hundredth of the ladder's effort and harm, the one worth most first.

    Raises Stopped.
    """
    try_out = _TryOut(playbook, is_stopped)
    found = [*_rails(try_out), *_splits(try_out), *_dropped_checks(try_out), *_handed_off(try_out)]
    rate = playbook.policy.rate
    return sorted(found, key=lambda one: -(one.effort + rate * one.harm))


class _TryOut:
    """Forecasts changed ladders, and refuses those that break a rule that the draft keeps."""

    def __init__(self, playbook: Playbook, is_stopped: Callable[[], bool]) -> None:
        self.playbook, self.is_stopped = playbook, is_stopped
        self.now = forecast(playbook)
        self.broken = self._broken(playbook)
        rate = playbook.policy.rate
        self.least = _WORTH * (self.now.effort + rate * self.now.harm)

    def saving(self, ladder: tuple[Rung, ...]) -> tuple[float, Forecast] | None:
        """What a changed ladder saves; None where it may not be."""
        if self.is_stopped():
            raise Stopped
        changed = self.playbook.model_copy(update={"ladder": ladder})
        try:
            if next(faults(changed), None) or self._broken(changed) - self.broken:
                return None
            after = forecast(changed)
        except BadInput:
            return None
        return gain(self.now, after, self.playbook.policy.rate), after

    def _broken(self, playbook: Playbook) -> set[str]:
        ladder = Ladder(playbook, "balanced")
        return {rule.says for rule in ladder.broken(range(len(ladder.blocks)))}

    def title(self, step: str) -> str:
        return f"“{self.playbook.step(step).title}”"

    def suggest(
        self,
        kind: Literal["rail", "split", "drop-check"],
        rung: int,
        says: str,
        after: Forecast,
        ladder: tuple[Rung, ...],
    ) -> Suggestion:
        effort, harm = self.now.effort - after.effort, self.now.harm - after.harm
        worth = more_or_less(-effort, -harm)
        return Suggestion(
            kind=kind, rung=rung, change=says, says=f"{says}: {worth}.", effort=effort, harm=harm, ladder=ladder
        )


def _is_plain(rung: Rung) -> bool:
    return not rung.on and rung.trial is None and rung.keep is None and rung.pin is None


def _rails(try_out: _TryOut) -> Iterator[Suggestion]:
    """By finding of each check in place: fixes from below, put on its rail."""
    ladder = try_out.playbook.ladder
    for number, rung in enumerate(ladder):
        step = try_out.playbook.step(rung.step)
        is_inside = rung.trial is not None and number + 1 < len(ladder) and ladder[number + 1].trial == rung.trial
        if step.kind != "check" or is_inside:
            continue
        for finding in step.findings:
            rail, worth, after = _best_rail(try_out, number, finding.id)
            if after is not None and worth > try_out.least:
                names = ", then ".join(try_out.title(entry.step) for entry in rail)
                says = f"After {try_out.title(rung.step)} finds “{finding.title}”, go to {names} at once"
                yield try_out.suggest("rail", number, says, after, _with_rail(ladder, number, finding.id, rail))


def _best_rail(try_out: _TryOut, number: int, finding: str) -> tuple[list[Rung], float, Forecast | None]:
    """The rail grown by the fix that saves most each time, until none saves a hundredth more. It begins otherwise than
    the ladder goes on by itself: else it would be worth no more than a second try of what could not be done."""
    ladder = try_out.playbook.ladder
    next_one = ladder[number + 1] if number + 1 < len(ladder) else None
    steps = {step.id: step for step in try_out.playbook.steps}
    below = [rung for rung in ladder[number + 1 :] if _is_plain(rung) and steps[rung.step].is_tested]
    rail: list[Rung] = []
    worth, made = 0.0, None
    while len(rail) < _LONGEST_RAIL:
        tried = []
        for rung in below:
            if (rail or rung is not next_one) and all(rung.step != entry.step for entry in rail):
                longer = [*rail, Rung(step=rung.step, when=rung.when)]
                saved = try_out.saving(_with_rail(ladder, number, finding, longer))
                tried += [(saved[0], longer, saved[1])] if saved else []
        best = max(tried, key=lambda one: one[0], default=None)
        if best is None or best[0] <= worth + try_out.least:
            break
        worth, rail, made = best
    return rail, worth, made


def _with_rail(ladder: tuple[Rung, ...], number: int, finding: str, rail: list[Rung]) -> tuple[Rung, ...]:
    host = ladder[number]
    longer: tuple[RailEntry, ...] = (*rail, *host.on.get(finding, ()))
    changed = host.model_copy(update={"on": {**host.on, finding: longer}})
    return (*ladder[:number], changed, *ladder[number + 1 :])


def _splits(try_out: _TryOut) -> Iterator[Suggestion]:
    """By unit: a rung taken in two, each under its condition, where its best place differs between units."""
    ladder = try_out.playbook.ladder
    for number, rung in enumerate(ladder):
        if not _is_plain(rung):
            continue
        tried = []
        for fact, value in _choices(try_out.playbook):
            for target in range(max(0, number - _WINDOW), min(len(ladder), number + _WINDOW + 1)):
                changed = _split(ladder, number, target, f"{fact.id} is {value}", f"{fact.id} is not {value}")
                saved = try_out.saving(changed) if target not in (number, number + 1) else None
                tried += [(saved[0], target, fact, value, changed, saved[1])] if saved else []
        best = max(tried, key=lambda one: one[0], default=None)
        if best and best[0] > max(try_out.least, _best_move(try_out, number) + try_out.least):
            _, target, fact, value, changed, after = best
            where = "higher up" if target < number else "further down"
            only = told_in_words(f'{fact.id} is "{value}"', try_out.playbook)
            says = f"Put {try_out.title(rung.step)} {where}, at place {target + 1}, only where {only}"
            yield try_out.suggest("split", number, says, after, changed)


def _choices(playbook: Playbook) -> Iterator[tuple[Fact, str]]:
    for fact in playbook.facts:
        if fact.type == "choice":
            yield from ((fact, value) for value, share in fact.spread.items() if share > 0)


def _split(ladder: tuple[Rung, ...], number: int, target: int, when: str, otherwise: str) -> tuple[Rung, ...]:
    rung = ladder[number]
    moved = rung.model_copy(update={"when": f"({rung.when}) and {when}" if rung.when else when})
    stays = rung.model_copy(update={"when": f"({rung.when}) and {otherwise}" if rung.when else otherwise})
    others = [*ladder[:number], stays, *ladder[number + 1 :]]
    others.insert(target, moved)
    return tuple(others)


def _best_move(try_out: _TryOut, number: int) -> float:
    """What moving the whole rung saves at best: splitting it must save more."""
    ladder = try_out.playbook.ladder
    rest = [*ladder[:number], *ladder[number + 1 :]]
    saved = [
        try_out.saving((*rest[:target], ladder[number], *rest[target:]))
        for target in range(len(ladder))
        if target != number
    ]
    return max((one[0] for one in saved if one), default=0.0)


def _dropped_checks(try_out: _TryOut) -> Iterator[Suggestion]:
    """Checks whose answer costs more than what it changes."""
    ladder = try_out.playbook.ladder
    for number, rung in enumerate(ladder):
        if try_out.playbook.step(rung.step).kind != "check" or rung.trial is not None:
            continue
        without = (*ladder[:number], *ladder[number + 1 :])
        if _is_wanted(try_out.playbook, number):
            continue
        saved = try_out.saving(without)
        if saved and saved[0] > try_out.least:
            says = f"{try_out.title(rung.step)} costs more than its answer is worth; leave it out"
            yield try_out.suggest("drop-check", number, says, saved[1], without)


def _is_wanted(playbook: Playbook, number: int) -> bool:
    """Whether another rung leans on this one alone."""
    ladder = Ladder(playbook, "balanced")
    return any(
        rule.kind in ("safeguard", "needed", "finding") and all(number in ladder.blocks[b].rungs for b in rule.above)
        for rule in ladder.rules
    )


def _handed_off(try_out: _TryOut) -> Iterator[Suggestion]:
    playbook = try_out.playbook
    found = hand_off_after(playbook, range(len(playbook.ladder)), playbook.policy.rate)
    if found is None or found.saves <= try_out.least:
        return
    after = forecast(playbook.model_copy(update={"ladder": playbook.ladder[: found.rung + 1]}))
    effort, harm = try_out.now.effort - after.effort, try_out.now.harm - after.harm
    ended = 100 * (try_out.now.resolved + try_out.now.worked_around - after.resolved - after.worked_around)
    says = (
        f"Handing off right after {try_out.title(found.step)} would take {more_or_less(-effort, -harm)}, and leave"
        f" {amount(ended)} of 100 cases to others that the rungs below end."
    )
    change = f"Hand off right after {try_out.title(found.step)}"
    yield Suggestion(kind="hand-off", rung=found.rung, change=change, says=says, effort=effort, harm=harm, ladder=None)
