"""What every route needs: the open database, the clock, and who sits at this browser."""

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime

from flask import current_app, request, session
from sqlalchemy.orm import Session

from mildladder.core.errors import NoPerson, NotFound, OtherPerson
from mildladder.desk.drafts.arrivals import Arrivals
from mildladder.desk.drafts.presence import Presence
from mildladder.desk.jobs.queue import Workers
from mildladder.desk.people import PersonView, person_of
from mildladder.store.database import Database

__all__ = ["NAME", "Context", "context", "person", "remember", "who"]

NAME = "mildladder"
# Whose a write is, as the page that sends it knows; left out by programs that have no page.
PERSON_HEADER = "Mild-Ladder-Person"
_PERSON = "person"


@dataclass(frozen=True)
class Context:
    """One open desk. `now` is called for the time of every write; workers: who carries out long work; presence: who
    looks at which draft; arrivals: what comes of drafts."""

    database: Database
    now: Callable[[], datetime]
    workers: Workers
    presence: Presence = field(default_factory=Presence)
    arrivals: Arrivals = field(default_factory=Arrivals)


def context() -> Context:
    """The desk that this application serves."""
    found: Context = current_app.extensions[NAME]
    return found


def remember(person_id: int) -> None:
    """Keep who sits at this browser in its signed cookie."""
    session[_PERSON] = person_id
    session.permanent = True


def person(db: Session) -> PersonView | None:
    """Who sits at this browser; None while nobody has said."""
    try:
        return person_of(db, int(session[_PERSON]))
    except (KeyError, ValueError, NotFound):
        return None


def who(db: Session) -> int:
    """Who every write is by. Raises NoPerson, and OtherPerson where the page that sends it shows somebody else, such as
    when another was chosen in another window."""
    found = person(db)
    if found is None:
        raise NoPerson("say who you are first: choose your name at the top right")
    if (meant := request.headers.get(PERSON_HEADER)) is not None and meant != str(found.id):
        raise OtherPerson(f"{found.name} sits at this browser now; nothing was changed in their name")
    return found.id
