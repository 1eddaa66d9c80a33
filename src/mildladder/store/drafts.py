"""Queries for drafts: each a line of revisions, with what undo and redo would bring back."""

from collections.abc import Sequence
from datetime import datetime
from typing import NamedTuple

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.core.model import Document
from mildladder.store.documents import document_of, stored_document
from mildladder.store.jobs import drop_older
from mildladder.store.tables import EditionRow, PlaybookRow, RevisionRow

__all__ = [
    "State",
    "add_revision",
    "newest_revision",
    "playbook_ids",
    "playbooks_using",
    "redo_target",
    "revision",
    "states",
    "undo_target",
    "uses",
]


def playbook_ids(session: Session) -> Sequence[str]:
    """Every playbook's id, in alphabetical order."""
    return session.scalars(select(PlaybookRow.id).order_by(PlaybookRow.id)).all()


class State(NamedTuple):
    """How a playbook stands: its draft's revision, its newest edition, the version of its tallies."""

    playbook: str
    draft: int
    edition: int | None
    tallies: int


def states(session: Session) -> list[State]:
    """How every playbook stands."""
    return [State(*row) for row in session.connection().exec_driver_sql(_STATES)]


_STATES = """
SELECT id, draft, (SELECT max(number) FROM editions WHERE playbook_id = id), coalesce(version, 0)
FROM playbooks LEFT JOIN tally_versions ON symptom = id
"""


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
    session: Session, document: Document, label: str, who: int, at: datetime, restores: RevisionRow | None = None
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
        document=stored_document(document),
        label=label,
        who=who,
        at=at,
        restores=restores.number if restores else None,
        upon=upon,
    )
    session.add(added)
    session.flush()
    drop_older(session, "ordering", playbook_id, number)
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
