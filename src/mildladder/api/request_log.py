"""Note every request: its route, how it was answered and how long that took; never its path, words or body."""

import time

from flask import Flask, Response, g, request, session

from mildladder.diagnostics.events import log_event

__all__ = ["install"]


def install(app: Flask) -> None:
    """Note every request of this application."""
    app.before_request(_begin)
    app.after_request(_end)


def _begin() -> None:
    g.began = time.perf_counter()


def _end(response: Response) -> Response:
    log_event(
        "request",
        is_bad=response.status_code >= 500,
        method=request.method,
        route=request.url_rule.rule if request.url_rule else None,
        status=response.status_code,
        ms=round(1000 * (time.perf_counter() - g.began), 1) if "began" in g else None,
        who=session.get("person"),
        problem=g.get("problem"),
    )
    return response
