"""Who sits at the desk."""

import unicodedata
from datetime import datetime
from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput, Conflict, NotTheirs
from mildladder.core.model import Line, Shape
from mildladder.store import people as store
from mildladder.store.tables import PersonRow

__all__ = ["PersonView", "Role", "add_person", "check_lead", "everybody", "named", "person_of"]

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
    """Take somebody on; who: by whom, None where nobody sits here yet.

    Raises BadInput for what is no name, and Conflict when the name is taken or looks like one that is.
    """
    if not name.isprintable() or name != " ".join(name.split()) or not any(letter.isalnum() for letter in name):
        raise BadInput("a name has letters, and single blanks between them; no signs that cannot be seen", path="name")
    alike = next((other for other in store.people(session) if look(other.name) == look(name)), None)
    if alike is not None and alike.name != name:
        raise Conflict(f"“{name}” looks like {alike.name}, who is at this desk already; write it differently")
    return _view(store.add_person(session, name, role, who, now))


def look(name: str) -> str:
    """What a name looks like: letters that one cannot tell apart are the same (Unicode TR 39), so are large and small
    ones, and marks are left out."""
    from confusable_homoglyphs import confusables

    def _first(letter: str) -> str:
        others = [str(one["c"]) for one in confusables.confusables_data.get(letter, ())]
        return min([letter, *(other for other in others if len(other) == 1)])

    plain = unicodedata.normalize("NFKD", name.casefold())
    return "".join(_first(letter) for letter in plain if not unicodedata.combining(letter))


def check_lead(session: Session, person_id: int) -> None:
    """Raises NotTheirs for anybody at the desk but a lead; the shell may do what its user may."""
    row = store.person(session, person_id)
    if row.role not in ("lead", store.OUTSIDE):
        raise NotTheirs("only a lead may do that; ask one, or sit down as one at the top right")


def named(session: Session, name: str, now: datetime) -> int:
    """The number of whoever has that name, such as the shell; kept as somebody from outside where nobody has."""
    return store.named(session, name, now).id


def _view(row: PersonRow) -> PersonView:
    return PersonView(id=row.id, name=row.name, role=row.role)
