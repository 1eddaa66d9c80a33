"""What carrying a step out, or leaving it undone, comes to: alone, or in a trial that is tested once for all of it."""

from collections.abc import Sequence
from dataclasses import replace
from typing import TypeVar

from mildladder.core.climb.agenda import RailTask, RungTask, TrialTask
from mildladder.core.climb.checks import check_step
from mildladder.core.climb.done import Carried
from mildladder.core.climb.settling import ended_by, settled, with_lasting_repair, with_rail
from mildladder.core.climb.state import Climb
from mildladder.core.errors import Conflict
from mildladder.core.ladder.footings import chain, footings_of
from mildladder.core.model import Attempt, HazardKind, Rung, Step, minutes_between
from mildladder.core.model.events import AnotherValue, Answered, ClimbEvent, Searched
from mildladder.core.model.outcomes import DO_NOT_ENTER, RESTORED, TESTED
from mildladder.core.model.step import SEARCH_FINDS

__all__ = ["carry_out", "search_on", "tell_finding", "tested", "try_another_value", "with_tries_noted", "without_doing"]

_T = TypeVar("_T")


def without_doing(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """An end of the rung before it was carried out: what was entered for it meanwhile stays entered."""
    task = now.task
    climb = _note_attempt(_entered(now.given_up()), move, event)
    return settled(with_rail(climb, task, move.outcome or ""))


def carry_out(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """The step was come to on its footing; how it ended decides what follows."""
    task, step = now.task, now.step
    footing = now.bound_for if step.footing == "any" else step.footing
    in_trial = isinstance(task, RungTask) and task.in_trial
    waits = now.waits_for_test and move.outcome == "done"
    proves_after = step.proves == "after-leaving"
    is_left = proves_after and not in_trial
    is_not_done = move.outcome in DO_NOT_ENTER or (now.waits_for_test and move.took == "no")
    stays = in_trial or waits or (is_not_done and (move.outcome in task.rung.on or now.started.rules >= 2))
    climb = _entered(
        replace(
            now,
            footing=None if proves_after and not stays else footing,
            route=(),
            to_put_back=(),
            leaves_for_test=now.leaves_for_test or ((in_trial or waits) and proves_after),
        )
    )
    if waits:
        return settled(_to_its_test(climb, move, event))
    climb = _note_attempt(climb, move, event)
    if move.outcome in TESTED and move.took != "no":
        climb = replace(climb, to_put_back=_changes((step,), move.outcome))
    if move.outcome == "fixed":
        return _fixed(climb, task.path, task.rung, step.id)
    if is_left and is_not_done and stays and move.outcome not in task.rung.on:
        climb = replace(climb, route=(None,))
    return settled(with_rail(climb, task, move.finding or move.outcome or "", is_left and is_not_done))


def _to_its_test(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """What was carried out waits for its test; a search waits with all its rounds so far."""
    task = now.task
    is_searching = now.step.search is not None
    test = (
        ()
        if isinstance(task, RungTask) and task.in_trial
        else (TrialTask(task.path, task.rung, task if is_searching else None),)
    )
    before = now.last_round
    minutes = minutes_between(now.since, event.at) + (before.minutes if before else 0)
    carried = Carried(task.path, move.step, minutes, _both(before, move), len(now.attempts), move.ways)
    begun = (
        now
        if is_searching
        else replace(now, guards=0, has_consent=False, has_begun=False, rounds=(), facts_of_try=None)
    )
    return replace(
        begun,
        agenda=(*test, *now.agenda[1:]),
        since=event.at,
        is_inside=False,
        last_round=None,
        carried=(*now.carried, carried),
        findings=now.without_undone(move.step),
    )


def _both(before: Carried | None, move: Answered) -> tuple[HazardKind, ...] | None:
    """The harm of the rounds before and of this one; None where nobody was asked."""
    if before is None or before.harmed is None:
        return move.harmed
    return tuple(dict.fromkeys((*before.harmed, *(move.harmed or ()))))


def search_on(now: Climb, move: Searched, event: ClimbEvent) -> Climb:
    """What came of a round of a search; one that leaves its state each time goes back there for the next.

    Raises Conflict where nothing is left to search.
    """
    check_step(now, move.step)
    if now.search is None or now.search.is_decided:
        raise Conflict("nothing is left to search here; reload to see the case as it stands")
    found = replace(now, rounds=(*now.rounds, move.is_among), watched=None)
    task = now.agenda[0]
    if not isinstance(task, TrialTask):
        return found
    if task.searching is None:
        raise Conflict("say what came of trying the original action again")
    if found.search is None or found.search.is_decided:
        return found
    return replace(
        found,
        agenda=(task.searching, *now.agenda[1:]),
        carried=(),
        last_round=now.carried[-1],
        leaves_for_test=False,
        footing=None,
        route=(),
        since=event.at,
    )


def _entered(now: Climb) -> Climb:
    """The states that the unit stands in are to be left, whatever became of leaving them before."""
    stands_in = {f"leave:{one.id}" for one in chain(footings_of(now.playbook), now.footing)}
    if stands_in.isdisjoint(now.tied):
        return now
    tied = {end: why for end, why in now.tied.items() if end not in stands_in}
    return replace(now, tied=tied, stuck=tuple(end for end in now.stuck if end.id not in stands_in))


def _note_attempt(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    attempt = Attempt(
        step=move.step,
        outcome=move.outcome,
        finding=move.finding,
        minutes=round(minutes_between(now.since, event.at) + (now.last_round.minutes if now.last_round else 0), 2),
        by=now.step.effort.by,
        trial=_next_trial(now),
        took=move.took,
        harmed=_both(now.last_round, move),
        reading=move.reading,
        ways=move.ways,
        safeguard_used=move.safeguard_used,
        put_right=move.put_right,
        tried_with=_tries(now) or None,
        at=event.at,
    )
    is_carried_out = move.outcome not in DO_NOT_ENTER and move.took != "no"
    findings = now.without_undone(move.step) if is_carried_out else now.findings
    noted = replace(
        _with_number(now, move),
        attempts=(*now.attempts, attempt),
        tried_at=(*now.tried_at, now.task.path),
        findings={**findings, move.step: move.finding} if move.finding else findings,
        agenda=now.agenda[1:],
    )
    return noted.with_nothing_begun(event.at)


def _tries(now: Climb) -> tuple[dict[str, str], ...]:
    """The values of every try of the current step, where there was more than one."""
    return tuple(one for one in (*now.tried_with, now.to_try_with) if one) if now.tried_with else ()


def with_tries_noted(now: Climb, event: ClimbEvent) -> Climb:
    """The climb with the tries of the current step on record, which did not help, before it is left for something
    else."""
    if not now.tried_with:
        return now
    attempt = Attempt(
        step=now.step.id,
        outcome="no-change",
        minutes=round(minutes_between(now.since, event.at), 2),
        by=now.step.effort.by,
        trial=_next_trial(now),
        tried_with=now.tried_with,
        at=event.at,
    )
    return replace(
        now,
        attempts=(*now.attempts, attempt),
        tried_at=(*now.tried_at, now.task.path),
        to_put_back=_changes((now.step,), "no-change"),
        footing=now.stands,
        tried_with=(),
        since=event.at,
    )


def try_another_value(now: Climb, move: AnotherValue) -> Climb:
    """The step did not help with its values; they are asked for again, and the step goes on. Its attempt holds the
    values of every try.

    Raises Conflict where it has none.
    """
    check_step(now, move.step)
    values = now.to_try_with
    if not values:
        raise Conflict("this step has no value to try another one of; reload to see the case as it stands")
    without = [{name: one for name, one in told.items() if name not in values} for told in (now.caught, now.values)]
    return settled(replace(now, caught=without[0], values=without[1], tried_with=(*now.tried_with, values)))


def _with_number(now: Climb, move: Answered) -> Climb:
    """The climb with which of the suspects it was: as a check found, or as a fix that ended the fault tried last. Where
    the playbook gives that a name, it is a value for what follows."""
    search = now.step.search
    if now.search is None or search is None or not (move.finding == SEARCH_FINDS[0] or move.outcome == "fixed"):
        return now
    number = now.search.found
    if move.outcome == "fixed" and number is None and now.search.tried is not None:
        number = now.search.first
    if number is None:
        return now
    values = {**now.values, search.found: str(number)} if search.found is not None else now.values
    return replace(now, found_at={**now.found_at, move.step: number}, values=values)


def tested(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """The original action was tried once for all that was done in the trial."""
    task = now.agenda[0]
    assert isinstance(task, TrialTask)
    number = _next_trial(now)
    attempts = tuple(
        Attempt(
            step=one.step,
            outcome=move.outcome,
            finding=move.finding if one.step == move.step else None,
            minutes=round(one.minutes, 2),
            by=now.on_unit(now.playbook.step(one.step)).effort.by,
            trial=number,
            took=move.took,
            harmed=one.harmed,
            ways=one.ways,
            at=event.at,
        )
        for one in now.carried
    )
    climb = replace(
        _with_number(now, move),
        attempts=_merged_in_order(now.attempts, now.carried, attempts),
        tried_at=_merged_in_order(now.tried_at, now.carried, [one.path for one in now.carried]),
        findings={**now.findings, move.step: move.finding} if move.finding else now.findings,
        footing=None if now.leaves_for_test else now.bound_for,
        route=(),
        leaves_for_test=False,
        guards=0,
        has_consent=False,
        has_begun=False,
        rounds=(),
        facts_of_try=None,
        carried=(),
        to_put_back=()
        if move.took == "no"
        else _changes([now.playbook.step(one.step) for one in now.carried], move.outcome),
        agenda=now.agenda[1:],
        since=event.at,
    )
    if move.outcome == "fixed":
        alone = now.carried[0].step if len(now.carried) == 1 else None
        last = task.last if now.carried[-1].path == task.path else None
        return _fixed(climb, now.carried[-1].path, last, alone)
    others = (one.step for one in now.carried if one.step != move.step)
    climb = replace(climb, to_find=tuple(step for step in others if now.playbook.step(step).findings))
    if now.carried[-1].path != task.path:
        return settled(climb)
    if move.finding is None:
        return settled(with_rail(climb, task, move.outcome or ""))
    return settled(replace(climb, agenda=(RailTask(task.path, task.last), *climb.agenda)))


def _merged_in_order(tried: Sequence[_T], carried: Sequence[Carried], results: Sequence[_T]) -> tuple[_T, ...]:
    """What was tested together, put among the rest in the order in which it was carried out."""
    found = list(tried)
    for number, (one, made) in enumerate(zip(carried, results, strict=True)):
        found.insert(one.after + number, made)
    return tuple(found)


def tell_finding(now: Climb, move: Answered) -> Climb:
    """What a step of the trial, not the last one, has left to be seen."""
    check_step(now, move.step)
    if all(finding.id != move.finding for finding in now.step.findings):
        raise Conflict(f"'{move.finding}' is no finding of '{move.step}'")
    last = max(number for number, attempt in enumerate(now.attempts) if attempt.step == move.step)
    told = now.attempts[last].model_copy(update={"finding": move.finding})
    told_of = replace(
        now,
        attempts=(*now.attempts[:last], told, *now.attempts[last + 1 :]),
        findings={**now.findings, move.step: move.finding or ""},
        to_find=now.to_find[1:],
    )
    return settled(told_of)


def _changes(steps: Sequence[Step], outcome: str | None) -> tuple[str, ...]:
    """Those of the steps of a trial that are put back after it, the last first."""
    after = ("always",) if outcome == "fixed" else ("always", "no-change")
    return tuple(step.id for step in reversed(steps) if step.undo is not None and step.undo.after in after)


def _fixed(now: Climb, path: str, rung: Rung | None, step: str | None) -> Climb:
    """The original action works again; where a workaround does it and the lasting repair is known, that follows."""
    if rung is not None and RESTORED in rung.on and now.playbook.step(rung.step).kind == "workaround":
        return settled(with_lasting_repair(replace(now, restored=now.since), path, rung))
    return settled(ended_by(now, path, step))


def _next_trial(now: Climb) -> int:
    return 1 + max((attempt.trial or 0 for attempt in now.attempts), default=0)
