"""Who sits at the desk, and the desk's settings."""

import secrets
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.model import Line, Shape
from mildladder.store import people as store
from mildladder.store.tables import PersonRow

__all__ = ["PersonView", "add_person", "cookie_key", "everybody", "person_of", "return_window"]

_RETURN_WINDOW = "14"


class PersonView(Shape):
    """Somebody at the desk."""

    id: int
    name: Line
    role: str


def everybody(session: Session) -> list[PersonView]:
    """All the desk's people, by name."""
    return [_view(row) for row in store.people(session)]


def person_of(session: Session, person_id: int) -> PersonView:
    """One person. Raises NotFound."""
    return _view(store.person(session, person_id))


def add_person(session: Session, name: str, role: str, now: datetime) -> PersonView:
    """Take somebody on. Raises Conflict when the name is taken."""
    return _view(store.add_person(session, name, role, now))


def return_window(session: Session) -> int:
    """Days within which the same fault on the same unit counts as come back."""
    return int(store.setting(session, "return_window", _RETURN_WINDOW))


def cookie_key(session: Session) -> str:
    """The key that signs this desk's cookies, made once."""
    return store.setting(session, "cookie_key", secrets.token_hex(32))


def _view(row: PersonRow) -> PersonView:
    return PersonView(id=row.id, name=row.name, role=row.role)
