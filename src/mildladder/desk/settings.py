"""The desk's settings, which hold for every playbook and person."""

import secrets

from sqlalchemy.orm import Session

from mildladder.store.settings import RETURN_WINDOW, keep_setting, setting

__all__ = ["cookie_key", "return_window"]


def return_window(session: Session) -> int:
    """Days within which the same fault on the same unit counts as come back."""
    kept = setting(session, "return_window")
    return RETURN_WINDOW if kept is None else int(kept)


def cookie_key(session: Session) -> str:
    """The key that signs this desk's cookies, made once."""
    kept = setting(session, "cookie_key")
    if kept is None:
        kept = secrets.token_hex(32)
        keep_setting(session, "cookie_key", kept)
    return kept
