"""What kinds of jobs there are, and carrying out those that wait."""

import sys
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

from mildladder.core.errors import Unavailable
from mildladder.desk.advice import nudging
from mildladder.desk.drafts.questions import answer
from mildladder.desk.evidence import estimating
from mildladder.desk.jobs.queue import Kind
from mildladder.desk.jobs.task import MOST_TRIES, Task, carrying_out, later, utc_now
from mildladder.desk.library import recounting
from mildladder.desk.log.batches import bring_in, undo_task
from mildladder.desk.publishing import first_ladders
from mildladder.store import jobs as store
from mildladder.store.database import Database

__all__ = ["KINDS", "Here", "carry_out_waiting", "count_death", "due_kinds", "forget_answers"]

# How long to leave a database alone that could not be written, such as on a full disk: longer each time.
_FIRST_PAUSE_S, _LONGEST_PAUSE_S, _PAUSE_PART_S = 1, 60, 0.2
_DIED = "the program ended in the middle of this"


@dataclass(frozen=True)
class _How:
    """How jobs of a kind are carried out, undone, and in which order. niceness: by how much they stand back, where
    there are too few processors for all, behind what people wait for; none where they hold what others wait for.
    most_tries: how often such a job may be begun in vain; tries_again: whether what may pass is among that, else only
    that a worker died of it."""

    work: Callable[[Task], None]
    undo: Callable[[Task], None]
    is_newest_first: bool
    niceness: int
    most_tries: int = MOST_TRIES
    tries_again: bool = True


def _nothing_to_undo(_task: Task) -> None:
    pass


KINDS: dict[Kind, _How] = {
    "ordering": _How(answer, _nothing_to_undo, is_newest_first=True, niceness=5),
    "estimating": _How(estimating.answer, _nothing_to_undo, is_newest_first=True, niceness=5),
    "nudging": _How(nudging.answer, _nothing_to_undo, is_newest_first=False, niceness=15),
    # Somebody waits for a first ladder, and would else wait until every symptom of the desk has been looked through.
    "proposing": _How(first_ladders.propose, _nothing_to_undo, is_newest_first=True, niceness=5),
    # A lead who brings a file in is told that it could not be done, and brings it in again.
    "importing": _How(bring_in, undo_task, is_newest_first=False, niceness=0, most_tries=2, tries_again=False),
    # What is counted half in the old and half in the new way has to be finished, however often it takes.
    "recounting": _How(
        recounting.recount_task, _nothing_to_undo, is_newest_first=False, niceness=0, most_tries=sys.maxsize
    ),
}


def carry_out_waiting(database: Database, kind: Kind, is_leaving: Callable[[], bool] = lambda: False) -> None:
    """Carry out what is asked for of a kind, one after the other, until nothing is, or the process is to end. Where
    another process carries out jobs of this kind on the same desk, it is waited for."""
    pause_s: float = _FIRST_PAUSE_S
    while not is_leaving():
        try:
            if not _is_due(database, kind):
                return
            with database.alone(kind, lambda: not is_leaving()):
                while not is_leaving() and (task := _next(database, kind, is_leaving)):
                    _carry_out(task, KINDS[kind])
                    pause_s = _FIRST_PAUSE_S
        except Unavailable:
            _wait(pause_s, is_leaving)
            pause_s = min(2 * pause_s, _LONGEST_PAUSE_S)


def _wait(seconds: float, is_leaving: Callable[[], bool]) -> None:
    deadline = time.monotonic() + seconds
    while not is_leaving() and time.monotonic() < deadline:
        time.sleep(_PAUSE_PART_S)


def _next(database: Database, kind: Kind, is_leaving: Callable[[], bool]) -> Task | None:
    now = utc_now()
    with database.writing(is_lasting=False) as session:
        row = store.next_due(session, kind, KINDS[kind].is_newest_first, now)
        if row is None:
            return None
        if row.state != "cancelling":
            store.begin(session, row, now)
        return Task.of_row(database, row, tries=row.tries, is_leaving=is_leaving)


def _carry_out(task: Task, how: _How) -> None:
    """Do one job. How it ended is kept, and told to whoever asks for it. Raises Unavailable where that cannot be
    kept."""
    before = _standing(task)
    with suppress(Exception), carrying_out(task, how.undo, how.most_tries if how.tries_again else 0):
        task.check()
        if task.tries >= how.most_tries:
            raise Unavailable(f"{_DIED}, {task.tries} times; what it had begun was undone")
        how.work(task)
    if _standing(task) == before:
        raise Unavailable("how this job ended cannot be written down")


def _standing(task: Task) -> tuple[object, ...] | None:
    with task.database.reading() as session:
        return store.standing(session, task.number)


def _is_due(database: Database, kind: Kind) -> bool:
    with database.reading() as session:
        return store.is_due(session, kind, utc_now())


def due_kinds(database: Database) -> list[Kind]:
    """The kinds of which jobs wait, or were left in the middle."""
    with database.reading() as session:
        found = store.due_kinds(session, utc_now())
    return [kind for kind in KINDS if kind in found]


def count_death(database: Database, kind: Kind) -> None:
    """A worker has died: what it had begun was begun in vain."""
    with database.writing() as session:
        store.count_death(session, kind, Unavailable(f"{_DIED}; it is tried again"), later)


def forget_answers(database: Database) -> None:
    """Keep no answer of an earlier run of the program, which may have given another."""
    with database.writing() as session:
        for kind in ("ordering", "estimating", "nudging", "proposing"):
            store.forget_ended(session, kind, 0)


class Here:
    """Carries out jobs in this very process, before it returns."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def nudge(self, kind: Kind) -> None:
        """There is work of that kind."""
        carry_out_waiting(self.database, kind)
