"""A kind of job: which questions it answers, how these are carried out and undone, and what becomes of the answers."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from mildladder.desk.jobs.question import Question
from mildladder.desk.jobs.task import MOST_TRIES, Task

__all__ = ["JobKind"]


def _nothing_to_undo(_task: Task[Any]) -> None:
    pass


@dataclass(frozen=True)
class JobKind:
    """Jobs of one kind are carried out by one process, one after the other.

    work: by question. niceness: by how much they stand back, where there are too few processors for all, behind what
    people wait for; none where they hold what others wait for. most_tries: how often such a job may be begun in vain;
    tries_again: whether what may pass is among that, else only that a worker died of it. keeps_answers: what they come
    to is an answer, which is forgotten when the program starts, for another version may give another.
    goes_on: why it cannot be cancelled, None where it can be.
    """

    name: str
    work: Mapping[type[Question], Callable[[Task[Any]], None]]
    is_newest_first: bool
    niceness: int
    undo: Callable[[Task[Any]], None] = _nothing_to_undo
    most_tries: int = MOST_TRIES
    tries_again: bool = True
    keeps_answers: bool = True
    goes_on: str | None = None
