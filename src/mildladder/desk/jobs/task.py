"""A running job as its worker sees it: its question, whether it was cancelled, and its progress."""

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any, Generic, TypeVar

from sqlalchemy.orm import Session

from mildladder.clock import utc_now
from mildladder.core.errors import LadderError, Stopped, Unavailable
from mildladder.desk.jobs.question import Question
from mildladder.diagnostics.events import log_event, place_of
from mildladder.store import jobs as store
from mildladder.store.database import Database
from mildladder.store.tables import JobRow

__all__ = ["MAX_TRIES", "Task", "later", "recording_outcome"]

# Interval between checks whether the job was cancelled.
_LOOK_S = 0.2
# Backoff in seconds before the second attempt, the third, and so on.
_PAUSES_S = (5, 30, 180, 900, 3_600)
MAX_TRIES = len(_PAUSES_S)


def later(tries: int) -> datetime:
    """When to try a job again after so many failed attempts."""
    return utc_now() + timedelta(seconds=_PAUSES_S[min(tries, MAX_TRIES) - 1])


Q = TypeVar("Q", bound=Question)


@dataclass
class Task(Generic[Q]):
    """A running job. is_leaving: whether the process was told to end; show: called with what is done, and out of how
    much (None while unknown)."""

    database: Database
    number: int
    question: Q
    so_far: dict[str, Any]
    who: int | None
    since: datetime
    is_outside: bool
    tries: int = 0
    of: int | None = None
    is_leaving: Callable[[], bool] = lambda: False
    show: Callable[[int, int | None], None] = lambda _done, _of: None
    _looked: float = field(default=0.0, repr=False)
    _is_stopped: bool = field(default=False, repr=False)

    @classmethod
    def of_row(cls, database: Database, row: JobRow, question: Q, **how: Any) -> "Task[Q]":
        """The task of a row, which holds that question."""
        return cls(database, row.number, question, row.so_far, row.who, row.asked, row.is_outside, **how)

    @property
    def subject(self) -> str:
        """What is asked about."""
        return self.question.subject

    def is_stopped(self) -> bool:
        """Whether to stop: the job was cancelled, or the process is to end."""
        if not self._is_stopped and time.monotonic() - self._looked > _LOOK_S:
            self._looked = time.monotonic()
            self._is_stopped = self.is_leaving() or self._is_cancelled()
        return self._is_stopped

    def _is_cancelled(self) -> bool:
        with self.database.reading() as session:
            return store.state_of(session, self.number) != "running"

    def check(self) -> None:
        """Raises Stopped if the job is to stop."""
        if self.is_stopped():
            raise Stopped

    def tell(self, session: Session, **how_far: Any) -> None:
        """Store its progress in the session's transaction: phase, done, of, so_far."""
        store.progress(session, self.number, **how_far)
        self.so_far = how_far.get("so_far", self.so_far)
        self.of = how_far.get("of", self.of)
        if "done" in how_far:
            self.show(how_far["done"], self.of)

    def end(self, session: Session, result: str) -> None:
        """Store its result in the session's transaction. result: JSON text. Raises Stopped if the job was cancelled
        since it was last checked: what somebody was told would be undone is never done all the same."""
        if store.state_of(session, self.number) == "cancelling":
            raise Stopped
        store.end(session, self.number, "done", utc_now(), result)


@contextmanager
def recording_outcome(task: Task[Q], undo: Callable[[Task[Q]], None], max_tries: int = 0) -> Iterator[None]:
    """Run the work inside and store how it ended. If the process is told to end, the job goes back into the queue; if
    it fails or is cancelled, it is undone. A failed undo is retried later.

    max_tries: errors that may pass, such as a full disk, are retried later until the job was tried so often.
    Raises whatever the work raised; Stopped if the job was cancelled.
    """
    began, state = time.perf_counter(), "done"
    try:
        yield
    except BaseException as error:
        state = _stopped(task, error, undo, max_tries)
        raise
    finally:
        ms = round(1000 * (time.perf_counter() - began), 1)
        asked = task.question
        log_event("job", kind=asked.kind, subject=asked.subject, version=asked.version, state=state, ms=ms)


def _stopped(task: Task[Q], error: BaseException, undo: Callable[[Task[Q]], None], max_tries: int) -> str:
    with task.database.reading() as session:
        if store.state_of(session, task.number) == "done":
            return "done"
    if task.is_leaving():
        with task.database.writing() as session:
            store.requeue(session, task.number)
        return "put back"
    try:
        undo(task)
    except Exception as failure:
        _retry_later(task, failure, is_given_back=False)
        return "not undone yet"
    if isinstance(error, Stopped | KeyboardInterrupt):
        with task.database.writing() as session:
            store.end(session, task.number, "cancelled", utc_now())
        return "cancelled"
    told = _told(error)
    if told.is_passing and task.tries < max_tries:
        _retry_later(task, told, is_given_back=True)
        return "to be tried again"
    with task.database.writing() as session:
        store.fail(session, task.number, told, utc_now())
    return "failed"


def _retry_later(task: Task[Q], error: BaseException, is_given_back: bool) -> None:
    with task.database.writing() as session:
        store.retry_later(session, task.number, _told(error), later(task.tries + 1), is_given_back)


def _told(error: BaseException) -> LadderError:
    if isinstance(error, LadderError):
        return error
    log_event("fault", is_bad=True, error=type(error).__name__, at=place_of(error))
    return Unavailable("this could not be done, by a fault of the program; what it had begun was undone")
