"""Queries for people: who sits at the desk, and whoever else has written something here."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from mildladder.core.errors import Conflict, NotFound
from mildladder.store.tables import PersonRow

__all__ = ["OUTSIDE", "add_person", "named", "people", "person"]

OUTSIDE = "outside"


def people(session: Session) -> Sequence[PersonRow]:
    """Everybody who sits at the desk, by name."""
    return session.scalars(select(PersonRow).where(PersonRow.role != OUTSIDE).order_by(PersonRow.name)).all()


def person(session: Session, person_id: int) -> PersonRow:
    """One person. Raises NotFound."""
    row = session.get(PersonRow, person_id)
    if row is None:
        raise NotFound(f"there is no person {person_id} at this desk")
    return row


def add_person(session: Session, name: str, role: str, who: int | None, now: datetime) -> PersonRow:
    """Take somebody on; somebody from outside of that name sits here from now on. Raises Conflict when it is taken."""
    there = _named(session, name)
    if there is not None and there.role != OUTSIDE:
        raise Conflict(f"'{name}' is at this desk already; choose that name, or write it differently")
    row = there or PersonRow(name=name)
    row.role, row.since, row.who = role, now, who
    session.add(row)
    session.flush()
    return row


def named(session: Session, name: str, now: datetime) -> PersonRow:
    """Whoever has that name; from outside the desk where nobody has."""
    return _named(session, name) or add_person(session, name, OUTSIDE, None, now)


def _named(session: Session, name: str) -> PersonRow | None:
    return session.scalars(select(PersonRow).where(PersonRow.name == name)).first()
