"""What is known now of a symptom, or of some units: callers who call about it are logged to it, and called back."""

from datetime import datetime, timedelta
from typing import Annotated

from pydantic import AwareDatetime, Field
from sqlalchemy.orm import Session

from mildladder.core.errors import Conflict, NotFound
from mildladder.core.model import Id, Line, Shape
from mildladder.store import notices as store
from mildladder.store.people import person
from mildladder.store.tables import NoticeCallRow, NoticeRow

__all__ = ["NewCall", "NewNotice", "Notice", "call_back", "end", "log_call", "notices", "post_notice"]

# An agent who meets something new tells the others for so long; a lead decides whether it lasts.
_AGENTS_LAST = timedelta(hours=1)
_SHOWN_AFTER = timedelta(days=2)
# The same again within that time was sent twice, its acknowledgement lost.
_SENT_AGAIN = timedelta(minutes=1)


_Short = Annotated[str, Field(max_length=120)]


class NoticeCall(Shape):
    """A caller who called about what a notice says."""

    id: str
    at: datetime
    caller: str
    call_back: str
    unit: str
    said: str
    who: str
    called_back: datetime | None


class Notice(Shape):
    """What is known now: of a symptom (`playbook`), of units whose fact has that value, or of everything. calls: who
    called about it; they are counted here alone, for they share one cause."""

    number: int
    playbook: str | None
    fact: str | None
    value: str | None
    says: str
    begun: datetime
    until: datetime | None
    ended: datetime | None
    who: str
    calls: tuple[NoticeCall, ...]


class NewNotice(Shape):
    """A notice to put up. `until` None: until somebody ends it."""

    playbook: Id | None = None
    fact: Id | None = None
    value: Line | None = None
    says: Line
    until: AwareDatetime | None = None


class NewCall(Shape):
    """A caller to log to a notice, under an id that the browser chooses."""

    id: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,64}$")]
    caller: _Short = ""
    call_back: _Short = ""
    unit: _Short = ""
    said: Annotated[str, Field(max_length=4000)] = ""


def notices(session: Session, now: datetime) -> list[Notice]:
    """Those that hold now, the newest first, then those that ended of late and whose callers wait to be called back."""
    rows = store.newest_notices(session)
    found = [_shown(session, row) for row in rows if _ended(row, now) is None or _is_recent(row, now)]
    return sorted(found, key=lambda one: one.ended is not None or (one.until is not None and one.until <= now))


def _ended(row: NoticeRow, now: datetime) -> datetime | None:
    """When it ended: by hand, or because its time is over."""
    return row.ended or (row.until if row.until is not None and row.until <= now else None)


def _is_recent(row: NoticeRow, now: datetime) -> bool:
    ended = _ended(row, now)
    return ended is not None and now - ended < _SHOWN_AFTER


def _shown(session: Session, row: NoticeRow) -> Notice:
    return Notice(
        number=row.number,
        playbook=row.playbook_id,
        fact=row.fact,
        value=row.value,
        says=row.says,
        begun=row.begun,
        until=row.until,
        ended=row.ended,
        who=row.person.name,
        calls=tuple(
            NoticeCall(
                id=one.id,
                at=one.at,
                caller=one.caller,
                call_back=one.call_back,
                unit=one.unit,
                said=one.said,
                who=one.person.name,
                called_back=one.called_back,
            )
            for one in store.calls_of(session, row.number)
        ),
    )


def post_notice(session: Session, new: NewNotice, who: int, now: datetime) -> int:
    """Tell everybody what is known now; its number. An agent's holds for an hour. Raises Conflict where its end has
    passed, or a fact comes without a value."""
    if (new.fact is None) != (new.value is None):
        raise Conflict("a notice about some units says the fact and its value; give both, or neither")
    if new.until is not None and (new.until <= now):
        raise Conflict("the end of the notice has passed already; choose a later one, or none")
    until = new.until
    if person(session, who).role != "lead":
        until = min(until or now + _AGENTS_LAST, now + _AGENTS_LAST)
    same = store.same_notice(session, new.model_dump(exclude={"until"}), who, now - _SENT_AGAIN)
    if same is not None:
        return same.number
    row = NoticeRow(
        playbook_id=new.playbook,
        fact=new.fact,
        value=new.value,
        says=new.says,
        begun=now,
        until=until,
        ended=None,
        who=who,
    )
    session.add(row)
    session.flush()
    return row.number


def end(session: Session, number: int, now: datetime) -> None:
    """It is over. Raises NotFound; ended twice changes nothing."""
    row = store.notice_row(session, number)
    if _ended(row, now) is None:
        row.ended = now


def log_call(session: Session, number: int, new: NewCall, who: int, now: datetime) -> None:
    """A caller called about it. Raises NotFound, and Conflict when it is over. The same id again changes nothing."""
    row = store.notice_row(session, number)
    if store.notice_call(session, new.id) is not None:
        return
    if _ended(row, now) is not None:
        raise Conflict("that is over; start a case instead")
    call = NoticeCallRow(
        id=new.id,
        notice=number,
        at=now,
        caller=new.caller.strip(),
        call_back=new.call_back.strip(),
        unit=new.unit.strip(),
        said=new.said.strip(),
        called_back=None,
        who=who,
    )
    session.add(call)
    session.flush()


def call_back(session: Session, number: int, call_id: str, now: datetime) -> None:
    """That caller was called back. Raises NotFound."""
    store.notice_row(session, number)
    call = store.notice_call(session, call_id)
    if call is None or call.notice != number:
        raise NotFound("there is no such caller on this notice")
    call.called_back = call.called_back or now
