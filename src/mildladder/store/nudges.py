"""Queries for nudges that nobody wants."""

from collections.abc import Mapping

from sqlalchemy import select
from sqlalchemy.orm import Session

from mildladder.store.tables import DeclinedNudgeRow

__all__ = ["decline", "declined"]


def declined(session: Session, playbook_id: str) -> Mapping[str, DeclinedNudgeRow]:
    """Those of a playbook that somebody does not want, by key."""
    rows = session.scalars(select(DeclinedNudgeRow).where(DeclinedNudgeRow.playbook_id == playbook_id))
    return {row.key: row for row in rows}


def decline(session: Session, row: DeclinedNudgeRow) -> None:
    """Somebody does not want it; what was said of it before is forgotten."""
    session.merge(row)
    session.flush()
