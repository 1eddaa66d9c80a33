"""What the program notes of its own work: one line a request and a job, and nothing of what callers said.

Text where somebody watches a terminal, JSON otherwise. Nothing is written until `configure` has been called, so that
commands and tests stay quiet.
"""

import atexit
import logging
import sys
import threading
from collections.abc import MutableMapping
from traceback import extract_tb
from typing import Any, TextIO

import structlog

from mildladder.diagnostics.line_writer import LineWriter

__all__ = ["configure", "drain", "log_event", "place_of"]

_OURS = "mildladder"
_SERVER = "waitress"
# So long an ending process waits for the stream to take what is left.
_PATIENCE_S = 1.0
_writers: list[LineWriter] = []


def configure(stream: TextIO | None = None) -> None:
    """Write every line to the stream from now on; stderr where none is named. A stream that takes nothing stops
    nobody."""
    out = stream or sys.stderr
    shown = structlog.dev.ConsoleRenderer(colors=True) if out.isatty() else structlog.processors.JSONRenderer()
    prepared: list[structlog.typing.Processor] = [
        structlog.processors.add_log_level,
        structlog.processors.TimeStamper(fmt="iso", utc=True),
    ]

    def _report_lost(count: int) -> str:
        event: Any = {"event": "log", "lost": count}
        for step in (*prepared, shown):
            event = step(None, "error", event)
        return str(event)

    writer = LineWriter(out, _report_lost)
    structlog.configure(
        processors=[*prepared, _drop_none, shown],
        logger_factory=lambda *_: _Lines(writer),
        cache_logger_on_first_use=False,
    )
    _writers.append(writer)
    atexit.register(drain)
    _note_what_others_say()


class _Lines:
    """A logger whose lines go to a writer, whatever their level."""

    def __init__(self, writer: LineWriter) -> None:
        self.info = self.error = writer.write


def drain() -> None:
    """Before a process ends: let what was noted be written, unless the stream takes nothing."""
    for writer in _writers:
        writer.drain(_PATIENCE_S)


def log_event(event: str, is_bad: bool = False, **said: Any) -> None:
    """Write one line, if anybody reads: what happened, with what is known of it; None says nothing."""
    if _writers:
        log = structlog.get_logger()
        (log.error if is_bad else log.info)(event, **said)


class _OfServer(logging.Handler):
    """Notes what the server's own package says: its sentence without what it is about, which may be a path."""

    def emit(self, record: logging.LogRecord) -> None:
        """Note one record."""
        error = record.exc_info[1] if record.exc_info else None
        log_event(
            "server",
            is_bad=record.levelno >= logging.WARNING,
            says=str(record.msg),
            error=type(error).__name__ if error else None,
            at=place_of(error) if error else None,
        )


def _note_what_others_say() -> None:
    """What a package or a thread would write to stderr by itself becomes a line like all others."""
    server = logging.getLogger(_SERVER)
    server.handlers, server.propagate = [_OfServer()], False
    threading.excepthook = _note_fault_of_thread


def _note_fault_of_thread(fault: threading.ExceptHookArgs) -> None:
    if fault.exc_value is not None:
        log_event("fault", is_bad=True, error=fault.exc_type.__name__, at=place_of(fault.exc_value))


def place_of(error: BaseException) -> str:
    """Where in our code an error came from; its message may hold what a caller said, so it is never noted."""
    frames = [frame for frame in extract_tb(error.__traceback__) if _OURS in frame.filename]
    return " < ".join(f"{frame.filename.rsplit(_OURS, 1)[1]}:{frame.lineno}" for frame in reversed(frames[-4:]))


def _drop_none(_logger: Any, _name: str, event: MutableMapping[str, Any]) -> MutableMapping[str, Any]:
    return {name: value for name, value in event.items() if value is not None}
