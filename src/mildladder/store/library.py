"""Queries for what playbooks share: steps by version, merged steps, desk-wide facts."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy import func, select, tuple_
from sqlalchemy.orm import Session

from mildladder.core.errors import Conflict, NotFound
from mildladder.core.model import Fact
from mildladder.store.tables import AliasRow, FactRow, LibraryStepRow, PersonRow

__all__ = [
    "KnownFact",
    "LibraryText",
    "add_alias",
    "add_library_version",
    "add_texts",
    "aliases",
    "drop_alias",
    "fact_questions",
    "fact_types",
    "facts",
    "library_ids",
    "library_step",
    "newest_library_steps",
    "newest_texts",
    "newest_versions",
    "register_facts",
]


# So many are looked for at once.
_MANY = 500


def library_step(session: Session, step_id: str) -> LibraryStepRow | None:
    """The newest version of a shared step; None when the library has none of that id."""
    query = select(LibraryStepRow).where(LibraryStepRow.step_id == step_id)
    return session.scalars(query.order_by(LibraryStepRow.version.desc()).limit(1)).first()


class LibraryText(NamedTuple):
    """The newest text of a shared step: its version and its shared half."""

    version: int
    shared: dict[str, Any]


def newest_texts(session: Session, step_ids: Collection[str]) -> dict[str, LibraryText]:
    """The newest text of each of these steps that the library has."""
    row = LibraryStepRow
    wanted = list(step_ids)
    found: dict[str, LibraryText] = {}
    for start in range(0, len(wanted), _MANY):
        some = wanted[start : start + _MANY]
        newest = select(row.step_id, func.max(row.version)).where(row.step_id.in_(some)).group_by(row.step_id)
        query = select(row.step_id, row.version, row.shared).where(tuple_(row.step_id, row.version).in_(newest))
        found |= {step_id: LibraryText(version, shared) for step_id, version, shared in session.execute(query)}
    return found


def add_texts(session: Session, texts: Mapping[str, LibraryText], who: int, at: datetime) -> None:
    """Append these versions of shared steps, each the next of its step."""
    for step_id, text in texts.items():
        session.add(LibraryStepRow(step_id=step_id, version=text.version, shared=text.shared, who=who, at=at))
    session.flush()


class LibraryVersion(NamedTuple):
    """A version of a shared step, and the name of who wrote it."""

    version: int
    who: str


def newest_versions(session: Session, step_ids: Collection[str]) -> dict[str, LibraryVersion]:
    """The newest version of each of these steps that the library has."""
    row = LibraryStepRow
    query = select(row.step_id, row.version, PersonRow.name).join(PersonRow, PersonRow.id == row.who)
    query = query.where(row.step_id.in_(step_ids)).order_by(row.version)
    return {step_id: LibraryVersion(version, who) for step_id, version, who in session.execute(query)}


def add_library_version(session: Session, step_id: str, shared: dict[str, Any], who: int, at: datetime) -> int:
    """Append a version of a shared step; its number."""
    last = library_step(session, step_id)
    version = last.version + 1 if last else 1
    session.add(LibraryStepRow(step_id=step_id, version=version, shared=shared, who=who, at=at))
    session.flush()
    return version


def newest_library_steps(session: Session) -> Sequence[LibraryStepRow]:
    """The newest version of every shared step."""
    newest = select(LibraryStepRow.step_id, func.max(LibraryStepRow.version)).group_by(LibraryStepRow.step_id)
    rows = (session.get(LibraryStepRow, (step_id, version)) for step_id, version in session.execute(newest))
    return [row for row in rows if row is not None]


def library_ids(session: Session) -> Sequence[str]:
    """The id of every shared step."""
    return session.scalars(select(LibraryStepRow.step_id).distinct()).all()


def aliases(session: Session) -> dict[str, str]:
    """For each merged step, the one that it counts as, however often that one was merged on."""
    into = dict(session.execute(select(AliasRow.old, AliasRow.new)).all())
    found = {}
    for old in into:
        new = into[old]
        while new in into:
            new = into[new]
        found[old] = new
    return found


def add_alias(session: Session, old: str, new: str, who: int, at: datetime) -> None:
    """Let one step count as another. Raises Conflict where that one counts as this one, by way of others or not."""
    known = aliases(session)
    if known.get(new, new) == old:
        raise Conflict(f"'{new}' counts as '{old}' already; it cannot count as what counts as itself")
    session.add(AliasRow(old=old, new=new, who=who, at=at))
    session.flush()


def drop_alias(session: Session, old: str) -> str:
    """Let a step count as itself again; what it counted as, in the end: what it was merged into may have been merged
    on. Raises NotFound for one that was not merged."""
    row = session.get(AliasRow, old)
    if row is None:
        raise NotFound(f"'{old}' was not merged into another step")
    counted_as = aliases(session)[old]
    session.delete(row)
    session.flush()
    return counted_as


def fact_questions(session: Session) -> dict[str, str]:
    """What every fact that the desk knows is asked by, by its id."""
    return {row.id: row.ask for row in session.scalars(select(FactRow))}


class KnownFact(NamedTuple):
    """A fact as the whole desk knows it. choices: every value of a choice fact, of all playbooks."""

    id: str
    type: str
    ask: str
    choices: tuple[str, ...]


def facts(session: Session) -> dict[str, KnownFact]:
    """Every fact that the desk knows, by its id."""
    return {
        row.id: KnownFact(row.id, row.type, row.ask, tuple(row.choices or ()))
        for row in session.scalars(select(FactRow))
    }


def fact_types(session: Session) -> dict[str, str]:
    """The type of every fact that the desk knows, by its id."""
    return {row.id: row.type for row in session.scalars(select(FactRow))}


def register_facts(session: Session, facts: Iterable[Fact], who: int, at: datetime) -> list[Fact]:
    """Unite a playbook's facts with the desk's; those that were new. Raises Conflict for an id of another type."""
    new = []
    for fact in facts:
        row = session.get(FactRow, fact.id)
        if row is None:
            session.add(
                FactRow(id=fact.id, type=fact.type, ask=fact.ask, choices=list(fact.choices or ()), who=who, at=at)
            )
            new.append(fact)
        elif row.type != fact.type:
            raise Conflict(f"the fact '{fact.id}' is a {row.type} on this desk, not a {fact.type}; rename it")
        elif more := [value for value in fact.choices or () if value not in row.choices]:
            row.choices, row.who, row.at = [*row.choices, *more], who, at
    session.flush()
    return new
