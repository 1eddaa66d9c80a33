"""Queries for guided cases: each a climb of one edition, kept as its events."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import Integer, cast, func, select
from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.core.model.events import ClimbEvent, OffLadder
from mildladder.core.model.versions import stamped, upgraded
from mildladder.store.tables import CaseRow, ClimbEventRow, ClimbRow

__all__ = [
    "add_event",
    "climb_of_case",
    "climb_row",
    "end_climb",
    "event_by_key",
    "events",
    "last_followed",
    "new_case_id",
    "off_ladder_since",
    "open_climbs",
]

_FIRST_NUMBER = 1001
_MOST_OFF_LADDER = 200


def climb_row(session: Session, climb_id: str) -> ClimbRow:
    """One climb. Raises NotFound."""
    row = session.get(ClimbRow, climb_id)
    if row is None:
        raise NotFound(f"there is no guided case '{climb_id}'")
    return row


def climb_of_case(session: Session, case_id: str) -> str | None:
    """The climb by which a case was guided here; None when it was not."""
    return session.scalar(select(ClimbRow.id).where(ClimbRow.case_id == case_id))


def open_climbs(session: Session) -> list[tuple[str, int]]:
    """The ids of the climbs that have not ended, the newest first, each with the number of its events."""
    query = (
        select(ClimbRow.id, func.max(ClimbEventRow.number))
        .join(ClimbEventRow, ClimbEventRow.climb_id == ClimbRow.id)
        .where(ClimbRow.ended.is_(None))
        .group_by(ClimbRow.id)
        .order_by(ClimbRow.opened.desc())
    )
    return [(climb_id, number) for climb_id, number in session.execute(query)]


def events(session: Session, climb_id: str) -> list[ClimbEvent]:
    """The climb's events in order."""
    query = select(ClimbEventRow.event, ClimbEventRow.who).where(ClimbEventRow.climb_id == climb_id)
    return [
        ClimbEvent.model_validate({**upgraded("event", event), "who": who})
        for event, who in session.execute(query.order_by(ClimbEventRow.number))
    ]


def off_ladder_since(session: Session, since: datetime) -> Sequence[tuple[str, OffLadder, datetime]]:
    """What was done off the ladder in cases opened since then, the newest first: playbook, event, when."""
    row = ClimbEventRow
    query = (
        select(ClimbRow.playbook_id, row.event, row.who)
        .join(ClimbRow, ClimbRow.id == row.climb_id)
        .where(ClimbRow.opened >= since, func.json_extract(row.event, "$.move.kind") == "off-ladder")
        .order_by(ClimbRow.opened.desc(), row.number.desc())
        .limit(_MOST_OFF_LADDER)
    )
    found = []
    for playbook, event, who in session.execute(query):
        read = ClimbEvent.model_validate({**upgraded("event", event), "who": who})
        assert isinstance(read.move, OffLadder)
        found.append((playbook, read.move, read.at))
    return found


def last_followed(session: Session, climb: ClimbRow) -> int | None:
    """The edition by which whoever has the case followed this ladder before; None where they never did, or where it was
    this one."""
    query = select(func.max(ClimbRow.edition)).where(
        ClimbRow.playbook_id == climb.playbook_id,
        ClimbRow.who == climb.who,
        ClimbRow.id != climb.id,
        ClimbRow.opened <= climb.opened,
    )
    last = session.scalar(query)
    return last if last is not None and last < climb.edition else None


def event_by_key(session: Session, climb_id: str, key: str) -> ClimbEvent | None:
    """The event that was sent with this idempotency key, if it has arrived."""
    query = select(ClimbEventRow).where(ClimbEventRow.climb_id == climb_id, ClimbEventRow.key == key)
    row = session.scalars(query).first()
    if row is None:
        return None
    return ClimbEvent.model_validate({**upgraded("event", row.event), "who": row.who})


def add_event(session: Session, row: ClimbRow, number: int, key: str, event: ClimbEvent) -> None:
    """Append an event, whose number is one above the last."""
    stored = stamped("event", event.model_dump(mode="json", exclude={"who"}))
    session.add(ClimbEventRow(climb_id=row.id, number=number, key=key, who=event.who, event=stored))
    session.flush()


def end_climb(row: ClimbRow, at: datetime) -> None:
    """Mark the climb as ended."""
    row.ended = at


def new_case_id(session: Session) -> str:
    """An id for a case that begins here: G- and a number above that of every case guided here, which the log lacks."""
    numbers = cast(func.substr(ClimbRow.case_id, 3), Integer)
    last = session.scalar(select(func.max(numbers)).where(ClimbRow.case_id.like("G-%")))
    number = max(_FIRST_NUMBER, (last or 0) + 1)
    while session.scalar(select(CaseRow.number).where(CaseRow.id == f"G-{number}")) is not None:
        number += 1
    return f"G-{number}"
