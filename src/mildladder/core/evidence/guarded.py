"""How often safeguards had been carried out before what they ease: harm that was eased says little of what there would
be without them, and its seldom being seen must not be held against them."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import NamedTuple, Protocol

from mildladder.core.evidence.counts import HarmCount
from mildladder.core.ladder.shared import undone_by, with_included
from mildladder.core.model import Playbook
from mildladder.core.model.outcomes import DO_NOT_ENTER, NOT_DONE
from mildladder.core.tally.signature import Signature

__all__ = ["guards_of", "with_guards"]


class Guard(NamedTuple):
    """A safeguard, the steps that carry it out (itself, and those that include it), and those that undo it."""

    safeguard: str
    done_by: frozenset[str]
    undone_by: frozenset[str]


Guards = tuple[Guard, ...]


class Counted(Protocol):
    """So many cases alike."""

    @property
    def signature(self) -> Signature: ...

    @property
    def count(self) -> int: ...


def guards_of(playbook: Playbook) -> Guards:
    """The safeguards that ease some harm of a playbook."""
    named = {hazard.eased_by for step in playbook.steps for hazard in step.hazards}
    does = {step.id: with_included(playbook, step.id) for step in playbook.steps}
    undoes = {step.id: undone_by(playbook, step.id) for step in playbook.steps}
    return tuple(
        Guard(
            guard,
            frozenset(step for step, all_of_it in does.items() if guard in all_of_it),
            frozenset(step for step, all_of_it in undoes.items() if guard in all_of_it),
        )
        for guard in sorted(one for one in named if one is not None)
    )


def with_guards(harms: Mapping[str, HarmCount], guards: Guards, tallies: Iterable[Counted]) -> dict[str, HarmCount]:
    """The same with how often each safeguard had been carried out before, of all tries of the same cases."""
    tries: Counter[str] = Counter()
    after: dict[str, Counter[str]] = defaultdict(Counter)
    for tally in tallies if guards else ():
        stands: set[str] = set()
        for sign in tally.signature.attempts:
            if sign.took == "no" or sign.result in NOT_DONE:
                continue
            is_carried_out = sign.result not in DO_NOT_ENTER
            if is_carried_out and not sign.before:
                tries[sign.step] += tally.count
                after[sign.step].update(dict.fromkeys(stands, tally.count))
            if is_carried_out:
                stands -= {guard.safeguard for guard in guards if sign.step in guard.undone_by}
            stands |= {guard.safeguard for guard in guards if sign.step in guard.done_by}
    return {
        step: replace(one, guarded={guard: count / tries[step] for guard, count in after[step].items()})
        for step, one in harms.items()
    }
