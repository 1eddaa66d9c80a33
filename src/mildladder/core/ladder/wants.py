"""What a step names of the playbook around it, so that it can come to another one with all that it needs."""

from collections.abc import Iterator, Sequence

from mildladder.core.errors import BadInput
from mildladder.core.ladder.conditions import facts_of, parse
from mildladder.core.ladder.messages import names_in
from mildladder.core.ladder.shown import shown_in_step, shown_in_variants
from mildladder.core.model import Instruction, Step

__all__ = ["facts_wanted", "pictures_wanted", "steps_wanted"]


def steps_wanted(step: Step) -> tuple[str, ...]:
    """The steps that it needs, includes, undoes, or is eased by."""
    eased_by = (hazard.eased_by for hazard in step.hazards)
    return tuple(
        dict.fromkeys(one for one in (*step.needs, *step.includes, *step.cancels, *eased_by) if one is not None)
    )


def facts_wanted(step: Step) -> tuple[str, ...]:
    """The facts that its conditions look at, and the names that its texts wait for and nothing of its own gives."""
    found: list[str] = []
    for when in (*(variant.when for variant in step.varies), *(one.when for one in _every(step.do) if one.when)):
        try:
            found += facts_of(parse(when))
        except BadInput:
            continue
    own = {one.id for one in step.inputs}
    texts = (*shown_in_step(step), *shown_in_variants(step))
    found += [name for shown in texts for name in names_in(shown.text) if name not in own]
    return tuple(dict.fromkeys(found))


def pictures_wanted(step: Step) -> tuple[str, ...]:
    """The paths of its pictures."""
    return tuple(dict.fromkeys(one.picture for one in _every(step.do) if one.picture))


def _every(instructions: Sequence[Instruction]) -> Iterator[Instruction]:
    for one in instructions:
        yield one
        for way in one.ways or ():
            yield from _every(way)
