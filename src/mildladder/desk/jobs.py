"""Ask for long work, watch it, cancel it: a question waits for no answer, and the same question joins."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any, Literal, Protocol

from sqlalchemy.orm import Session

from mildladder.core.errors import Busy, Conflict, NotTheirs, of_data
from mildladder.core.model import Shape
from mildladder.desk.people import check_lead
from mildladder.store import jobs as store
from mildladder.store.database import Database
from mildladder.store.tables import JobRow

__all__ = ["JobView", "Kind", "Workers", "answer_of", "cancel", "job", "join_or_add", "recent"]

Kind = Literal["ordering", "estimating", "nudging", "importing"]
_MOST_ANSWERS = 256
_RECENT = 20
# A question that cannot be written down within that time is simply asked again.
_PATIENCE_MS = 100


class Workers(Protocol):
    """Whoever carries out the jobs of a desk."""

    def nudge(self, kind: Kind) -> None:
        """There is work of that kind."""


class JobView(Shape):
    """A job as one watches it. is_outside: a shell carries it out, and is told how it ends; phase: a word for what is
    being done; done, of: how much of it, of None until that is known; says: why it failed."""

    number: int
    kind: Kind
    subject: str
    is_outside: bool
    state: store.State
    phase: str
    done: int
    of: int | None
    who: str | None
    asked: datetime
    began: datetime | None
    ended: datetime | None
    says: str | None


def job(session: Session, number: int) -> JobView:
    """One job. Raises NotFound."""
    return _view(store.job(session, number))


def recent(session: Session, kind: Kind) -> list[JobView]:
    """The last jobs of a kind, the newest first."""
    return [_view(row) for row in store.recent(session, kind, _RECENT)]


def cancel(session: Session, number: int, who: int, now: datetime) -> None:
    """A job is wanted no more; what it has begun is undone. Raises NotFound, NotTheirs for work that somebody else
    asked for and no lead cancels, and Conflict for what has ended."""
    row = store.job(session, number)
    if row.who is not None and row.who != who:
        try:
            check_lead(session, who)
        except NotTheirs:
            raise NotTheirs("only a lead, or whoever asked for it, may cancel this") from None
    if row.state not in store.UNENDED:
        raise Conflict(f"this is {row.state} already; there is nothing to cancel")
    store.cancel(session, row, now)


def join_or_add(
    session: Session, kind: Kind, subject: str, asked: Mapping[str, Any], who: int | None, now: datetime,
    version: int | None = None, states: Sequence[store.State] = ("waiting", "running"),
) -> JobRow:  # fmt: skip
    """The work that was asked for already and is in one of these states; else it is asked for now."""
    found = store.find(session, kind, store.digest_of(kind, subject, version, asked), states)
    return found or store.add(session, kind, subject, version, asked, who, now)


_KEPT: tuple[store.State, ...] = ("waiting", "running", "done", "failed")


def answer_of(
    database: Database,
    workers: Workers,
    kind: Kind,
    subject: str,
    version: int,
    asked: Mapping[str, Any],
    now: datetime,
) -> str | None:
    """The answer to a question about one version of something, as JSON text; None while it is being worked out.

    Raises whatever the work raised.
    """
    digest = store.digest_of(kind, subject, version, asked)
    row = _found(database, kind, digest)
    if row is None:
        try:
            with database.writing(is_lasting=False, patience_ms=_PATIENCE_MS) as session:
                join_or_add(session, kind, subject, asked, None, now, version, _KEPT)
                store.forget_ended(session, kind, _MOST_ANSWERS)
        except Busy:
            return None
        workers.nudge(kind)
        row = _found(database, kind, digest)
    if row is not None and row.problem is not None:
        raise of_data(row.problem)
    return None if row is None else row.result


def _found(database: Database, kind: Kind, digest: str) -> JobRow | None:
    with database.reading() as session:
        return store.find(session, kind, digest, _KEPT)


def _view(row: JobRow) -> JobView:
    return JobView(
        number=row.number,
        kind=row.kind,
        subject=row.subject,
        is_outside=row.is_outside,
        state=row.state,
        phase=row.phase,
        done=row.done,
        of=row.of,
        who=row.person.name if row.person else None,
        asked=row.asked,
        began=row.began,
        ended=row.ended,
        says=row.problem["says"] if row.problem else None,
    )
