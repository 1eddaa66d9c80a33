"""The one clock: whoever needs the moment it is is handed it, or asks here."""

from datetime import UTC, datetime

__all__ = ["utc_now"]


def utc_now() -> datetime:
    """The moment it is."""
    return datetime.now(UTC)
