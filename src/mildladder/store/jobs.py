"""Queries for jobs: what is asked for, whose turn it is, how far it is, and how it ended."""

import hashlib
import json
from collections.abc import Callable, Collection, Mapping, Sequence
from datetime import datetime
from typing import Any, Literal

from sqlalchemy import ColumnElement, delete, func, or_, select, update
from sqlalchemy.orm import Session, undefer

from mildladder.core.errors import LadderError, NotFound, as_data
from mildladder.store.tables import JobRow

__all__ = [
    "UNENDED",
    "State",
    "add",
    "begin",
    "cancel",
    "cancel_older",
    "count_crash",
    "count_waiting",
    "delete_ended",
    "digest_of",
    "due_kinds",
    "end",
    "fail",
    "find",
    "find_all",
    "is_any_unended",
    "is_due",
    "job",
    "last_answers",
    "last_done",
    "next_due",
    "progress",
    "recent",
    "requeue",
    "retry_later",
    "run_by_desk",
    "run_by_shells",
    "standing",
    "state_of",
]

State = Literal["waiting", "running", "cancelling", "done", "failed", "cancelled"]
UNENDED = ("waiting", "running", "cancelling")
# So many are looked for at once.
_MANY = 500


def digest_of(kind: str, subject: str, version: int | None, asked: Mapping[str, Any]) -> str:
    """The same for the same question."""
    text = json.dumps([kind, subject, version, asked], sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()


def add(
    session: Session,
    kind: str,
    subject: str,
    version: int | None,
    asked: Mapping[str, Any],
    who: int | None,
    now: datetime,
    is_outside: bool = False,
    beside: Mapping[str, Any] | None = None,
) -> JobRow:
    """Ask for work. is_outside: whoever asks does it, and has begun; beside: what is needed to carry it out and does
    not tell this question from another."""
    row = JobRow(
        kind=kind,
        subject=subject,
        version=version,
        digest=digest_of(kind, subject, version, asked),
        input={**asked, **(beside or {})},
        is_outside=is_outside,
        state="running" if is_outside else "waiting",
        phase="",
        done=0,
        so_far={},
        tries=0,
        who=who,
        asked=now,
        began=now if is_outside else None,
    )
    session.add(row)
    session.flush()
    return row


def job(session: Session, number: int) -> JobRow:
    """One job, its result with it. Raises NotFound."""
    row = session.get(JobRow, number, options=[undefer(JobRow.result)])
    if row is None:
        raise NotFound(f"there is no job {number}; it may have ended and been forgotten")
    return row


def find(session: Session, kind: str, digest: str, states: Sequence[str]) -> JobRow | None:
    """The newest job of that question that is in one of these states, its result with it."""
    return find_all(session, kind, [digest], states).get(digest)


def find_all(session: Session, kind: str, digests: Sequence[str], states: Sequence[str]) -> dict[str, JobRow]:
    """The same of many questions, by digest."""
    found: dict[str, JobRow] = {}
    for start in range(0, len(digests), _MANY):
        among = JobRow.digest.in_(digests[start : start + _MANY])
        query = select(JobRow).where(JobRow.kind == kind, among, JobRow.state.in_(states)).order_by(JobRow.number)
        found |= {row.digest: row for row in session.scalars(query.options(undefer(JobRow.result)))}
    return found


def last_done(session: Session, kind: str, subject: str, alike: Mapping[str, Any]) -> int | None:
    """The number of the newest answered job about a subject whose question has these parts."""
    query = select(JobRow.number, JobRow.input).where(
        JobRow.kind == kind, JobRow.subject == subject, JobRow.state == "done"
    )
    rows = session.execute(query.order_by(JobRow.number.desc()))
    return next((number for number, there in rows if alike.items() <= there.items()), None)


def last_answers(
    session: Session, kind: str, subjects: Collection[str], alike: Mapping[str, Any]
) -> dict[str, str | None]:
    """Of each of these subjects the answer of its newest such job, by subject."""
    query = select(JobRow.subject, JobRow.number, JobRow.input).where(JobRow.kind == kind, JobRow.state == "done")
    newest = {
        subject: number
        for subject, number, there in session.execute(query.order_by(JobRow.number))
        if subject in subjects and alike.items() <= there.items()
    }
    found: dict[str, str | None] = {}
    numbers = list(newest.values())
    for start in range(0, len(numbers), _MANY):
        among = JobRow.number.in_(numbers[start : start + _MANY])
        found |= dict(session.execute(select(JobRow.subject, JobRow.result).where(among)).all())
    return found


def state_of(session: Session, number: int) -> str | None:
    """How a job stands; None when it is no longer kept."""
    return session.scalar(select(JobRow.state).where(JobRow.number == number))


def standing(session: Session, number: int) -> tuple[Any, ...] | None:
    """What changes whenever a job ends, is put back or is postponed: its state and when it is to be tried again."""
    found = session.execute(select(JobRow.state, JobRow.not_before).where(JobRow.number == number)).first()
    return tuple(found) if found is not None else None


def run_by_shells(session: Session, kind: str) -> Sequence[JobRow]:
    """Work that shells have begun and not ended."""
    query = select(JobRow).where(JobRow.kind == kind, JobRow.state.in_(UNENDED), JobRow.is_outside)
    return session.scalars(query).all()


def is_any_unended(session: Session, kind: str) -> bool:
    """Whether work of a kind has not ended, whoever carries it out."""
    query = "SELECT 1 FROM jobs WHERE state IN ('waiting', 'running', 'cancelling') AND kind = ? LIMIT 1"
    return session.connection().exec_driver_sql(query, (kind,)).first() is not None


def run_by_desk(session: Session, kind: str) -> Sequence[JobRow]:
    """Work for the served desk that has not ended, in order of arrival."""
    query = select(JobRow).where(JobRow.kind == kind, JobRow.state.in_(UNENDED), ~JobRow.is_outside)
    return session.scalars(query.order_by(JobRow.number)).all()


def recent(session: Session, kind: str, limit: int) -> Sequence[JobRow]:
    """The last jobs of a kind, the newest first."""
    return session.scalars(select(JobRow).where(JobRow.kind == kind).order_by(JobRow.number.desc()).limit(limit)).all()


def _due(now: datetime) -> tuple[ColumnElement[bool], ...]:
    """Work for the served desk that has not ended and need not wait any longer."""
    is_time = or_(JobRow.not_before.is_(None), JobRow.not_before <= now)
    return JobRow.state.in_(UNENDED), ~JobRow.is_outside, is_time


def is_due(session: Session, kind: str, now: datetime) -> bool:
    """Whether there is work of that kind for the served desk."""
    return session.scalar(select(JobRow.number).where(JobRow.kind == kind, *_due(now)).limit(1)) is not None


def due_kinds(session: Session, now: datetime) -> set[str]:
    """The kinds of which something waits, or was left in the middle."""
    return set(session.scalars(select(JobRow.kind).where(*_due(now)).distinct()))


def count_waiting(session: Session, kind: str) -> int:
    """How much of a kind waits for its turn."""
    waiting = select(func.count()).where(JobRow.kind == kind, JobRow.state == "waiting")
    return session.scalar(waiting) or 0


def next_due(session: Session, kind: str, is_newest_first: bool, now: datetime) -> JobRow | None:
    """Whose turn it is. Only one at a time carries out a kind, so what is said to be running now was left by one that
    has ended, and is taken up."""
    order = JobRow.number.desc() if is_newest_first else JobRow.number
    return session.scalar(select(JobRow).where(JobRow.kind == kind, *_due(now)).order_by(order).limit(1))


def begin(session: Session, row: JobRow, now: datetime) -> None:
    """Somebody carries it out from now on."""
    row.state, row.not_before, row.began = "running", None, row.began or now
    session.flush()


def progress(session: Session, number: int, **how_far: Any) -> None:
    """Keep how far a job is: phase, done, of, so_far. What is done never becomes less."""
    if "done" in how_far:
        how_far["done"] = func.max(JobRow.done, how_far["done"])
    told = update(JobRow).where(JobRow.number == number).values(**how_far)
    session.execute(told.execution_options(synchronize_session=False))


def end(session: Session, number: int, state: State, now: datetime, result: str | None = None) -> None:
    """It is done or cancelled; nothing is kept that was only needed to go on."""
    values: dict[str, Any] = {"state": state, "ended": now, "result": result, "problem": None, "so_far": {}}
    session.execute(update(JobRow).where(JobRow.number == number).values(**values))


def fail(session: Session, number: int, error: LadderError, now: datetime) -> None:
    """It could not be done."""
    values: dict[str, Any] = {"state": "failed", "ended": now, "problem": as_data(error), "so_far": {}}
    session.execute(update(JobRow).where(JobRow.number == number).values(**values))


def retry_later(session: Session, number: int, error: LadderError, until: datetime, is_given_back: bool) -> None:
    """What went wrong may pass, so it is tried again, and the reason told meanwhile. is_given_back: it waits as if it
    had not been begun; else it stays as it stands, such as half undone."""
    tried = update(JobRow).where(JobRow.number == number)
    session.execute(tried.values(problem=as_data(error), not_before=until, tries=JobRow.tries + 1))
    if is_given_back:
        requeue(session, number)


def requeue(session: Session, number: int) -> None:
    """Whoever carried it out leaves it to the next, which is no failure; unless it was cancelled meanwhile."""
    mine = (JobRow.number == number, JobRow.state == "running")
    session.execute(update(JobRow).where(*mine).values(state="waiting"))


def count_crash(session: Session, kind: str, error: LadderError, until: Callable[[int], datetime]) -> None:
    """The worker of a kind has died in the middle of what it had begun. until: when that is tried again, by how often
    it was begun in vain."""
    mine = (JobRow.kind == kind, JobRow.state.in_(("running", "cancelling")), ~JobRow.is_outside)
    for number, tries in session.execute(select(JobRow.number, JobRow.tries).where(*mine)).all():
        retry_later(session, number, error, until(tries + 1), is_given_back=True)


def cancel(session: Session, row: JobRow, now: datetime) -> None:
    """It is wanted no more: at once where nobody has begun, else whoever carries it out leaves off."""
    if row.state == "waiting" and not row.so_far:
        row.state, row.ended = "cancelled", now
    elif row.state in UNENDED:
        row.state = "cancelling"
    session.flush()


def cancel_older(session: Session, kind: str, subject: str, version: int) -> None:
    """The subject has a new version: answers about older ones are forgotten, and work on them is left off."""
    older = (JobRow.kind == kind, JobRow.subject == subject, JobRow.version < version)
    if session.scalar(select(JobRow.number).where(*older).limit(1)) is None:
        return
    session.execute(update(JobRow).where(*older, JobRow.state == "running").values(state="cancelling"))
    session.execute(delete(JobRow).where(*older, JobRow.state != "cancelling"))


def delete_ended(session: Session, kind: str, most: int, of_each: int = 0) -> None:
    """Keep so many of those that have ended, the newest, and so many answers of each subject, however old they are."""
    ended = (JobRow.kind == kind, JobRow.state.not_in(UNENDED))
    newest = select(JobRow.number).where(*ended).order_by(JobRow.number.desc()).limit(most)
    place = func.row_number().over(partition_by=JobRow.subject, order_by=JobRow.number.desc()).label("place")
    placed = select(JobRow.number, place).where(JobRow.kind == kind, JobRow.state == "done").subquery()
    last = select(placed.c.number).where(placed.c.place <= of_each)
    session.execute(delete(JobRow).where(*ended, JobRow.number.not_in(newest), JobRow.number.not_in(last)))
