"""Queries for the desk's settings: a default until somebody sets one; reading writes nothing."""

from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.store.tables import SettingRow

__all__ = ["RETURN_WINDOW", "forget_setting", "keep_setting", "setting"]

# Days, until somebody sets another number.
RETURN_WINDOW = 14


def setting(session: Session, name: str) -> str | None:
    """The setting's value; None until there is one."""
    row = session.get(SettingRow, name)
    return None if row is None else row.value


def keep_setting(session: Session, name: str, value: str, who: int | None = None, at: datetime | None = None) -> None:
    """Keep a setting. who, at: by whom, and when; None for what the program makes for itself, such as a key."""
    row = session.get(SettingRow, name)
    if row is None:
        session.add(SettingRow(name=name, value=value, who=who, at=at))
    else:
        row.value, row.who, row.at = value, who, at
    session.flush()


def forget_setting(session: Session, name: str) -> None:
    """Keep a setting no longer."""
    row = session.get(SettingRow, name)
    if row is not None:
        session.delete(row)
        session.flush()
