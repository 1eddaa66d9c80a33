"""Queries for nudges that nobody wants."""

from collections import defaultdict
from collections.abc import Mapping

from sqlalchemy import select
from sqlalchemy.orm import Session

from mildladder.store.tables import DeclinedNudgeRow

__all__ = ["decline", "declined"]


def declined(session: Session) -> Mapping[str, Mapping[str, DeclinedNudgeRow]]:
    """Those that somebody does not want, by playbook and key; playbooks without any have none."""
    found: dict[str, dict[str, DeclinedNudgeRow]] = defaultdict(dict)
    for row in session.scalars(select(DeclinedNudgeRow)):
        found[row.playbook_id][row.key] = row
    return found


def decline(session: Session, row: DeclinedNudgeRow) -> None:
    """Somebody does not want it; what was said of it before is forgotten."""
    session.merge(row)
    session.flush()
