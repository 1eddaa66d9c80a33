"""Names that other systems and people log steps under, and that no step of ours has: as ids, as titles, as steps."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from mildladder.core.advice.first_ladder import Tried, tried_in_log
from mildladder.core.draft.publishing import free_name
from mildladder.core.errors import Conflict, NotFound
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.model import Playbook, Shape
from mildladder.core.model.base import Id
from mildladder.core.tally.counts import minutes_of
from mildladder.core.tally.signature import AttemptSign, Signature
from mildladder.desk.documents import document
from mildladder.desk.library.recounting import count_step_anew
from mildladder.desk.people import check_lead
from mildladder.store.library import add_alias, aliases, drop_alias, library_ids, library_step
from mildladder.store.log import reading as store
from mildladder.store.log.recount import cases_naming

__all__ = [
    "SaidName",
    "SayName",
    "Undecided",
    "count_as",
    "ids_of",
    "in_words",
    "median_of",
    "names_of_their_own",
    "odd_steps",
    "said_names",
    "say_name",
    "take_name_back",
    "title_of",
    "undecided",
    "with_step_ids",
]


class SayName(Shape):
    """What a lead says of a name in the log. step: of the draft, or one that another name was said to be; None: a step
    of its own."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    step: Id | None


class Undecided(Shape):
    """Names under which something was done and of which nobody has said what they are. attempts: under all of them;
    most: under which most was done, and how often that was."""

    names: int
    attempts: int
    most: str
    most_attempts: int


class SaidName(Shape):
    """A name in the log, and the step that it counts as. title: of the step; None: one of its own, which no step of the
    playbook is."""

    name: str
    step: Id
    title: str | None


@dataclass(frozen=True)
class OddSteps:
    """What was tried for a symptom that no step of its playbook is, and that a lead has said to be a step of its own.
    tallies: of the symptom, under ids throughout; tried: those that say anything, the most tried first."""

    tallies: list[KeyedTally]
    tried: tuple[Tried, ...]


def odd_steps(session: Session, symptom: str, playbook: Playbook) -> OddSteps:
    """What the log of a symptom has beside the steps of its playbook."""
    tallies = store.keyed_tallies(session, symptom)
    logged = {one.step for tally in tallies for one in tally.signature.attempts}
    known = {step.id for step in playbook.steps}
    ids = ids_of(logged, {*library_ids(session), *known})
    renamed = [with_step_ids(tally, ids) for tally in tallies]
    minutes = {ids[step]: median_of(bins) for step, bins in store.step_minutes(session, symptom).items() if step in ids}
    called = names_of_their_own(session, known)
    odd = [_of(tally, set(called)) for tally in renamed]
    return OddSteps(renamed, tried_in_log(odd, minutes, lambda step: _capital(called[step])))


def _of(tally: KeyedTally, steps: Collection[str]) -> KeyedTally:
    attempts = tuple(one for one in tally.signature.attempts if one.step in steps)
    return replace(tally, signature=tally.signature.model_copy(update={"attempts": attempts}))


def names_of_their_own(session: Session, known: Collection[str]) -> dict[str, str]:
    """The steps that a lead has said names to be and that no step is: the first of its names by id."""
    library = set(library_ids(session))
    found: dict[str, str] = {}
    for name, step in sorted(aliases(session).items()):
        if name not in library and step not in library and step not in known:
            found.setdefault(step, name)
    return found


def undecided(session: Session, symptom: str, known: Collection[str]) -> Undecided | None:
    """Of a symptom's log; None where every name is a step. known: the steps of its draft."""
    steps = {*known, *library_ids(session), *names_of_their_own(session, known)}
    odd = {name: count for name, count in store.attempted(session, symptom).items() if name not in steps}
    if not odd:
        return None
    most = max(sorted(odd), key=lambda name: odd[name])
    return Undecided(names=len(odd), attempts=sum(odd.values()), most=most, most_attempts=odd[most])


def said_names(session: Session, playbook: Playbook, logged: Collection[str]) -> tuple[SaidName, ...]:
    """What names in the log were said to be. logged: steps that cases of the playbook's symptom name."""
    titles = {step.id: step.title for step in playbook.steps}
    library = set(library_ids(session))
    own = names_of_their_own(session, titles)
    return tuple(
        SaidName(name=name, step=step, title=titles.get(step))
        for name, step in sorted(aliases(session).items())
        if name not in library and step in logged and (step in titles or step in own)
    )


def say_name(session: Session, playbook_id: str, said: SayName, who: int, now: datetime) -> None:
    """From now on, and in all that is logged, a name counts as a step.

    Raises NotTheirs for anybody but a lead, NotFound for a name that no case has or a step that is not there, and
    Conflict for a step's own name, one that was said, or one that other symptoms log too.
    """
    check_lead(session, who)
    playbook = document(session, playbook_id, "draft")
    known = {step.id for step in playbook.steps}
    if said.name in aliases(session):
        raise Conflict(f"what “{said.name}” is has been said already; take that back first")
    if said.name in known or said.name in library_ids(session):
        raise Conflict(f"“{said.name}” is a step by itself")
    named = cases_naming(session, said.name)
    if not named.get(playbook_id):
        raise NotFound(f"no case of this symptom has “{said.name}”")
    if len(named) > 1:
        raise Conflict(f"other symptoms log “{said.name}” too, where it may be something else")
    own = names_of_their_own(session, known)
    if said.step is not None and said.step not in known and said.step not in own:
        raise NotFound("that step is not there any more; choose another")
    step = said.step or free_name(said.name, {*known, *own, *library_ids(session), said.name})
    count_as(session, playbook_id, said.name, step, who, now)


def take_name_back(session: Session, playbook_id: str, name: str, who: int, now: datetime) -> None:
    """A name counts as itself again. Raises NotTheirs for anybody but a lead, and NotFound where nothing was said of
    it."""
    check_lead(session, who)
    logged = {one.step for tally in store.tallies(session, playbook_id) for one in tally.signature.attempts}
    if name not in {one.name for one in said_names(session, document(session, playbook_id, "draft"), logged)}:
        raise NotFound(f"nothing was said of “{name}” here")
    count_step_anew(session, drop_alias(session, name), who, now)


def count_as(session: Session, symptom: str, name: str, step: str, who: int, now: datetime) -> None:
    """From now on what is logged under a name counts as a step, unless other symptoms log it too: there it may be
    something else."""
    if set(cases_naming(session, name)) <= {symptom}:
        add_alias(session, name, step, who, now)
        count_step_anew(session, name, who, now)


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
    return in_words(step) if is_id(step) else _capital(step)


def _capital(name: str) -> str:
    return name[:1].upper() + name[1:]


def in_words(name: str) -> str:
    """An id as one reads it."""
    return name.replace("-", " ").capitalize()


def with_step_ids(tally: KeyedTally, ids: Mapping[str, str]) -> KeyedTally:
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
