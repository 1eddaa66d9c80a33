"""Playbooks: drafts as edits, editions, the library of steps and facts, pictures."""

import json
from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from mildladder.store.tables.base import Base, StoredDocument, Whoever, Written

__all__ = [
    "AliasRow",
    "DraftClientRow",
    "EditionRow",
    "FactRow",
    "FormRow",
    "LibraryStepRow",
    "PictureRow",
    "PlaybookRow",
    "RevisionRow",
]


class PlaybookRow(Base):
    """One symptom and its playbook; the documents hang on it. `draft`: number of the newest revision."""

    __tablename__ = "playbooks"
    id: Mapped[str] = mapped_column(primary_key=True)
    draft: Mapped[int]
    since: Mapped[datetime]


class RevisionRow(Written, Base):
    """One edit of a draft: what was done, and what takes it back. `number`: of the draft as it stands after it.

    client, sent: who sent it, and as which of theirs; group: edits that are undone as one; undoes: the group that this
    one takes back. The first has no inverse: it is the form that is kept beside it.
    """

    __tablename__ = "revisions"
    playbook_id: Mapped[str] = mapped_column(ForeignKey("playbooks.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    client: Mapped[str]
    sent: Mapped[int]
    group: Mapped[str]
    undoes: Mapped[str | None]
    label: Mapped[str]
    at: Mapped[datetime]
    done: Mapped[str] = mapped_column(deferred=True)
    inverse: Mapped[str] = mapped_column(deferred=True)

    @property
    def operations(self) -> list[dict[str, Any]]:
        """What was done, as data."""
        found: list[dict[str, Any]] = json.loads(self.done)
        return found

    __table_args__ = (
        UniqueConstraint("playbook_id", "client", "sent"),
        Index("ix_revisions_playbook_id_who", "playbook_id", "who"),
    )


class FormRow(Base):
    """A draft's working form as it stood at a revision, compressed: now and then one, so that any can be made again."""

    __tablename__ = "forms"
    playbook_id: Mapped[str] = mapped_column(ForeignKey("playbooks.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    form: Mapped[bytes]


class DraftClientRow(Base):
    """A page that changes a draft. `next`: the number of the edit that is taken from it next; who: whose it is."""

    __tablename__ = "draft_clients"
    playbook_id: Mapped[str] = mapped_column(ForeignKey("playbooks.id"), primary_key=True)
    client: Mapped[str] = mapped_column(primary_key=True)
    who: Mapped[int] = mapped_column(ForeignKey("people.id"))
    next: Mapped[int]


class EditionRow(Written, Base):
    """A frozen, published document with the forecast made when it was published. `revision`: the draft's, then."""

    __tablename__ = "editions"
    playbook_id: Mapped[str] = mapped_column(ForeignKey("playbooks.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    revision: Mapped[int]
    document: Mapped[dict[str, Any]] = mapped_column(deferred=True)
    forecast: Mapped[dict[str, Any]] = mapped_column(deferred=True)
    content_hash: Mapped[str]
    note: Mapped[str]
    at: Mapped[datetime]


class FactRow(Base):
    """A fact as the whole desk knows it: one type and wording, and the choices of all playbooks united.

    who, at: who changed it last, and when; None from before this was kept.
    """

    __tablename__ = "facts"
    id: Mapped[str] = mapped_column(primary_key=True)
    type: Mapped[str]
    ask: Mapped[str]
    choices: Mapped[list[Any]]
    who: Mapped[Whoever]
    at: Mapped[datetime | None]


class LibraryStepRow(Written, Base):
    """One version of the shared half of a step."""

    __tablename__ = "library_steps"
    step_id: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    shared: Mapped[dict[str, Any]] = mapped_column(StoredDocument("shared"))
    at: Mapped[datetime]


class AliasRow(Base):
    """A step that was merged into another: its attempts count as that one's; logged cases keep its id.

    who: None from before this was kept.
    """

    __tablename__ = "aliases"
    old: Mapped[str] = mapped_column(primary_key=True)
    new: Mapped[str]
    who: Mapped[Whoever]
    at: Mapped[datetime]


class PictureRow(Base):
    """A picture, kept once however many documents show it. `digest`: SHA-256 of its bytes."""

    __tablename__ = "pictures"
    digest: Mapped[str] = mapped_column(primary_key=True)
    media: Mapped[str]
    data: Mapped[bytes]
