"""Queries for notices, for the callers logged to them, and for remarks on texts."""

from collections.abc import Mapping, Sequence
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.store.tables import NoticeCallRow, NoticeRow, RemarkRow

__all__ = [
    "calls_about",
    "calls_of",
    "newest_notices",
    "notice_call",
    "notice_row",
    "open_remarks",
    "remark_by_key",
    "remark_row",
    "same_notice",
]

_MOST_NOTICES, _MOST_REMARKS = 200, 500


def newest_notices(session: Session) -> Sequence[NoticeRow]:
    """The newest notices, whether they hold or not."""
    return session.scalars(select(NoticeRow).order_by(NoticeRow.number.desc()).limit(_MOST_NOTICES)).all()


def notice_row(session: Session, number: int) -> NoticeRow:
    """One notice. Raises NotFound."""
    row = session.get(NoticeRow, number)
    if row is None:
        raise NotFound(f"there is no notice {number}")
    return row


def same_notice(session: Session, what: Mapping[str, str | None], who: int, since: datetime) -> NoticeRow | None:
    """The notice that says the same of the same, put up since then by the same person and not ended. what: playbook,
    fact, value and says."""
    query = select(NoticeRow).where(
        NoticeRow.playbook_id.is_not_distinct_from(what["playbook"]),
        NoticeRow.fact.is_not_distinct_from(what["fact"]),
        NoticeRow.value.is_not_distinct_from(what["value"]),
        NoticeRow.says == what["says"],
        NoticeRow.who == who,
        NoticeRow.begun >= since,
        NoticeRow.ended.is_(None),
    )
    return session.scalars(query).first()


def calls_of(session: Session, number: int) -> Sequence[NoticeCallRow]:
    """Who called about it, in order."""
    query = select(NoticeCallRow).where(NoticeCallRow.notice == number)
    return session.scalars(query.order_by(NoticeCallRow.at, NoticeCallRow.id)).all()


def calls_about(session: Session, playbook_id: str) -> int:
    """How many callers were logged to notices of a playbook."""
    query = select(func.count()).select_from(NoticeCallRow).join(NoticeRow, NoticeRow.number == NoticeCallRow.notice)
    return session.scalar(query.where(NoticeRow.playbook_id == playbook_id)) or 0


def notice_call(session: Session, call_id: str) -> NoticeCallRow | None:
    """One caller of a notice; None when there is none of that id."""
    return session.get(NoticeCallRow, call_id)


def open_remarks(session: Session, playbook_id: str | None) -> Sequence[RemarkRow]:
    """What nobody has seen to, the newest first, of one playbook or of all."""
    query = select(RemarkRow).where(RemarkRow.settled.is_(None))
    if playbook_id is not None:
        query = query.where(RemarkRow.playbook_id == playbook_id)
    return session.scalars(query.order_by(RemarkRow.number.desc()).limit(_MOST_REMARKS)).all()


def remark_row(session: Session, number: int) -> RemarkRow:
    """One remark. Raises NotFound."""
    row = session.get(RemarkRow, number)
    if row is None:
        raise NotFound(f"there is no remark {number}")
    return row


def remark_by_key(session: Session, key: str) -> RemarkRow | None:
    """The remark that was sent with this idempotency key, if it has arrived."""
    return session.scalars(select(RemarkRow).where(RemarkRow.key == key)).first()
