"""How often safeguards had been carried out before what they ease: harm that was eased says little of what there would
be without them, and its seldom being seen must not be held against them."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Protocol

from mildladder.core.evidence.counts import HarmCount
from mildladder.core.model import Playbook
from mildladder.core.model.outcomes import DO_NOT_ENTER, NOT_DONE
from mildladder.core.tally.signature import Signature

__all__ = ["guards_of", "with_guards"]

# By safeguard, the steps that carry it out: itself, and those that include it.
Guards = tuple[tuple[str, frozenset[str]], ...]


class Counted(Protocol):
    """So many cases alike."""

    @property
    def signature(self) -> Signature: ...

    @property
    def count(self) -> int: ...


def guards_of(playbook: Playbook) -> Guards:
    """The safeguards that ease some harm of a playbook."""
    named = {hazard.eased_by for step in playbook.steps for hazard in step.hazards}
    does = {step.id: set(step.includes) for step in playbook.steps}
    return tuple(
        (guard, frozenset(step for step in does if step == guard or guard in _all_of(step, does)))
        for guard in sorted(one for one in named if one is not None)
    )


def _all_of(step: str, does: Mapping[str, set[str]]) -> set[str]:
    """The steps that a step does as well, and those that these do."""
    found: set[str] = set()
    waiting = [step]
    while waiting:
        for one in does.get(waiting.pop(), set()) - found:
            found.add(one)
            waiting.append(one)
    return found


def with_guards(harms: Mapping[str, HarmCount], guards: Guards, tallies: Iterable[Counted]) -> dict[str, HarmCount]:
    """The same with how often each safeguard had been carried out before, of all tries of the same cases."""
    tries: Counter[str] = Counter()
    after: dict[str, Counter[str]] = defaultdict(Counter)
    for tally in tallies if guards else ():
        done: set[str] = set()
        for sign in tally.signature.attempts:
            if sign.took == "no" or sign.result in NOT_DONE:
                continue
            if not sign.before and sign.result not in DO_NOT_ENTER:
                tries[sign.step] += tally.count
                for guard, steps in guards:
                    if not done.isdisjoint(steps):
                        after[sign.step][guard] += tally.count
            done.add(sign.step)
    return {
        step: replace(one, guarded={guard: count / tries[step] for guard, count in after[step].items()})
        for step, one in harms.items()
    }
