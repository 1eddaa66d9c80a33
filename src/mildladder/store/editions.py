"""Queries for editions: frozen documents with the forecast made when they were published."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.core.figures.forecast import Forecast
from mildladder.core.model import Document
from mildladder.store.documents import document_of, stored_document, stored_forecast
from mildladder.store.tables import EditionRow

__all__ = ["add_edition", "edition", "editions", "editions_between", "is_same", "newest_edition", "newest_number"]


def editions(session: Session, playbook_id: str) -> Sequence[EditionRow]:
    """Every edition, newest first."""
    query = select(EditionRow).where(EditionRow.playbook_id == playbook_id)
    return session.scalars(query.order_by(EditionRow.number.desc())).all()


def editions_between(session: Session, since: datetime, until: datetime) -> Sequence[EditionRow]:
    """Every edition of any symptom that was published from one moment to another, in order."""
    query = select(EditionRow).where(EditionRow.at >= since, EditionRow.at < until)
    return session.scalars(query.order_by(EditionRow.at)).all()


def newest_edition(session: Session, playbook_id: str) -> EditionRow | None:
    """The newest edition; None before the first is published."""
    query = select(EditionRow).where(EditionRow.playbook_id == playbook_id).order_by(EditionRow.number.desc()).limit(1)
    return session.scalars(query).first()


def newest_number(session: Session, playbook_id: str) -> int | None:
    """The number of the newest edition; None before the first is published."""
    return session.scalar(select(func.max(EditionRow.number)).where(EditionRow.playbook_id == playbook_id))


def edition(session: Session, playbook_id: str, number: int) -> EditionRow:
    """One edition. Raises NotFound."""
    row = session.get(EditionRow, (playbook_id, number))
    if row is None:
        raise NotFound(f"'{playbook_id}' has no edition {number}")
    return row


def is_same(row: EditionRow, document: Document) -> bool:
    """Whether an edition is that document, pictures included; by which library versions its steps came does not
    matter."""
    there = document_of(row)
    return there.playbook == document.playbook and there.pictures == document.pictures


def add_edition(
    session: Session,
    document: Document,
    revision: int,
    figures: Forecast,
    content_hash: str,
    note: str,
    who: int,
    at: datetime,
) -> EditionRow:
    """Freeze the document of a revision as the next edition."""
    last = newest_edition(session, document.playbook.id)
    row = EditionRow(
        playbook_id=document.playbook.id,
        number=last.number + 1 if last else 1,
        revision=revision,
        document=stored_document(document),
        forecast=stored_forecast(figures),
        content_hash=content_hash,
        note=note,
        who=who,
        at=at,
    )
    session.add(row)
    session.flush()
    return row
