"""A kind of job: which questions it answers, how these are carried out and undone, and what becomes of the answers."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from mildladder.desk.jobs.question import Question
from mildladder.desk.jobs.task import MAX_TRIES, Task

__all__ = ["JobKind"]


def _nothing_to_undo(_task: Task[Any]) -> None:
    pass


@dataclass(frozen=True)
class JobKind:
    """How jobs of one kind run: one worker process per kind, one job at a time.

    name: as stored with each job. work: the function that carries out each type of question. is_newest_first: order of
    the queue. niceness: `os.nice` increment of the worker; 0 for jobs that hold the write lock. undo: takes back what
    a cancelled or failed job did. max_tries: attempts before a job fails for good. retries_errors: errors that may pass
    count as attempts; otherwise only crashes of the worker do. keeps_answers: the result is an answer to be cached,
    deleted when the program starts, because another version may compute another. why_not_cancellable: the reason given
    to whoever tries; None for jobs that can be cancelled.
    """

    name: str
    work: Mapping[type[Question], Callable[[Task[Any]], None]]
    is_newest_first: bool
    niceness: int
    undo: Callable[[Task[Any]], None] = _nothing_to_undo
    max_tries: int = MAX_TRIES
    retries_errors: bool = True
    keeps_answers: bool = True
    why_not_cancellable: str | None = None
