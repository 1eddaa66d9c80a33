"""Leaving the order of a ladder on purpose: entered part-way, a later rung taken now, something off it done."""

from collections.abc import Collection, Sequence
from dataclasses import replace

from mildladder.core.climb.agenda import RungTask, Task, TrialTask
from mildladder.core.climb.carrying import with_tries_noted
from mildladder.core.climb.settling import ended_by, settled, why_passed
from mildladder.core.climb.state import Climb
from mildladder.core.errors import Conflict
from mildladder.core.figures.judgement import ROUGH, risk_grade
from mildladder.core.ladder.conditions import endings_of, findings_of, parse
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Attempt, Consent, Passed, Rung, minutes_between
from mildladder.core.model.base import MOST_LINE
from mildladder.core.model.events import ClimbEvent, OffLadder, TakenOutOfTurn
from mildladder.core.texts import shortened

__all__ = ["do_off_ladder", "entered_part_way", "later_rungs", "may_go_off", "take_out_of_turn"]

Later = tuple[RungTask, tuple[RungTask, ...]]

_AT_A_RUNG = ("fact", "guard", "consent", "begin", "step", "way-out")


def later_rungs(now: Climb) -> tuple[Later, ...]:
    """The rungs of the main line that may be taken now, each with the safeguards and needed steps that stand before it
    and are taken along."""
    if now.place not in _AT_A_RUNG or now.carried or now.fixed_by is not None:
        return ()
    ahead = now.agenda[1:]
    found = [task for task in _main_line(ahead) if why_passed(now, task) is None]
    return tuple((task, _taken_along(now, ahead, [task.rung.step], task)) for task in found)


def _main_line(tasks: Sequence[Task]) -> list[RungTask]:
    return [
        task
        for task in tasks
        if isinstance(task, RungTask) and task.path.startswith("ladder.") and task.path.count(".") == 1
    ]


def _taken_along(now: Climb, ahead: Sequence[Task], steps: Sequence[str], until: Task) -> tuple[RungTask, ...]:
    """The rungs before that one whose steps it needs, or which ease its hazards, transitively, in their order."""
    wanted = set(steps)
    before = _main_line(ahead[: ahead.index(until)])
    while True:
        more = _needed_by(now, wanted)
        if more <= wanted:
            break
        wanted |= more & {step.id for step in now.playbook.steps}
    return tuple(task for task in before if task.rung.step in wanted and why_passed(now, task) is None)


def take_out_of_turn(now: Climb, move: TakenOutOfTurn, event: ClimbEvent) -> Climb:
    """That rung comes now, with its whole trial and what belongs above it; the rest follows in its order.

    Raises Conflict where it cannot be taken.
    """
    offered = {task.path: (task, along) for task, along in later_rungs(now)}
    if move.path not in offered:
        raise Conflict("that rung cannot be taken now; reload to see the case as it stands")
    task, along = offered[move.path]
    now = with_tries_noted(now, event)
    taken: list[Task] = []
    for rung in (*along, task):
        taken += [one for one in _block(now.agenda, rung) if one not in taken]
    rest = [one for one in now.agenda if one not in taken]
    return settled(replace(now.given_up(), agenda=(*taken, *rest)).with_nothing_begun(event.at))


def _block(agenda: Sequence[Task], task: RungTask) -> list[Task]:
    """The rung, or the whole trial that it is tested with."""
    if not task.in_trial:
        return [task]
    at = agenda.index(task)
    start = at
    while start > 0 and isinstance(one := agenda[start - 1], RungTask) and one.in_trial:
        start -= 1
    end = next(n for n in range(at, len(agenda)) if isinstance(agenda[n], TrialTask))
    return list(agenda[start : end + 1])


def entered_part_way(now: Climb, step: str) -> Climb:
    """The climb that begins at the first rung of the main line with that step. Of the rungs above, those come that one
    further down needs, just before it; the others are passed. Without such a rung it begins at the top."""
    entry = next((task for task in _main_line(now.agenda) if task.rung.step == step), None)
    if entry is None:
        return now
    start = now.agenda.index(_block(now.agenda, entry)[0])
    above, below = now.agenda[:start], now.agenda[start:]
    ahead: list[Task] = []
    for task in below:
        block = _block(below, task) if isinstance(task, RungTask) else [task]
        for one in _wanted_above(now, above, block) if task is block[0] else ():
            ahead += [each for each in _block(above, one) if each not in ahead]
        ahead.append(task)
    why = "the ladder was entered further down"
    passed = [(task.path, Passed(step=task.rung.step, why=why)) for task in _main_line(above) if task not in ahead]
    return replace(now, agenda=tuple(ahead), passed=tuple(passed))


def _wanted_above(now: Climb, above: Sequence[Task], block: Sequence[Task]) -> list[RungTask]:
    """The rungs above without which those of the block, or of their rails, come to nothing, in their order."""
    candidates = _main_line(above)
    rungs = list(rungs_of(tuple(task.rung for task in block if isinstance(task, RungTask))))
    taken: list[RungTask] = []
    while more := [one for one in candidates if one not in taken and one.rung.step in _wanted_by(now, rungs)]:
        taken += more
        rungs += [one.rung for one in more]
    return [one for one in candidates if one in taken]


def _wanted_by(now: Climb, rungs: Sequence[Rung]) -> set[str]:
    """The steps that these rungs need, that ease their hazards, and whose end or finding their conditions ask for."""
    found = _needed_by(now, {rung.step for rung in rungs})
    for rung in rungs:
        condition = parse(rung.when) if rung.when else True
        found |= {test.check for test in findings_of(condition)} | {test.step for test in endings_of(condition)}
    return found


def _needed_by(now: Climb, steps: Collection[str]) -> set[str]:
    """What these steps need, and what eases their hazards."""
    held = [now.on_unit(now.playbook.step(name)) for name in steps]
    return {h.eased_by for step in held for h in step.hazards if h.eased_by} | {n for step in held for n in step.needs}


def may_go_off(now: Climb) -> bool:
    """Whether something may be done now that no rung asks for: not while a trial waits for its test, or after a fix."""
    is_between = now.place in (*_AT_A_RUNG, "hand-off")
    return is_between and not now.carried and now.fixed_by is None and not now.to_find


def do_off_ladder(now: Climb, move: OffLadder, event: ClimbEvent) -> Climb:
    """What was done is on record; where it ended the fault, the case is at its end. A step of this ladder that was done
    before is done again only with a reason, and a rough one only with the caller's yes."""
    if not may_go_off(now):
        raise Conflict("say first what came of the step that is under way")
    now = with_tries_noted(now, event) if move.outcome == "fixed" else now
    known = next((step for step in now.playbook.steps if step.id == move.step), None)
    if known is not None and now.is_done(known.id) and move.why is None:
        raise Conflict(f"“{known.title}” was done on this case already; say why it is done again")
    if known is not None and risk_grade(now.on_unit(known)) >= ROUGH and not move.agreed:
        raise Conflict(f"“{known.title}” is rough; tell the caller what it costs and get their yes first")
    name = move.step or move.called
    attempt = Attempt(
        step=name, outcome=move.outcome, minutes=round(minutes_between(now.since, event.at), 2), at=event.at
    )
    why = (f"{move.called}: {move.why}",) if move.why else ()
    yes = (
        (Consent(step=move.step, who=now.started.caller or now.started.unit or "caller", at=event.at),)
        if move.agreed and move.step
        else ()
    )
    is_over = move.outcome == "fixed" and now.started.rules >= 4
    done = replace(
        replace(now, footing=now.stands, route=()) if is_over else now,
        attempts=(*now.attempts, attempt),
        tried_at=(*now.tried_at, None),
        findings=now.without_undone(name),
        called={**now.called, name: move.called},
        notes=(*now.notes, *(shortened(one, MOST_LINE) for one in why)),
        consents=(*now.consents, *yes),
        since=event.at,
    )
    return settled(ended_by(done, "off-ladder", name) if move.outcome == "fixed" else done)
