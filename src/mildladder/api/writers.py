"""Let only so many requests that write wait for the database at once, so that those that read are always answered."""

from threading import BoundedSemaphore

from flask import Flask, g, request

from mildladder.core.errors import Unavailable

__all__ = ["SAFE", "install"]

SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
# Half of the server's threads.
_MOST = 6


def install(app: Flask) -> None:
    """Refuse a write while too many wait already."""
    places = BoundedSemaphore(_MOST)

    def _enter() -> None:
        if request.method in SAFE:
            return
        if not places.acquire(blocking=False):
            raise Unavailable("many are writing on this desk just now; nothing was changed, try again in a moment")
        g.is_writer = True

    def _leave(_error: BaseException | None) -> None:
        if g.pop("is_writer", False):
            places.release()

    app.before_request(_enter)
    app.teardown_request(_leave)
