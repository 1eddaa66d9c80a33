"""Queries for what editions promised when they were published."""

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from mildladder.store.tables import PromiseRow

__all__ = ["keep_promise", "promises"]


def promises(session: Session, playbook_id: str) -> Sequence[PromiseRow]:
    """Those of a playbook, the newest edition's first."""
    query = select(PromiseRow).where(PromiseRow.playbook_id == playbook_id)
    return session.scalars(query.order_by(PromiseRow.edition.desc())).all()


def keep_promise(session: Session, row: PromiseRow) -> None:
    """Keep one; what an edition promised is never told otherwise afterwards."""
    if session.get(PromiseRow, (row.playbook_id, row.edition)) is None:
        session.add(row)
        session.flush()
