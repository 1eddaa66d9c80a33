"""Freeze drafts as editions, and bring one back as the draft."""

from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.errors import Conflict
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.content import content_hash
from mildladder.core.model import Playbook
from mildladder.desk.author import newest_as, save
from mildladder.desk.editions import EditionView, document, edition_view
from mildladder.desk.reviewing import reviewed
from mildladder.store.documents import document_of
from mildladder.store.editions import add_edition, is_same, newest_edition
from mildladder.store.tables import RevisionRow

__all__ = ["publish", "refuse_blockers", "restore"]


def publish(session: Session, playbook_id: str, note: str, expected: int, who: int, now: datetime) -> EditionView:
    """Freeze the draft as the next edition. Raises Stale, and Conflict when nothing changed or a blocker stands."""
    kept = document_of(newest_as(session, playbook_id, expected))
    refuse_blockers(session, kept.playbook)
    digest = content_hash(kept.playbook)
    last = newest_edition(session, playbook_id)
    if last is not None and is_same(last, kept):
        raise Conflict(f"nothing has changed since edition {last.number}")
    figures = forecast(kept.playbook)
    return edition_view(add_edition(session, kept, expected, figures, digest, note, who, now))


def refuse_blockers(session: Session, playbook: Playbook) -> None:
    """Raises Conflict when review finds what agents could come to harm by, or when there is nothing to climb."""
    for finding in reviewed(session, playbook):
        if finding.level == "blocker":
            raise Conflict(f"this draft cannot be published: {finding.says}")
    if not playbook.ladder:
        raise Conflict("this draft cannot be published: its ladder has no rung")


def restore(session: Session, playbook_id: str, number: int, expected: int, who: int, now: datetime) -> RevisionRow:
    """Make an edition the draft again, as one change. Raises NotFound, Stale."""
    playbook = document(session, playbook_id, number)
    return save(session, playbook, f"Edition {number} brought back", expected, who, now)
