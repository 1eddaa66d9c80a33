"""What is worked out beside the requests, and what became of advice: jobs, promises, declined nudges, trials."""

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, ForeignKeyConstraint, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from mildladder.store.tables.base import Base, PersonRow, StoredDocument, Whoever, Written

__all__ = ["DeclinedNudgeRow", "JobRow", "PromiseRow", "TrialCaseRow", "TrialRow"]


class JobRow(Base):
    """Long work: asked for, carried out by one process at a time, ended. state: waiting, running, cancelling, done,
    failed, cancelled.

    kind, subject, version, input: what is asked; digest: of all four, so that the same question joins. is_outside:
    carried out by a shell, by no worker of the served desk. phase: a word for what is being done; done, of: how much of
    it, of None until that is known. so_far: what is needed to go on where it stopped. result: JSON text; problem: why
    it failed, or has to be tried again, as `core.errors` keeps it. tries: how often it was begun in vain: a worker died
    of it, or what went wrong may pass. not_before: when it is to be tried again. who: None for whoever did not say.
    Numbers are never given twice.
    """

    __tablename__ = "jobs"
    number: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str]
    subject: Mapped[str]
    version: Mapped[int | None]
    digest: Mapped[str]
    input: Mapped[dict[str, Any]]
    is_outside: Mapped[bool]
    state: Mapped[str] = mapped_column(index=True)
    phase: Mapped[str]
    done: Mapped[int]
    of: Mapped[int | None]
    so_far: Mapped[dict[str, Any]]
    result: Mapped[str | None] = mapped_column(deferred=True)
    problem: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    tries: Mapped[int]
    not_before: Mapped[datetime | None]
    who: Mapped[Whoever]
    asked: Mapped[datetime]
    began: Mapped[datetime | None]
    ended: Mapped[datetime | None]
    person: Mapped[PersonRow | None] = relationship(PersonRow)
    __table_args__ = (
        Index(None, "kind", "digest"),
        Index(None, "kind", "subject", "version"),
        {"sqlite_autoincrement": True},
    )


class PromiseRow(Base):
    """What an edition promised a case against the one before, as the cases stood when it was published: `cases` that
    spoke, `a_month` of them. worth: as `core.advice.followup.Worth`."""

    __tablename__ = "promises"
    playbook_id: Mapped[str] = mapped_column(primary_key=True)
    edition: Mapped[int] = mapped_column(primary_key=True)
    published: Mapped[datetime]
    cases: Mapped[int]
    a_month: Mapped[float]
    worth: Mapped[dict[str, Any]] = mapped_column(StoredDocument("worth"))
    __table_args__ = (ForeignKeyConstraint(["playbook_id", "edition"], ["editions.playbook_id", "editions.number"]),)


class DeclinedNudgeRow(Written, Base):
    """A nudge that somebody does not want. `is_for_good`: never; else until what it would save has moved from `mean` by
    half of `width`, that of its interval then."""

    __tablename__ = "declined_nudges"
    playbook_id: Mapped[str] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(primary_key=True)
    is_for_good: Mapped[bool]
    mean: Mapped[float]
    width: Mapped[float]
    why: Mapped[str]
    at: Mapped[datetime]


class TrialRow(Written, Base):
    """Two editions that run at once. seed: of the coin, told to nobody; difference: effort minutes a case that it is to
    find; planned: cases; ground: as `core.advice.side_by_side.Ground`; stopped: why it has stopped by itself; better:
    a or b."""

    __tablename__ = "trials"
    number: Mapped[int] = mapped_column(primary_key=True)
    playbook_id: Mapped[str] = mapped_column(index=True)
    a: Mapped[int]
    b: Mapped[int]
    seed: Mapped[str]
    difference: Mapped[float]
    planned: Mapped[int]
    ground: Mapped[dict[str, Any]] = mapped_column(StoredDocument("ground"))
    began: Mapped[datetime]
    ended: Mapped[datetime | None]
    stopped: Mapped[str | None]
    better: Mapped[str | None]


class TrialCaseRow(Base):
    """A guided case of a trial. first: the case with which it counts as one, itself or the one that it goes on from;
    arm: a or b. Once closed: group, its sort of unit; cost, in effort minutes with harm; is_severe: harm of severity 3
    or more was seen."""

    __tablename__ = "trial_cases"
    trial: Mapped[int] = mapped_column(ForeignKey("trials.number"), primary_key=True)
    climb_id: Mapped[str] = mapped_column(primary_key=True, index=True)
    first: Mapped[str]
    arm: Mapped[str]
    unit: Mapped[str]
    began: Mapped[datetime]
    closed: Mapped[datetime | None]
    group: Mapped[str]
    cost: Mapped[float]
    is_severe: Mapped[bool]
