"""Which facts and values a step waits for: some before it can be come to, the rest inside it, where they are read."""

from collections.abc import Iterator, Mapping
from typing import Protocol

from mildladder.core.climb.agenda import AgainTask, RungTask
from mildladder.core.climb.between import on_the_way
from mildladder.core.climb.values import count_of
from mildladder.core.climb.wording import names_in_commands, names_in_step
from mildladder.core.ladder.conditions import Condition, World, evaluate, facts_of, parse
from mildladder.core.ladder.footings import footings_of
from mildladder.core.ladder.messages import names_in
from mildladder.core.ladder.shown import shown_in_step, shown_on_the_way
from mildladder.core.ladder.sums import names_in_sum
from mildladder.core.model import Input, Instruction, Playbook, Step
from mildladder.core.model.events import Started

__all__ = ["INTERVAL", "before_step", "within_step"]

# The fact by which a fault that comes and goes says how often it does.
INTERVAL = "every"


class Standing(Protocol):
    """What of a guided case says what is asked: see `Climb`."""

    @property
    def playbook(self) -> Playbook: ...
    @property
    def started(self) -> Started: ...
    @property
    def task(self) -> RungTask | AgainTask: ...
    @property
    def step(self) -> Step: ...
    @property
    def world(self) -> World: ...
    @property
    def footing(self) -> str | None: ...
    @property
    def route(self) -> tuple[str | None, ...]: ...
    @property
    def bound_for(self) -> str | None: ...
    @property
    def unknown(self) -> frozenset[str]: ...
    @property
    def known(self) -> Mapping[str, str]: ...
    @property
    def for_commands(self) -> Mapping[str, str]: ...
    @property
    def inputs(self) -> Mapping[str, Input]: ...
    @property
    def types(self) -> Mapping[str, str]: ...


def before_step(now: Standing) -> tuple[str, ...]:
    """Ids of the facts and inputs that are asked before the step at hand: those that decide whether it comes up and
    how it is done on this unit, and those that what is read out before it waits for."""
    wanted = list(_deciding(now))
    if now.started.rules < 2:
        texts = [*names_in_step(now.step), *_on_the_way(now)]
        return _open(now, [*wanted, *texts, *_watched(now)], names_in_commands(now.step))
    said = [*(guard.ask for guard in now.step.guard), now.step.say or ""]
    counted = [count_of(now.step)] if now.step.search is not None and now.step.search.ask else []
    return _open(now, [*wanted, *counted, *(name for text in said for name in names_in(text)), *_watched(now)], ())


def within_step(now: Standing) -> tuple[str, ...]:
    """Ids of those that are asked inside the step, in the order in which its texts come to them."""
    step = now.step
    target = () if step.footing == "any" else (step.footing,)
    entered = on_the_way(footings_of(now.playbook), now.footing, (*now.route, *target))
    items = [do for one in entered for do in one.do]
    wanted = [name for do in (*items, *step.do) for name in _in_instruction(now, do)]
    around = [
        name for shown in shown_in_step(step) if not shown.path.startswith("do.") for name in names_in(shown.text)
    ]
    return _open(now, [*wanted, *around, *_on_the_way(now)], names_in_commands(step))


def _deciding(now: Standing) -> Iterator[str]:
    """Facts that the rung's condition and the step's variants look at, and that are not known."""
    task = now.task
    if task.rung.when and isinstance(task, RungTask) and not _is_prevention(now):
        yield from _undecided(now, parse(task.rung.when))
    for variant in now.playbook.step(task.rung.step).varies:
        condition = parse(variant.when)
        yield from _undecided(now, condition)
        if evaluate(condition, now.world) is True:
            break


def _is_prevention(now: Standing) -> bool:
    """Whether what is at hand keeps the fault from coming back. Its condition is about the unit as the fault found it:
    asked now, the repaired state would be told and logged."""
    return now.started.rules >= 3 and now.task.path.startswith("after_fix.")


def _undecided(now: Standing, condition: Condition) -> list[str]:
    """The facts of a condition that is neither true nor false yet."""
    return list(facts_of(condition)) if evaluate(condition, now.world) is None else []


def _on_the_way(now: Standing) -> Iterator[str]:
    for shown in shown_on_the_way(now.playbook, now.bound_for, now.step):
        yield from names_in(shown.text)


def _in_instruction(now: Standing, do: Instruction) -> Iterator[str]:
    """What one instruction waits for: what decides whether it is one of this unit, and then its texts."""
    if do.when:
        yield from _undecided(now, parse(do.when))
        if evaluate(parse(do.when), now.world) is False:
            return
    for text in (do.text, do.copy_):
        yield from names_in(text or "")
    for way in do.ways or ():
        for inner in way:
            yield from _in_instruction(now, inner)


def _watched(now: Standing) -> Iterator[str]:
    if now.step.watch is not None and now.types.get(INTERVAL) == "duration":
        yield INTERVAL


def _open(now: Standing, wanted: list[str], in_commands: list[str] | tuple[str, ...]) -> tuple[str, ...]:
    """Those that nobody has told yet, nor said that they cannot; in a command, those that nobody has confirmed."""
    unsafe = {name for one in in_commands if one not in now.for_commands for name in _asked_for(now, one)}
    names = [name for one in wanted for name in _asked_for(now, one)]
    known = {fact.id for fact in now.playbook.facts} | set(now.inputs)
    searched = {now.step.search.found} if now.step.search is not None else set()
    open_ones = ((known - now.known.keys()) | (known & unsafe)) - now.unknown - searched
    return tuple(dict.fromkeys(name for name in names if name in open_ones))


def _asked_for(now: Standing, name: str) -> list[str]:
    """What is asked for where a text waits for a name: itself, or what it is computed from."""
    one = now.inputs.get(name.removeprefix("not "))
    if one is None or one.compute is None:
        return [name.removeprefix("not ")]
    parts = [] if name in now.for_commands else names_in_sum(one.compute)
    return [asked for part in parts for asked in _asked_for(now, part)]
