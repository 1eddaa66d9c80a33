"""Queries for who sits at the desk, and for the desk's settings."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from mildladder.core.errors import Conflict, NotFound
from mildladder.store.tables import PersonRow, SettingRow

__all__ = ["add_person", "people", "person", "setting"]


def people(session: Session) -> Sequence[PersonRow]:
    """Everybody at the desk, by name."""
    return session.scalars(select(PersonRow).order_by(PersonRow.name)).all()


def person(session: Session, person_id: int) -> PersonRow:
    """One person. Raises NotFound."""
    row = session.get(PersonRow, person_id)
    if row is None:
        raise NotFound(f"there is no person {person_id} at this desk")
    return row


def add_person(session: Session, name: str, role: str, now: datetime) -> PersonRow:
    """Take somebody on. Raises Conflict when the name is taken."""
    if session.scalars(select(PersonRow).where(PersonRow.name == name)).first():
        raise Conflict(f"'{name}' is at this desk already; choose that name, or write it differently")
    row = PersonRow(name=name, role=role, since=now)
    session.add(row)
    session.flush()
    return row


def setting(session: Session, name: str, default: str) -> str:
    """The setting's value, which is `default` until somebody sets it; a default is kept once it has been read."""
    row = session.get(SettingRow, name)
    if row is None:
        row = SettingRow(name=name, value=default)
        session.add(row)
        session.flush()
    return row.value
