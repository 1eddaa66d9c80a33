"""Who sits at the desk."""

from datetime import datetime
from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.model import Line, Shape
from mildladder.store import people as store
from mildladder.store.tables import PersonRow

__all__ = ["PersonView", "Role", "add_person", "everybody", "named", "person_of"]

Role = Literal["lead", "agent", "technician"]


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


def add_person(session: Session, name: str, role: Role, who: int | None, now: datetime) -> PersonView:
    """Take somebody on; who: by whom, None where nobody sits here yet. Raises Conflict when the name is taken."""
    return _view(store.add_person(session, name, role, who, now))


def named(session: Session, name: str, now: datetime) -> int:
    """The number of whoever has that name, such as the shell; kept as somebody from outside where nobody has."""
    return store.named(session, name, now).id


def _view(row: PersonRow) -> PersonView:
    return PersonView(id=row.id, name=row.name, role=row.role)
