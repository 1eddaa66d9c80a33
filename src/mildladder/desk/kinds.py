"""What kinds of jobs there are, and carrying out those that wait."""

import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

from mildladder.core.errors import Unavailable
from mildladder.desk import estimating, first_ladders, nudging
from mildladder.desk.batches import bring_in, undo_task
from mildladder.desk.jobs import Kind
from mildladder.desk.questions import answer
from mildladder.desk.tasks import Task, carrying_out, utc_now
from mildladder.store import jobs as store
from mildladder.store.database import Database

__all__ = ["KINDS", "Here", "carry_out_waiting", "forget_answers", "has_work"]

_MOST_TRIES = 2
# After that a database is tried again that could not be written, such as on a full disk.
_LATER_S = 1


@dataclass(frozen=True)
class _How:
    """How jobs of a kind are carried out, undone, and in which order. niceness: by how much they stand back, where
    there are too few processors for all, behind what people wait for; none where they hold what others wait for."""

    work: Callable[[Task], None]
    undo: Callable[[Task], None]
    is_newest_first: bool
    niceness: int


def _nothing_to_undo(_task: Task) -> None:
    pass


KINDS: dict[Kind, _How] = {
    "ordering": _How(answer, _nothing_to_undo, is_newest_first=True, niceness=5),
    "estimating": _How(estimating.answer, _nothing_to_undo, is_newest_first=True, niceness=5),
    "nudging": _How(nudging.answer, _nothing_to_undo, is_newest_first=False, niceness=15),
    # Somebody waits for a first ladder, and would else wait until every symptom of the desk has been looked through.
    "proposing": _How(first_ladders.propose, _nothing_to_undo, is_newest_first=True, niceness=5),
    "importing": _How(bring_in, undo_task, is_newest_first=False, niceness=0),
}


def carry_out_waiting(database: Database, kind: Kind, is_leaving: Callable[[], bool] = lambda: False) -> None:
    """Carry out what is asked for of a kind, one after the other, until nothing is, or the process is to end. Where
    another process carries out jobs of this kind on the same desk, it is waited for."""
    while not is_leaving() and has_work(database, kind):
        try:
            with database.alone(kind, lambda: not is_leaving()):
                while not is_leaving() and (task := _next(database, kind, is_leaving)):
                    _carry_out(task, KINDS[kind])
        except Unavailable:
            time.sleep(_LATER_S)


def _next(database: Database, kind: Kind, is_leaving: Callable[[], bool]) -> Task | None:
    with database.writing(is_lasting=False) as session:
        row = store.next_unended(session, kind, KINDS[kind].is_newest_first)
        if row is None:
            return None
        if row.state != "cancelling":
            store.begin(session, row, utc_now())
        return Task.of_row(database, row, tries=row.tries, is_leaving=is_leaving)


def _carry_out(task: Task, how: _How) -> None:
    """Do one job. How it ended is kept, and told to whoever asks for it."""
    with suppress(Exception), carrying_out(task, how.undo):
        task.check()
        if task.tries > _MOST_TRIES:
            raise Unavailable("the program ended in the middle of this, twice; what it had begun was undone")
        how.work(task)


def has_work(database: Database, kind: Kind) -> bool:
    """Whether jobs of that kind wait, or were left in the middle."""
    with database.reading() as session:
        return store.has_unended(session, kind)


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
