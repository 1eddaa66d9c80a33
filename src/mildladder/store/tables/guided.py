"""Guided cases, and what agents tell everybody and the lead."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from mildladder.store.tables.base import Base, Written

__all__ = ["ClimbEventRow", "ClimbRow", "NoticeCallRow", "NoticeRow", "RemarkRow"]


class ClimbRow(Written, Base):
    """One guided run of an edition. `case_id` is set when it is opened; `ended` when it is closed."""

    __tablename__ = "climbs"
    id: Mapped[str] = mapped_column(primary_key=True)
    case_id: Mapped[str] = mapped_column(unique=True)
    playbook_id: Mapped[str]
    edition: Mapped[int]
    opened: Mapped[datetime]
    ended: Mapped[datetime | None]


class ClimbEventRow(Written, Base):
    """One event of a climb, in order; `key` makes sending it twice harmless. `event`: when, and the move."""

    __tablename__ = "climb_events"
    climb_id: Mapped[str] = mapped_column(ForeignKey("climbs.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str]
    event: Mapped[dict[str, Any]]
    __table_args__ = (UniqueConstraint("climb_id", "key"),)


class NoticeRow(Written, Base):
    """What is known now of a symptom, or of the units whose fact has that value, or of the whole desk; `until` when it
    is thought to last, `ended` when somebody ended it."""

    __tablename__ = "notices"
    number: Mapped[int] = mapped_column(primary_key=True)
    playbook_id: Mapped[str | None]
    fact: Mapped[str | None]
    value: Mapped[str | None]
    says: Mapped[str]
    begun: Mapped[datetime]
    until: Mapped[datetime | None]
    ended: Mapped[datetime | None]


class NoticeCallRow(Written, Base):
    """A caller who called about what a notice says. `id`: the browser's, so that sending it twice is harmless."""

    __tablename__ = "notice_calls"
    id: Mapped[str] = mapped_column(primary_key=True)
    notice: Mapped[int] = mapped_column(ForeignKey("notices.number"), index=True)
    at: Mapped[datetime]
    caller: Mapped[str]
    call_back: Mapped[str]
    unit: Mapped[str]
    said: Mapped[str]
    called_back: Mapped[datetime | None]


class RemarkRow(Written, Base):
    """An agent's word that a text of an edition's step is wrong. `text`: as it was shown; `settled`: when the lead had
    seen to it; `key`: makes sending it twice harmless."""

    __tablename__ = "remarks"
    number: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(unique=True)
    playbook_id: Mapped[str] = mapped_column(index=True)
    edition: Mapped[int]
    step: Mapped[str]
    text: Mapped[str]
    says: Mapped[str]
    at: Mapped[datetime]
    settled: Mapped[datetime | None]
