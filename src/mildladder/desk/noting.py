"""What the program notes of its own work: one line a request and a job, and nothing of what callers said.

Text where somebody watches a terminal, JSON otherwise. Nothing is written until `configure` has been called, so that
commands and tests stay quiet.
"""

import sys
from collections.abc import MutableMapping
from traceback import extract_tb
from typing import Any, TextIO

import structlog

__all__ = ["configure", "note", "place_of"]

_OURS = "mildladder"


def configure(stream: TextIO | None = None) -> None:
    """Write every line to the stream from now on; stderr where none is named."""
    out = stream or sys.stderr
    shown = structlog.dev.ConsoleRenderer(colors=True) if out.isatty() else structlog.processors.JSONRenderer()
    structlog.configure(
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            _without_nothing,
            shown,
        ],
        logger_factory=structlog.WriteLoggerFactory(out),
        cache_logger_on_first_use=False,
    )
    _configured.append(out)


_configured: list[TextIO] = []


def note(event: str, is_bad: bool = False, **said: Any) -> None:
    """Write one line, if anybody reads: what happened, with what is known of it; None says nothing."""
    if _configured:
        log = structlog.get_logger()
        (log.error if is_bad else log.info)(event, **said)


def place_of(error: BaseException) -> str:
    """Where in our code an error came from; its message may hold what a caller said, so it is never noted."""
    frames = [frame for frame in extract_tb(error.__traceback__) if _OURS in frame.filename]
    return " < ".join(f"{frame.filename.rsplit(_OURS, 1)[1]}:{frame.lineno}" for frame in reversed(frames[-4:]))


def _without_nothing(_logger: Any, _name: str, event: MutableMapping[str, Any]) -> MutableMapping[str, Any]:
    return {name: value for name, value in event.items() if value is not None}
