"""What kinds of jobs there are, and carrying out those that wait."""

import time
from collections.abc import Callable
from contextlib import suppress
from datetime import datetime
from functools import reduce
from operator import or_
from typing import Annotated, Any

from pydantic import Field, TypeAdapter, ValidationError

from mildladder.clock import utc_now
from mildladder.core.errors import Conflict, Unavailable
from mildladder.desk.advice.nudging import NUDGING
from mildladder.desk.drafts.questions import ORDERING
from mildladder.desk.evidence.estimating import ESTIMATING
from mildladder.desk.jobs import queue
from mildladder.desk.jobs.kind import JobKind
from mildladder.desk.jobs.question import Question
from mildladder.desk.jobs.task import Task, later, recording_outcome
from mildladder.desk.library.recounting import RECOUNTING
from mildladder.desk.log.batches import IMPORTING
from mildladder.desk.publishing.first_ladders import PROPOSING
from mildladder.store import jobs as store
from mildladder.store.database import Database
from mildladder.store.tables import JobRow

__all__ = [
    "JOB_KINDS",
    "InlineWorkers",
    "cancel",
    "count_crash",
    "delete_answers",
    "due_kinds",
    "question_of",
    "run_waiting",
]

# Backoff while the database cannot be written, such as on a full disk.
_FIRST_PAUSE_S, _LONGEST_PAUSE_S, _PAUSE_PART_S = 1, 60, 0.2
_DIED = "the program ended in the middle of this"

JOB_KINDS = {kind.name: kind for kind in (ORDERING, ESTIMATING, NUDGING, PROPOSING, IMPORTING, RECOUNTING)}
_ANY_QUESTION: Any = reduce(or_, (question for kind in JOB_KINDS.values() for question in kind.work))
_QUESTIONS: TypeAdapter[Question] = TypeAdapter(Annotated[_ANY_QUESTION, Field(discriminator="ask")])


def question_of(row: JobRow) -> Question:
    """What a job was asked. Raises Unavailable for what an earlier version of the program asked otherwise."""
    # Kinds of a single question did not say in earlier versions which it is.
    told = {"ask": row.kind, **row.input, "subject": row.subject, "version": row.version}
    try:
        return _QUESTIONS.validate_python(told)
    except ValidationError:
        raise Unavailable("this was asked by an earlier version of the program; ask again") from None


def run_waiting(database: Database, kind: str, is_leaving: Callable[[], bool] = lambda: False) -> None:
    """Run the waiting jobs of a kind, one after the other, until none waits or the process is told to end. Waits while
    another process runs jobs of this kind on the same desk."""
    pause_s: float = _FIRST_PAUSE_S
    while not is_leaving():
        try:
            if not _is_due(database, kind):
                return
            with database.exclusive_worker(kind, lambda: not is_leaving()):
                while not is_leaving() and (task := _next(database, kind, is_leaving)):
                    _carry_out(task, JOB_KINDS[kind])
                    pause_s = _FIRST_PAUSE_S
        except Unavailable:
            _wait(pause_s, is_leaving)
            pause_s = min(2 * pause_s, _LONGEST_PAUSE_S)


def _wait(seconds: float, is_leaving: Callable[[], bool]) -> None:
    deadline = time.monotonic() + seconds
    while not is_leaving() and time.monotonic() < deadline:
        time.sleep(_PAUSE_PART_S)


def _next(database: Database, kind: str, is_leaving: Callable[[], bool]) -> Task[Any] | None:
    now = utc_now()
    with database.writing(is_durable=False) as session:
        while (row := store.next_due(session, kind, JOB_KINDS[kind].is_newest_first, now)) is not None:
            try:
                question = question_of(row)
            except Unavailable as error:
                store.fail(session, row.number, error, now)
                continue
            if row.state != "cancelling":
                store.begin(session, row, now)
            return Task.of_row(database, row, question, tries=row.tries, is_leaving=is_leaving)
    return None


def _carry_out(task: Task[Any], kind: JobKind) -> None:
    """Run one job and store its outcome. Raises Unavailable if the outcome cannot be stored."""
    before = _standing(task)
    with suppress(Exception), recording_outcome(task, kind.undo, kind.max_tries if kind.retries_errors else 0):
        task.check()
        if task.tries >= kind.max_tries:
            raise Unavailable(f"{_DIED}, {task.tries} times; what it had begun was undone")
        kind.work[type(task.question)](task)
    if _standing(task) == before:
        raise Unavailable("how this job ended cannot be written down")


def _standing(task: Task[Any]) -> tuple[object, ...] | None:
    with task.database.reading() as session:
        return store.standing(session, task.number)


def _is_due(database: Database, kind: str) -> bool:
    with database.reading() as session:
        return store.is_due(session, kind, utc_now())


def due_kinds(database: Database) -> list[str]:
    """The kinds that have jobs waiting or interrupted."""
    with database.reading() as session:
        found = store.due_kinds(session, utc_now())
    return [kind for kind in JOB_KINDS if kind in found]


def count_crash(database: Database, kind: str) -> None:
    """The worker of a kind has crashed: its job counts one failed attempt more."""
    with database.writing() as session:
        store.count_crash(session, kind, Unavailable(f"{_DIED}; it is tried again"), later)


def delete_answers(database: Database) -> None:
    """Delete the answers of earlier runs of the program: another version may compute others."""
    with database.writing() as session:
        for kind in JOB_KINDS.values():
            if kind.keeps_answers:
                store.delete_ended(session, kind.name, 0)


def cancel(database: Database, number: int, who: int, now: datetime) -> queue.JobView:
    """A job is wanted no more; what it has begun is undone.

    Raises NotFound, NotTheirs for work that somebody else asked for and no lead cancels, and Conflict for what has
    ended, or has to go on.
    """
    with database.writing() as session:
        row = store.job(session, number)
        kind, question = JOB_KINDS[row.kind], question_of(row)
        if kind.why_not_cancellable is not None:
            raise Conflict(kind.why_not_cancellable)
        queue.cancel(session, number, who, now)
        cancelled = queue.job(session, number)
        task = Task.of_row(database, row, question)
    if cancelled.state == "cancelled":
        # No worker had started it, so no worker will clean up after it.
        kind.undo(task)
    return cancelled


class InlineWorkers:
    """Runs jobs in the calling process, before it returns; for the shell and for tests."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def notify(self, kind: str) -> None:
        """There is work of that kind."""
        run_waiting(self.database, kind)
