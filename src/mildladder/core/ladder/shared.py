"""What steps and states do to other steps: those that one does as well or undoes, and what a state takes from them."""

from collections.abc import Iterable, Iterator

from mildladder.core.model import Footing, Playbook, Step

__all__ = ["in_plain_words", "taken_away", "undone_by", "with_included"]


def with_included(playbook: Playbook, step_id: str) -> set[str]:
    """The step, and all that it does as well, directly or by way of others."""
    found: set[str] = set()
    waiting = [step_id]
    while waiting:
        current = waiting.pop()
        if current not in found:
            found.add(current)
            waiting.extend(playbook.step(current).includes)
    return found


def undone_by(playbook: Playbook, step_id: str) -> set[str]:
    """The steps that count as not done once it is; what it does itself is done."""
    does = with_included(playbook, step_id)
    return {other for name in does for other in playbook.step(name).cancels} - does


def taken_away(step: Step, states: Iterable[Footing]) -> Iterator[tuple[Footing, str]]:
    """Of what the step uses, what these states take away while they stand."""
    for state in states:
        yield from ((state, name) for name in step.uses if name in state.lost)


def in_plain_words(name: str) -> str:
    """What is used or taken away, as it is said: its name in the playbook is an id."""
    return name.replace("-", " ")
