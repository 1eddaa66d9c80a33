"""What comes next in a guided case: rungs that do not come up are passed, rails are put before what lies ahead."""

from dataclasses import replace

from mildladder.core.climb.agenda import (
    AgainTask,
    BackTask,
    RailTask,
    RestoredTask,
    RungTask,
    TrialTask,
    tasks,
)
from mildladder.core.climb.between import trimmed
from mildladder.core.climb.state import Climb
from mildladder.core.ladder.conditions import Compare, Condition, evaluate, parse
from mildladder.core.ladder.saying import condition_in_words, fact_in_words
from mildladder.core.model import Passed, Rung
from mildladder.core.model.base import MOST_LINE
from mildladder.core.model.outcomes import RESTORED
from mildladder.core.texts import shortened

__all__ = ["ended_by", "settled", "why_passed", "with_lasting_repair", "with_rail"]


def settled(now: Climb) -> Climb:
    """The climb with everything passed that does not come up, each rung with the reason."""
    while now.agenda and not now.to_find:
        task, rest = now.agenda[0], now.agenda[1:]
        if isinstance(task, BackTask):
            now = replace(now, agenda=rest, route=(*now.route, task.footing))
        elif isinstance(task, RestoredTask):
            now = ended_by(now, task.path, task.step)
        elif isinstance(task, RailTask):
            now = with_rail(replace(now, agenda=rest), task, now.findings.get(task.rung.step, ""))
        elif isinstance(task, TrialTask) and not now.carried:
            left = (None,) if now.leaves_for_test else ()
            now = replace(now, agenda=rest, route=(*now.route, *left), leaves_for_test=False)
        elif isinstance(task, RungTask | AgainTask) and now.started.rules >= 6 and now.is_try_begun:
            break
        elif isinstance(task, RungTask | AgainTask) and (why := why_passed(now, task)):
            passed = (*now.passed, (task.path, Passed(step=task.rung.step, why=shortened(why, MOST_LINE))))
            now = replace(now, agenda=rest, passed=passed)
            if not _is_excluded(now, task):
                now = _with_rail_of_done(now, task)
        else:
            break
    return now if now.to_put_back else replace(now, route=trimmed(now.route, now.footing))


def _is_excluded(now: Climb, task: RungTask | AgainTask) -> bool:
    """Whether the rung's condition does not hold: it is passed, and so is its rail."""
    when = task.rung.when if isinstance(task, RungTask) else None
    return when is not None and evaluate(parse(when), now.world) is False


def why_passed(now: Climb, task: RungTask | AgainTask) -> str | None:
    """Why the rung does not come up; None where it does."""
    rung = task.rung
    if rung.when and _is_excluded(now, task):
        return _why_not(now, parse(rung.when))
    if not now.is_done(rung.step):
        return None
    was_before = any(a.step == rung.step and a.by == "before" for a in now.attempts)
    if was_before and now.started.reopened_from:
        return f"tried on {now.started.reopened_from}, which came back"
    return "tried before the desk was called" if was_before else "already done on this case"


def _why_not(now: Climb, condition: Condition) -> str:
    if isinstance(condition, Compare) and now.types.get(condition.fact) == "yes-no":
        return f"the answer to {fact_in_words(condition.fact, now.playbook)} is {now.facts[condition.fact]}"
    if isinstance(condition, Compare) and condition.operator == "is":
        wanted = condition_in_words(condition, now.playbook)
        return f"only where {wanted}, and it is {now.facts[condition.fact]}"
    return f"only where {condition_in_words(condition, now.playbook)}"


def ended_by(now: Climb, path: str, step: str | None) -> Climb:
    """The fault is gone, or worked around for good: what lies ahead now is to keep it from coming back."""
    preventions = tuple(Rung(step=one.step, when=one.when) for one in now.playbook.after_fix)
    return replace(now, is_restored=False, fixed_by=path, fixed_step=step, agenda=tasks(preventions, "after_fix"))


def with_lasting_repair(now: Climb, path: str, rung: Rung) -> Climb:
    """A workaround has brought the service back: its footing is left, and the lasting repair follows."""
    rail = tasks(rung.on[RESTORED], f"{path}.on.{RESTORED}", RungTask(path, rung))
    undo = now.playbook.step(rung.step).undo
    off = rung.step if now.started.rules >= 5 and undo is not None and undo.after == RESTORED else None
    ahead = (BackTask(None), *rail, BackTask(None), RestoredTask(path, rung.step))
    return replace(now, is_restored=True, to_take_off=off, agenda=ahead)


def with_rail(now: Climb, task: RungTask | AgainTask | TrialTask | RailTask, key: str, is_left: bool = False) -> Climb:
    """The climb with the rail for that finding or outcome put before what lies ahead, if there is one.

    What is found within a trial is acted upon after its test. is_left: at the rail's end the unit goes to the
    normal state, not back to where it stood.
    """
    rung = task.last if isinstance(task, TrialTask) else task.rung
    rail = rung.on.get(key)
    if rail is None:
        return now
    if isinstance(task, RungTask) and task.in_trial and key == now.findings.get(rung.step):
        return _with_rail_of_done(now, task)
    host = RungTask(task.path, rung)
    back = BackTask(None if is_left else now.bound_for)
    ahead = (*tasks(rail, f"{task.path}.on.{key}", host), back, *now.agenda)
    return replace(now, agenda=ahead)


def _with_rail_of_done(now: Climb, task: RungTask | AgainTask) -> Climb:
    """The same for a step that is done: by its finding, which in a trial may be told only after the test."""
    if not (isinstance(task, RungTask) and task.in_trial):
        return with_rail(now, task, now.findings.get(task.rung.step, ""))
    if not task.rung.on:
        return now
    test, *rest = now.agenda
    return replace(now, agenda=(test, RailTask(task.path, task.rung), *rest))
