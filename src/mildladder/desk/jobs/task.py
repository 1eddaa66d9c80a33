"""One job as whoever carries it out sees it: what is asked, whether it is still wanted, and how far it is."""

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
from mildladder.diagnostics.noting import note, place_of
from mildladder.store import jobs as store
from mildladder.store.database import Database
from mildladder.store.tables import JobRow

__all__ = ["MOST_TRIES", "Task", "carrying_out", "later"]

# So often the database is asked whether a job was cancelled.
_LOOK_S = 0.2
# After how many seconds what was begun in vain is tried again: the first time, the second time, and so on.
_PAUSES_S = (5, 30, 180, 900, 3_600)
MOST_TRIES = len(_PAUSES_S)


def later(tries: int) -> datetime:
    """When a job is to be tried again that was begun in vain so often."""
    return utc_now() + timedelta(seconds=_PAUSES_S[min(tries, MOST_TRIES) - 1])


Q = TypeVar("Q", bound=Question)


@dataclass
class Task(Generic[Q]):
    """A job that is being carried out. is_leaving: whether the process is to end; show: is told what is done, and of
    how much (None: not known yet)."""

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
        """Whether to leave off: nobody wants it any more, or the process is to end."""
        if not self._is_stopped and time.monotonic() - self._looked > _LOOK_S:
            self._looked = time.monotonic()
            self._is_stopped = self.is_leaving() or self._is_cancelled()
        return self._is_stopped

    def _is_cancelled(self) -> bool:
        with self.database.reading() as session:
            return store.state_of(session, self.number) != "running"

    def check(self) -> None:
        """Raises Stopped when it is to leave off."""
        if self.is_stopped():
            raise Stopped

    def tell(self, session: Session, **how_far: Any) -> None:
        """Keep how far it is, with whatever else the session writes: phase, done, of, so_far."""
        store.progress(session, self.number, **how_far)
        self.so_far = how_far.get("so_far", self.so_far)
        self.of = how_far.get("of", self.of)
        if "done" in how_far:
            self.show(how_far["done"], self.of)

    def end(self, session: Session, result: str) -> None:
        """It is done, with whatever else the session writes. result: JSON text."""
        store.end(session, self.number, "done", utc_now(), result)


@contextmanager
def carrying_out(task: Task[Q], undo: Callable[[Task[Q]], None], most_tries: int = 0) -> Iterator[None]:
    """Keep how the work within ends. What a worker has begun when its process is to end waits for the next; whatever
    else stops it, it is undone. An undo that fails is tried again later.

    most_tries: what goes wrong and may pass, such as a full disk, is no end either before the work was tried so often:
    it is tried again later.
    Raises whatever goes wrong; Stopped, when it is not wanted any more.
    """
    began, state = time.perf_counter(), "done"
    try:
        yield
    except BaseException as error:
        state = _stopped(task, error, undo, most_tries)
        raise
    finally:
        ms = round(1000 * (time.perf_counter() - began), 1)
        asked = task.question
        note("job", kind=asked.kind, subject=asked.subject, version=asked.version, state=state, ms=ms)


def _stopped(task: Task[Q], error: BaseException, undo: Callable[[Task[Q]], None], most_tries: int) -> str:
    with task.database.reading() as session:
        if store.state_of(session, task.number) == "done":
            return "done"
    if task.is_leaving():
        with task.database.writing() as session:
            store.put_back(session, task.number)
        return "put back"
    try:
        undo(task)
    except Exception as failure:
        _postpone(task, failure, is_given_back=False)
        return "not undone yet"
    if isinstance(error, Stopped | KeyboardInterrupt):
        with task.database.writing() as session:
            store.end(session, task.number, "cancelled", utc_now())
        return "cancelled"
    told = _told(error)
    if told.is_passing and task.tries < most_tries:
        _postpone(task, told, is_given_back=True)
        return "to be tried again"
    with task.database.writing() as session:
        store.fail(session, task.number, told, utc_now())
    return "failed"


def _postpone(task: Task[Q], error: BaseException, is_given_back: bool) -> None:
    with task.database.writing() as session:
        store.postpone(session, task.number, _told(error), later(task.tries + 1), is_given_back)


def _told(error: BaseException) -> LadderError:
    if isinstance(error, LadderError):
        return error
    note("fault", is_bad=True, error=type(error).__name__, at=place_of(error))
    return Unavailable("this could not be done, by a fault of the program; what it had begun was undone")
