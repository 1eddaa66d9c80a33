"""Refuse a write whose turn comes so late that whoever sent it has given it up."""

from flask import Flask, request

from mildladder.api.lanes import is_writing, seconds_waited
from mildladder.core.errors import Busy

__all__ = ["install"]

_MOST_WAITED_S = 2.0


def install(app: Flask) -> None:
    """Refuse writes that have waited too long behind others."""

    def _refuse_late() -> None:
        writes = is_writing(request.method, request.path, request.query_string.decode(errors="replace"))
        if writes and seconds_waited() > _MOST_WAITED_S:
            raise Busy("many are writing on this desk just now; nothing was changed, try again in a moment")

    app.before_request(_refuse_late)
