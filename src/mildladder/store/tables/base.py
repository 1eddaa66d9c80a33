"""What every table rests on: how columns are stored, who is at the desk, and who wrote what."""

from datetime import datetime
from typing import Annotated, Any

from sqlalchemy import JSON, ForeignKey, MetaData
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase, Mapped, declared_attr, mapped_column, relationship
from sqlalchemy.types import TypeDecorator

from mildladder.core.model.versions import Kind, stamped, upgraded
from mildladder.store.moments import Moment

__all__ = ["Base", "DeskVersionRow", "PersonRow", "SettingRow", "StoredDocument", "Whoever", "Written"]


class Base(DeclarativeBase):
    """Root of the tables; constraint names are fixed so that migrations can speak of them."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "fk": "fk_%(table_name)s_%(column_0_N_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {dict[str, Any]: JSON, list[Any]: JSON, datetime: Moment}


class StoredDocument(TypeDecorator[dict[str, Any]]):
    """A document as JSON, stored with the number of its shape and brought up to today's when it is read."""

    impl = JSON
    cache_ok = True

    def __init__(self, kind: Kind) -> None:
        super().__init__()
        self.kind: Kind = kind

    def process_bind_param(self, value: dict[str, Any] | None, dialect: Dialect) -> dict[str, Any] | None:  # noqa: ARG002
        """As it is stored."""
        return None if value is None else stamped(self.kind, value)

    def process_result_value(self, value: dict[str, Any] | None, dialect: Dialect) -> dict[str, Any] | None:  # noqa: ARG002
        """As today's program knows it."""
        return None if value is None else upgraded(self.kind, value)


Whoever = Annotated[int | None, mapped_column(ForeignKey("people.id"))]


class PersonRow(Base):
    """Somebody at the desk. `role`: lead, agent, technician; outside: who never sits here, such as the shell.

    who: who took them on; None for the first, and from before this was kept.
    """

    __tablename__ = "people"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    role: Mapped[str]
    since: Mapped[datetime]
    who: Mapped[Whoever]


class Written:
    """What somebody wrote: who, by number, and the person."""

    who: Mapped[int] = mapped_column(ForeignKey("people.id"))

    @declared_attr
    @classmethod
    def person(cls) -> Mapped[PersonRow]:
        """Whoever wrote it, for their name."""
        return relationship(PersonRow)


class DeskVersionRow(Base):
    """How often something that holds for the whole desk has changed: library, names or settings. Triggers of the
    database count it, whoever writes."""

    __tablename__ = "desk_versions"
    name: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int]


class SettingRow(Base):
    """A desk-wide setting, such as the return window in days or the key that signs cookies. who: None: the program."""

    __tablename__ = "settings"
    name: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[str]
    who: Mapped[Whoever]
    at: Mapped[datetime | None]
