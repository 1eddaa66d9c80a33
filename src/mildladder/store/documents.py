"""Queries for what is authored: drafts with their line of revisions, editions, the step library and desk-wide facts."""

from collections.abc import Collection, Iterable, Sequence
from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mildladder.core.errors import Conflict, NotFound
from mildladder.core.model import Document, Fact
from mildladder.store.tables import AliasRow, EditionRow, FactRow, LibraryStepRow, PlaybookRow, RevisionRow

__all__ = [
    "LibraryVersion", "add_alias", "add_edition", "add_library_version", "add_revision", "aliases", "document_of",
    "edition", "editions", "library_ids", "library_step", "newest_edition", "newest_editions", "newest_library_steps",
    "newest_revision", "newest_versions", "playbook_ids", "playbooks_using", "redo_target", "register_facts",
    "revision", "undo_target", "uses",
]  # fmt: skip


def playbook_ids(session: Session) -> Sequence[str]:
    """Every playbook's id, in alphabetical order."""
    return session.scalars(select(PlaybookRow.id).order_by(PlaybookRow.id)).all()


def newest_revision(session: Session, playbook_id: str) -> RevisionRow:
    """The draft as it stands. Raises NotFound."""
    row = session.get(PlaybookRow, playbook_id)
    if row is None:
        raise NotFound(f"there is no playbook '{playbook_id}'")
    return revision(session, playbook_id, row.draft)


def revision(session: Session, playbook_id: str, number: int) -> RevisionRow:
    """One revision. Raises NotFound."""
    row = session.get(RevisionRow, (playbook_id, number))
    if row is None:
        raise NotFound(f"'{playbook_id}' has no revision {number}")
    return row


def add_revision(
    session: Session, document: Document, label: str, who: str, at: datetime, restores: RevisionRow | None = None
) -> RevisionRow:
    """Append a revision, making the playbook where there is none. `restores`: the edit that undo or redo goes to."""
    playbook_id = document.playbook.id
    row = session.get(PlaybookRow, playbook_id)
    before = revision(session, playbook_id, row.draft) if row else None
    number = before.number + 1 if before else 1
    if row is None:
        session.add(PlaybookRow(id=playbook_id, draft=number, since=at))
        session.flush()
    else:
        row.draft = number
    upon = None if restores or before is None else _edit_number(before)
    added = RevisionRow(
        playbook_id=playbook_id,
        number=number,
        document=_data(document),
        label=label,
        who=who,
        at=at,
        restores=restores.number if restores else None,
        upon=upon,
    )
    session.add(added)
    session.flush()
    return added


def undo_target(session: Session, now: RevisionRow) -> tuple[RevisionRow, RevisionRow] | None:
    """The edit that undo would take away and the one that it would bring back; None when there is nothing to undo."""
    edit = revision(session, now.playbook_id, _edit_number(now))
    return None if edit.upon is None else (edit, revision(session, now.playbook_id, edit.upon))


def redo_target(session: Session, now: RevisionRow) -> RevisionRow | None:
    """The edit that redo would bring back: the newest made upon the state that undo went back to.

    None after a new edit, and after a new edition: both end redo.
    """
    if now.restores is None:
        return None
    published = session.scalar(select(func.max(EditionRow.revision)).where(EditionRow.playbook_id == now.playbook_id))
    query = select(RevisionRow).where(RevisionRow.playbook_id == now.playbook_id, RevisionRow.upon == now.restores)
    if published is not None:
        query = query.where(RevisionRow.number > published)
    return session.scalars(query.order_by(RevisionRow.number.desc()).limit(1)).first()


def _edit_number(row: RevisionRow) -> int:
    return row.number if row.restores is None else row.restores


def document_of(row: RevisionRow | EditionRow) -> Document:
    """The self-contained document of a revision or an edition."""
    return Document.model_validate(row.document)


def _data(document: Document) -> dict[str, Any]:
    return document.model_dump(mode="json", by_alias=True, exclude_unset=True)


def editions(session: Session, playbook_id: str) -> Sequence[EditionRow]:
    """Every edition, newest first."""
    query = select(EditionRow).where(EditionRow.playbook_id == playbook_id)
    return session.scalars(query.order_by(EditionRow.number.desc())).all()


def newest_edition(session: Session, playbook_id: str) -> EditionRow | None:
    """The newest edition; None before the first is published."""
    query = select(EditionRow).where(EditionRow.playbook_id == playbook_id).order_by(EditionRow.number.desc()).limit(1)
    return session.scalars(query).first()


def newest_editions(session: Session) -> dict[str, EditionRow]:
    """The newest edition of every playbook that has one."""
    newest = select(EditionRow.playbook_id, func.max(EditionRow.number)).group_by(EditionRow.playbook_id)
    rows = (session.get(EditionRow, (playbook_id, number)) for playbook_id, number in session.execute(newest))
    return {row.playbook_id: row for row in rows if row is not None}


def edition(session: Session, playbook_id: str, number: int) -> EditionRow:
    """One edition. Raises NotFound."""
    row = session.get(EditionRow, (playbook_id, number))
    if row is None:
        raise NotFound(f"'{playbook_id}' has no edition {number}")
    return row


def add_edition(
    session: Session,
    document: Document,
    revision: int,
    forecast: dict[str, Any],
    content_hash: str,
    note: str,
    who: str,
    at: datetime,
) -> EditionRow:
    """Freeze the document of a revision as the next edition."""
    last = newest_edition(session, document.playbook.id)
    row = EditionRow(
        playbook_id=document.playbook.id,
        number=last.number + 1 if last else 1,
        revision=revision,
        document=_data(document),
        forecast=forecast,
        content_hash=content_hash,
        note=note,
        who=who,
        at=at,
    )
    session.add(row)
    session.flush()
    return row


def library_step(session: Session, step_id: str) -> LibraryStepRow | None:
    """The newest version of a shared step; None when the library has none of that id."""
    query = select(LibraryStepRow).where(LibraryStepRow.step_id == step_id)
    return session.scalars(query.order_by(LibraryStepRow.version.desc()).limit(1)).first()


class LibraryVersion(NamedTuple):
    """A version of a shared step, and who wrote it."""

    version: int
    who: str


def newest_versions(session: Session, step_ids: Collection[str]) -> dict[str, LibraryVersion]:
    """The newest version of each of these steps that the library has."""
    row = LibraryStepRow
    query = select(row.step_id, row.version, row.who).where(row.step_id.in_(step_ids)).order_by(row.version)
    return {step_id: LibraryVersion(version, who) for step_id, version, who in session.execute(query)}


def add_library_version(session: Session, step_id: str, shared: dict[str, Any], who: str, at: datetime) -> int:
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


def uses(session: Session) -> dict[str, set[str]]:
    """For each library step, the playbooks whose drafts have it."""
    found: dict[str, set[str]] = {}
    for playbook_id in playbook_ids(session):
        for origin, _ in document_of(newest_revision(session, playbook_id)).origins.values():
            found.setdefault(origin, set()).add(playbook_id)
    return found


def playbooks_using(session: Session, step_id: str) -> list[str]:
    """The playbooks whose drafts have a library step, by id."""
    return sorted(uses(session).get(step_id, ()))


def aliases(session: Session) -> dict[str, str]:
    """For each merged step, the one that it counts as."""
    return {row.old: row.new for row in session.scalars(select(AliasRow))}


def add_alias(session: Session, old: str, new: str, at: datetime) -> None:
    """Let one step count as another."""
    session.add(AliasRow(old=old, new=new, at=at))
    session.flush()


def register_facts(session: Session, facts: Iterable[Fact]) -> bool:
    """Unite a playbook's facts with the desk's; whether any was new. Raises Conflict for an id of another type."""
    any_new = False
    for fact in facts:
        row = session.get(FactRow, fact.id)
        if row is None:
            session.add(FactRow(id=fact.id, type=fact.type, ask=fact.ask, choices=list(fact.choices or ())))
            any_new = True
        elif row.type != fact.type:
            raise Conflict(f"the fact '{fact.id}' is a {row.type} on this desk, not a {fact.type}; rename it")
        else:
            row.choices = [*row.choices, *(value for value in fact.choices or () if value not in row.choices)]
    session.flush()
    return any_new
