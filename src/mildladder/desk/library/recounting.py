"""Count logged cases anew where a step has come to count as another, or the desk to know a fact.

Few of them are counted with the change itself; many are a job, which holds the database for a moment at a time. Each
case keeps the key under which it is counted, so the tallies add up while some are counted anew and some not yet.
"""

import sys
import time
from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import ClassVar, Literal

from sqlalchemy.orm import Session

from mildladder.core.model import Shape
from mildladder.desk.jobs.batch_size import BatchSize
from mildladder.desk.jobs.kind import JobKind
from mildladder.desk.jobs.question import Question
from mildladder.desk.jobs.queue import add
from mildladder.desk.jobs.task import Task
from mildladder.desk.settings import return_window
from mildladder.store import jobs as store
from mildladder.store.gc_pause import gc_paused
from mildladder.store.log import recount as log

__all__ = ["RECOUNTING", "Recounting", "count_fact_anew", "count_step_anew", "recountings"]

# So many are counted in the transaction of the change itself.
_AT_ONCE = 500
_FEWEST, _FIRST, _MOST = 20, 200, 2_000


class RecountQuestion(Question):
    """Count anew the cases that name a step, or that know a fact, which is the subject. symptoms: whose they are."""

    kind: ClassVar[str] = "recounting"
    ask: Literal["recounting"] = "recounting"
    step: str | None = None
    fact: str | None = None
    symptoms: tuple[str, ...]


class Recounting(Shape):
    """Cases of a symptom that are counted anew, so that its figures are partly of before and partly of after a change.
    done, of: cases, those of other symptoms among them."""

    done: int
    of: int


def count_step_anew(session: Session, step: str, who: int, now: datetime) -> list[str]:
    """A step counts as another one now, and so does whatever counted as it; the symptoms whose cases name it."""
    return _count_anew(session, step, None, log.cases_naming(session, step), who, now)


def count_fact_anew(session: Session, fact: str, who: int, now: datetime) -> list[str]:
    """The desk has come to know a fact that keys hold; the symptoms whose cases have it."""
    return _count_anew(session, None, fact, log.cases_with(session, fact), who, now)


def _count_anew(
    session: Session, step: str | None, fact: str | None, touched: Mapping[str, int], who: int, now: datetime
) -> list[str]:
    symptoms = sorted(touched)
    if sum(touched.values()) <= _AT_ONCE:
        numbers = log.cases_to_recount(session, step, fact)
        log.recount(session, numbers, timedelta(days=return_window(session)))
    else:
        asked = RecountQuestion(subject=step or fact or "", step=step, fact=fact, symptoms=tuple(symptoms))
        row = add(session, asked, who, now)
        row.of = sum(touched.values())
    return symptoms


@gc_paused()
def _recount(task: Task[RecountQuestion]) -> None:
    """Count anew, in the order of the cases. What is logged meanwhile is counted by the new rules already."""
    last, done = task.so_far.get("last", 0), task.so_far.get("done", 0)
    with task.database.reading() as session:
        numbers = log.cases_to_recount(session, task.question.step, task.question.fact, last)
        window = timedelta(days=return_window(session))
    batches = BatchSize(_FIRST, _FEWEST, _MOST)
    at = 0
    while at < len(numbers):
        task.check()
        some = numbers[at : at + batches.size]
        with task.database.writing(is_durable=False) as session:
            began = time.perf_counter()
            log.recount(session, some, window)
            at, done = at + len(some), done + len(some)
            task.tell(session, done=done, so_far={"last": some[-1], "done": done})
        ended = time.monotonic()
        batches.adjust(time.perf_counter() - began)
        task.database.yield_write_lock(since=ended)
    with task.database.writing() as session:
        task.end(session, "null")


RECOUNTING = JobKind(
    name=RecountQuestion.kind,
    work={RecountQuestion: _recount},
    is_newest_first=False,
    niceness=0,
    # What is counted half in the old and half in the new way has to be finished, however often it takes.
    max_tries=sys.maxsize,
    keeps_answers=False,
    why_not_cancellable="counting anew goes on to its end; take the change back that it follows from instead",
)


def recountings(session: Session) -> dict[str, Recounting]:
    """The symptoms of which cases are being counted anew, or wait for that."""
    found: dict[str, Recounting] = {}
    if not store.is_any_unended(session, RecountQuestion.kind):
        return found
    for row in store.run_by_desk(session, RecountQuestion.kind):
        for symptom in row.input["symptoms"]:
            before = found.get(symptom, Recounting(done=0, of=0))
            found[symptom] = Recounting(done=before.done + row.done, of=before.of + (row.of or 0))
    return found
