"""A column type for moments, since SQLite has none: stored as UTC text that sorts by time."""

from datetime import UTC, datetime

from sqlalchemy import String
from sqlalchemy.engine import Dialect
from sqlalchemy.types import TypeDecorator

__all__ = ["Moment"]

_FORMAT = "%Y-%m-%dT%H:%M:%S.%fZ"


class Moment(TypeDecorator[datetime]):
    """Aware datetimes in, aware UTC datetimes out."""

    impl = String
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> str | None:
        """Python to SQLite; a naive datetime is our own fault."""
        if value is None:
            return None
        assert value.tzinfo is not None, "moments carry their zone"
        return value.astimezone(UTC).strftime(_FORMAT)

    def process_result_value(self, value: str | None, dialect: Dialect) -> datetime | None:
        """SQLite to Python."""
        return None if value is None else datetime.strptime(value, _FORMAT).replace(tzinfo=UTC)
