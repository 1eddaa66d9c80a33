"""The desk's settings, which hold for every playbook and person."""

from sqlalchemy.orm import Session

from mildladder.store.settings import RETURN_WINDOW, setting

__all__ = ["return_window"]


def return_window(session: Session) -> int:
    """Days within which the same fault on the same unit counts as come back."""
    kept = setting(session, "return_window")
    return RETURN_WINDOW if kept is None else int(kept)
