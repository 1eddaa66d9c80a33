"""Two lines of requests, each with threads of its own: those that write wait their turn, and readers never wait for
them."""

import re
import threading
import time
from typing import Any

from flask import Flask, request
from waitress.task import ThreadedTaskDispatcher

from mildladder.core.errors import Busy

__all__ = ["SAFE", "Lanes", "install"]

SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
# Sent with a body, and yet nothing of the desk is changed by them.
_CHANGES_NOTHING = re.compile(r"/api/(me|quick-words|playbooks/[^/]+/draft/(condition|what-if))")
# A draft that is read out gets names for what is new in it.
_CHANGES = re.compile(r"/api/playbooks/[^/]+/file")
_MOST_WAITED_S = 2.0
_local = threading.local()


def is_writing(method: str, path: str, query: str) -> bool:
    """Whether a request may write to the database."""
    if method in SAFE:
        return method != "OPTIONS" and "of=draft" in query and _CHANGES.fullmatch(path) is not None
    return _CHANGES_NOTHING.fullmatch(path) is None


def _seconds_waited() -> float:
    """How long the request that this thread answers has waited for its turn."""
    return float(getattr(_local, "waited", 0.0))


def install(app: Flask) -> None:
    """Refuse writes whose turn comes so late that whoever sent them has given them up."""

    def _refuse_late() -> None:
        writes = is_writing(request.method, request.path, request.query_string.decode(errors="replace"))
        if writes and _seconds_waited() > _MOST_WAITED_S:
            raise Busy("many are writing on this desk just now; nothing was changed, try again in a moment")

    app.before_request(_refuse_late)


class _Waiting:
    """A connection whose request waits to be answered."""

    def __init__(self, channel: Any) -> None:
        self._channel, self._since = channel, time.monotonic()

    def service(self) -> None:
        """Its turn has come."""
        _local.waited = time.monotonic() - self._since
        self._channel.service()

    def cancel(self) -> None:
        """The server ends before its turn."""
        self._channel.cancel()


class Lanes:
    """Hands requests to threads, as a dispatcher of the server's package does."""

    def __init__(self, readers: int, writers: int) -> None:
        self._readers, self._writers = ThreadedTaskDispatcher(), ThreadedTaskDispatcher()
        self._readers.set_thread_count(readers)
        self._writers.set_thread_count(writers)

    def add_task(self, channel: Any) -> None:
        """A connection's next request has arrived."""
        request = channel.requests[0] if channel.requests else None
        writes = request is not None and request.error is None and _writes(request)
        (self._writers if writes else self._readers).add_task(_Waiting(channel))

    def shutdown(self, cancel_pending: bool = True, timeout: float = 5) -> bool:
        """End the threads of both."""
        ended = [lane.shutdown(cancel_pending, timeout) for lane in (self._readers, self._writers)]
        return all(ended)


def _writes(request: Any) -> bool:
    return is_writing(str(request.command), str(request.path), str(request.query or ""))
