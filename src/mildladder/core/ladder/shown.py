"""Every text of a playbook that is shown to somebody and may wait for values, with its place in the document.

One list for those who fill texts in, ask for what they wait for, and look for names that nothing fills.
"""

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from mildladder.core.ladder.footings import footings_of, way
from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import Footing, Instruction, Need, Playbook, Rung, Step, Variant

__all__ = ["filled_step", "shown_elsewhere", "shown_in_step", "shown_in_variants", "shown_on_the_way"]


class Shown(NamedTuple):
    """A text, and its place below whatever it belongs to, such as ``do.0.text``."""

    path: str
    text: str


def shown_in_step(step: Step) -> Iterator[Shown]:
    """The texts of a step, what is done first."""
    yield from _instructions(step.do, "do")
    yield from _needs(step.to_hand, "to_hand")
    yield from _words(step, "")
    if step.undo and step.undo.how:
        yield Shown("undo.how", step.undo.how)
    yield from (Shown(f"afterwards.{number}.text", after.text) for number, after in enumerate(step.afterwards))


def shown_in_variants(step: Step) -> Iterator[Shown]:
    """The texts that a step has on some units alone."""
    for number, variant in enumerate(step.varies):
        yield from _words(variant, f"varies.{number}.")
        yield from _needs(variant.to_hand or (), f"varies.{number}.to_hand")


def _words(of: Step | Variant, path: str) -> Iterator[Shown]:
    """The texts that a step has, and that may be others on some units."""
    for name in _LINES:
        if text := getattr(of, name):
            yield Shown(f"{path}{name}", text)
    for name in _LISTS:
        yield from (Shown(f"{path}{name}.{number}", text) for number, text in enumerate(getattr(of, name) or ()))
    yield from (Shown(f"{path}guard.{number}.ask", guard.ask) for number, guard in enumerate(of.guard or ()))


_LINES = ("say", "expect", "missing", "stuck")
_LISTS = ("harmless", "beware")


def filled_step(step: Step, fill: Callable[[str], str]) -> Step:
    """The step with its words filled in; its instructions are filled for themselves."""
    changed: dict[str, object] = {name: fill(text) for name in _LINES if (text := getattr(step, name))}
    changed |= {name: tuple(fill(text) for text in getattr(step, name)) for name in _LISTS}
    changed["guard"] = tuple(guard.model_copy(update={"ask": fill(guard.ask)}) for guard in step.guard)
    return step.model_copy(update=changed)


def shown_on_the_way(playbook: Playbook, origin: str | None, step: Step) -> Iterator[Shown]:
    """The texts of what is left and entered before a step, and of how it is tried afterwards."""
    if step.footing != "any":
        left, entered = way(footings_of(playbook), origin, step.footing)
        for footing in (*left, *entered):
            yield from _footing(footing, "")
    if step.is_tested and playbook.retest:
        yield Shown("retest.how", playbook.retest.how)
    if step.proves == "after-restart" and playbook.restart:
        yield from _instructions(playbook.restart.do, "restart.do")


def shown_elsewhere(playbook: Playbook) -> Iterator[Shown]:
    """The texts of everything but steps: footings, restart, retest, notes, and what the symptom says to leave alone."""
    for number, leave_alone in enumerate(playbook.symptom.leave_alone):
        yield Shown(f"symptom.leave_alone.{number}.what", leave_alone.what)
        yield Shown(f"symptom.leave_alone.{number}.why", leave_alone.why)
    if playbook.symptom.not_covered:
        yield Shown("symptom.not_covered", playbook.symptom.not_covered)
    for number, footing in enumerate(playbook.footings):
        yield from _footing(footing, f"footings.{number}.")
    yield from _instructions(playbook.restart.do if playbook.restart else (), "restart.do")
    if playbook.retest:
        yield Shown("retest.how", playbook.retest.how)
    for row in rows_of(playbook):
        if isinstance(row.entry, Rung) and row.entry.note:
            yield Shown(f"{row.path}.note", row.entry.note)


def _footing(footing: Footing, path: str) -> Iterator[Shown]:
    yield Shown(f"{path}title", footing.title)
    yield from _instructions(footing.enter.do, f"{path}enter.do")
    yield from _needs(footing.enter.to_hand, f"{path}enter.to_hand")
    yield from _instructions(footing.leave.do, f"{path}leave.do")


def _instructions(instructions: Sequence[Instruction], path: str) -> Iterator[Shown]:
    for number, instruction in enumerate(instructions):
        place = f"{path}.{number}"
        if instruction.text:
            yield Shown(f"{place}.text", instruction.text)
        if instruction.copy_:
            yield Shown(f"{place}.copy", instruction.copy_)
        for which, inner in enumerate(instruction.ways or ()):
            yield from _instructions(inner, f"{place}.ways.{which}")


def _needs(needs: Sequence[Need], path: str) -> Iterator[Shown]:
    for number, need in enumerate(needs):
        yield Shown(f"{path}.{number}.what", need.what)
        if need.from_:
            yield Shown(f"{path}.{number}.from", need.from_)
