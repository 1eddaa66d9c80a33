"""A column type for moments, since SQLite has none: stored as UTC text that sorts by time."""

from datetime import UTC, datetime

from sqlalchemy import String
from sqlalchemy.engine import Dialect
from sqlalchemy.types import TypeDecorator

__all__ = ["Moment", "as_stored", "from_stored"]


def as_stored(moment: datetime) -> str:
    """A moment as UTC text that sorts by time; a naive one is our own fault."""
    assert moment.tzinfo is not None, "moments carry their zone"
    at = moment if moment.tzinfo is UTC else moment.astimezone(UTC)
    # Faster than its own `isoformat`, and no part of a case is written more often.
    parts = (at.year, at.month, at.day, at.hour, at.minute, at.second, at.microsecond)
    return "%04d-%02d-%02dT%02d:%02d:%02d.%06dZ" % parts  # noqa: UP031


def from_stored(text: str) -> datetime:
    """Inverse of `as_stored`."""
    return datetime.fromisoformat(text)


class Moment(TypeDecorator[datetime]):
    """Aware datetimes in, aware UTC datetimes out."""

    impl = String
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> str | None:
        """Python to SQLite."""
        return None if value is None else as_stored(value)

    def process_result_value(self, value: str | None, dialect: Dialect) -> datetime | None:
        """SQLite to Python."""
        return None if value is None else from_stored(value)
