"""Names that other systems and people log steps under, and that no step of ours has: as ids, as titles, as steps."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.advice.first_ladder import Tried, tried_in_log
from mildladder.core.advice.nudge import Nudge
from mildladder.core.draft.publishing import free_name
from mildladder.core.evidence.counts import minutes_of
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.evidence.signature import AttemptSign, Signature
from mildladder.core.model import Playbook, Shape
from mildladder.core.model.base import Id
from mildladder.store.library import add_alias, library_ids, library_step
from mildladder.store.log import reading as store
from mildladder.store.log.recount import cases_naming, recount_step

__all__ = ["OddSteps", "count_as", "ids_of", "in_words", "is_id", "median_of", "odd_steps", "title_of", "under_ids"]


@dataclass(frozen=True)
class OddSteps:
    """What was tried for a symptom and its playbook has no step for. tallies: of the symptom, under ids throughout;
    tried: those that say anything, the most tried first; names: what the log calls those whose names are no ids."""

    tallies: list[KeyedTally]
    tried: tuple[Tried, ...]
    names: Mapping[str, str]

    def named(self, nudge: Nudge) -> Nudge:
        """The nudge with what the log calls the steps that it adds."""
        return nudge.model_copy(
            update={"logged_as": {one.id: self.names[one.id] for one in nudge.adds if one.id in self.names}}
        )


def odd_steps(session: Session, symptom: str, playbook: Playbook) -> OddSteps:
    """What the log of a symptom has beside the steps of its playbook."""
    tallies = store.keyed_tallies(session, symptom)
    logged = {one.step for tally in tallies for one in tally.signature.attempts}
    known = {step.id for step in playbook.steps}
    ids = ids_of(logged, {*library_ids(session), *known})
    by_id = {ids[step]: step for step in logged}
    renamed = [under_ids(tally, ids) for tally in tallies]
    minutes = {ids[step]: median_of(bins) for step, bins in store.step_minutes(session, symptom).items() if step in ids}
    odd = [_of_odd(tally, known) for tally in renamed]
    tried = tried_in_log(odd, minutes, lambda step: title_of(session, by_id[step]))
    return OddSteps(renamed, tried, {step: name for step, name in by_id.items() if step != name})


def _of_odd(tally: KeyedTally, known: Collection[str]) -> KeyedTally:
    attempts = tuple(one for one in tally.signature.attempts if one.step not in known)
    return replace(tally, signature=tally.signature.model_copy(update={"attempts": attempts}))


def count_as(session: Session, symptom: str, name: str, step: str, who: int, now: datetime) -> None:
    """From now on what is logged under a name counts as a step, unless other symptoms log it too: there it may be
    something else."""
    if set(cases_naming(session, name)) <= {symptom}:
        add_alias(session, name, step, who, now)
        recount_step(session, name)


def ids_of(logged: Collection[str], known: Collection[str]) -> dict[str, str]:
    """An id for each step as it was logged: itself where it is one."""
    found: dict[str, str] = {}
    for name in sorted(logged):
        found[name] = name if is_id(name) else free_name(name, {*known, *logged, *found.values()})
    return found


def is_id(name: str) -> bool:
    """Whether a step may have it for its id."""
    try:
        _Named(step=name)
    except ValueError:
        return False
    return True


class _Named(Shape):
    step: Id


def title_of(session: Session, step: str) -> str:
    """What a logged step is called: by the library where that has it."""
    row = library_step(session, step)
    if row is not None:
        return str(row.shared["title"])
    return in_words(step) if is_id(step) else step[:1].upper() + step[1:]


def in_words(name: str) -> str:
    """An id as one reads it."""
    return name.replace("-", " ").capitalize()


def under_ids(tally: KeyedTally, ids: Mapping[str, str]) -> KeyedTally:
    """The tally with its steps under these ids."""
    sign = tally.signature
    attempts: Sequence[AttemptSign] = [one.model_copy(update={"step": ids[one.step]}) for one in sign.attempts]
    ended_by = ids.get(sign.resolved_by, sign.resolved_by) if sign.resolved_by else None
    renamed: Signature = sign.model_copy(update={"attempts": tuple(attempts), "resolved_by": ended_by})
    return replace(tally, signature=renamed)


def median_of(bins: Mapping[str, int]) -> float:
    """The median of a histogram of minutes."""
    ranked = sorted((minutes_of(value), count) for value, count in bins.items())
    left = sum(bins.values()) / 2
    for minutes, count in ranked:
        left -= count
        if left <= 0:
            return minutes
    return ranked[-1][0]
