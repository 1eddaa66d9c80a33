"""The open desk, for the interfaces that serve it."""

from mildladder.store.database import Database

__all__ = ["Database"]
