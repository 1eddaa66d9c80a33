"""Ask for long work, watch it, cancel it: a question waits for no answer, and the same question joins."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol

from sqlalchemy.orm import Session

from mildladder.core.errors import Busy, Conflict, LadderError, NotTheirs, of_data
from mildladder.core.model import Shape
from mildladder.desk.jobs.question import Question
from mildladder.desk.people import check_lead
from mildladder.store import jobs as store
from mildladder.store.database import Database
from mildladder.store.tables import JobRow

__all__ = [
    "JobView",
    "Waiting",
    "Workers",
    "add",
    "answer_of",
    "answers_of",
    "cancel",
    "job",
    "join_or_add",
    "recent",
]

# So many answers are kept, and the last of each subject: on a page of many subjects each would else be forgotten for
# those of the others.
_MOST_ANSWERS, _OF_EACH = 256, 2
_RECENT = 20
# A question that cannot be written down within that time is simply asked again.
_TIMEOUT_MS = 100
# So much of a kind may wait; what is asked beyond that is not taken.
MAX_WAITING = 100
_QUEUE_IS_FULL = f"{MAX_WAITING} questions wait before this one; it is taken once some of them are answered"


class Workers(Protocol):
    """Whoever carries out the jobs of a desk."""

    def notify(self, kind: str) -> None:
        """There is work of that kind."""


class JobView(Shape):
    """A job as one watches it. is_outside: a shell carries it out, and is told how it ends; phase: a word for what is
    being done; done, of: how much of it, of None until that is known; says: why it failed, or is to be tried again."""

    number: int
    kind: str
    subject: str
    is_outside: bool
    state: store.State
    phase: str
    done: int
    of: int | None
    who: str | None
    asked: datetime
    began: datetime | None
    ended: datetime | None
    says: str | None


def job(session: Session, number: int) -> JobView:
    """One job. Raises NotFound."""
    return _view(store.job(session, number))


def recent(session: Session, kind: str) -> list[JobView]:
    """The last jobs of a kind, the newest first."""
    return [_view(row) for row in store.recent(session, kind, _RECENT)]


def cancel(session: Session, number: int, who: int, now: datetime) -> None:
    """A job is wanted no more; what it has begun is undone. Raises NotFound, NotTheirs for work that somebody else
    asked for and no lead cancels, and Conflict for what has ended."""
    row = store.job(session, number)
    if row.who is not None and row.who != who:
        try:
            check_lead(session, who)
        except NotTheirs:
            raise NotTheirs("only a lead, or whoever asked for it, may cancel this") from None
    if row.state not in store.UNENDED:
        raise Conflict(f"this is {row.state} already; there is nothing to cancel")
    store.cancel(session, row, now)


def join_or_add(
    session: Session,
    question: Question,
    who: int | None,
    now: datetime,
    states: Sequence[store.State] = ("waiting", "running"),
) -> JobRow:
    """The work that was asked for already and is in one of these states; else it is asked for now."""
    return _unless_failed_for_now(store.find(session, question.kind, _digest(question), states)) or add(
        session, question, who, now
    )


def add(session: Session, question: Question, who: int | None, now: datetime, is_outside: bool = False) -> JobRow:
    """Ask for work. is_outside: whoever asks does it, and has begun."""
    return store.add(
        session,
        question.kind,
        question.subject,
        question.version,
        question.asked(),
        who,
        now,
        is_outside,
        question.unasked(),
    )


def _digest(question: Question) -> str:
    return store.digest_of(question.kind, question.subject, question.version, question.asked())


_KEPT: tuple[store.State, ...] = ("waiting", "running", "done", "failed")


@dataclass(frozen=True)
class Waiting:
    """There is no answer yet. says: why it takes longer than usual; None where it does not."""

    says: str | None = None


def answer_of(database: Database, workers: Workers, question: Question, now: datetime) -> str | Waiting:
    """The answer to a question, as JSON text.

    Raises what the question itself deserves, such as BadInput; what goes wrong and may pass is tried again.
    """
    (answer,) = answers_of(database, workers, [question], now)
    if isinstance(answer, LadderError):
        raise answer
    return answer


def answers_of(
    database: Database, workers: Workers, questions: Sequence[Question], now: datetime
) -> list[str | LadderError | Waiting]:
    """The answers to many questions of one kind, in their order, each as `answer_of` has it, or what it raises; what
    nobody has asked yet is asked all at once, as far as there is room for it."""
    if not questions:
        return []
    kind, rows = questions[0].kind, _found(database, questions)
    if new := [question for question, row in zip(questions, rows, strict=True) if row is None]:
        try:
            with database.writing(is_durable=False, timeout_ms=_TIMEOUT_MS) as session:
                for question in new[: max(0, MAX_WAITING - store.count_waiting(session, kind))]:
                    join_or_add(session, question, None, now, _KEPT)
                store.delete_ended(session, kind, _MOST_ANSWERS, _OF_EACH)
        except Busy:
            return [_answer(row) if row is not None else Waiting() for row in rows]
        workers.notify(kind)
        rows = _found(database, questions)
    return [_answer(row) for row in rows]


def _found(database: Database, questions: Sequence[Question]) -> list[JobRow | None]:
    with database.reading() as session:
        digests = [_digest(question) for question in questions]
        found = store.find_all(session, questions[0].kind, digests, _KEPT)
        return [_unless_failed_for_now(found.get(digest)) for digest in digests]


def _unless_failed_for_now(row: JobRow | None) -> JobRow | None:
    """What failed for a reason that may have passed is no answer: it is asked anew."""
    is_given_up = row is not None and row.state == "failed" and row.problem and of_data(row.problem).is_passing
    return None if is_given_up else row


def _answer(row: JobRow | None) -> str | LadderError | Waiting:
    if row is None:
        return Waiting(_QUEUE_IS_FULL)
    if row.state == "failed" and row.problem is not None:
        return of_data(row.problem)
    if row.result is not None:
        return row.result
    return Waiting(row.problem["says"] if row.problem else None)


def _view(row: JobRow) -> JobView:
    return JobView(
        number=row.number,
        kind=row.kind,
        subject=row.subject,
        is_outside=row.is_outside,
        state=row.state,
        phase=row.phase,
        done=row.done,
        of=row.of,
        who=row.person.name if row.person else None,
        asked=row.asked,
        began=row.began,
        ended=row.ended,
        says=row.problem["says"] if row.problem else None,
    )
