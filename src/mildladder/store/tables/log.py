"""The log of cases, and what is counted of it."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from mildladder.store.tables.base import Base, StoredDocument, Written

__all__ = [
    "AttemptRow",
    "CaseFactRow",
    "CaseRow",
    "ClosingDayRow",
    "ImportRow",
    "RefusedLineRow",
    "ReplacedCaseRow",
    "SignatureRow",
    "StepTallyRow",
    "StratumRow",
    "TallyRow",
    "TallyVersionRow",
]


class SignatureRow(Base):
    """What matters of cases alike to an estimate, stored once. `digest`: of the canonical text."""

    __tablename__ = "signatures"
    number: Mapped[int] = mapped_column(primary_key=True)
    digest: Mapped[str] = mapped_column(unique=True)
    text: Mapped[str]


class StratumRow(Base):
    """What cases share beside their signature: one key of the tallies.

    edition 0: none. period: the closing day, or the month once its days were folded. is_guided: guided here, not
    brought in. facts: values of choice, yes-no and version facts, as JSON. is_double: logged before under another id.
    folded_into: the month's stratum that has taken over what this day's counted.
    """

    __tablename__ = "strata"
    number: Mapped[int] = mapped_column(primary_key=True)
    symptom: Mapped[str]
    edition: Mapped[int]
    period: Mapped[str]
    site: Mapped[str]
    is_guided: Mapped[bool]
    facts: Mapped[str]
    is_double: Mapped[bool]
    folded_into: Mapped[int | None] = mapped_column(ForeignKey("strata.number"))
    __table_args__ = (UniqueConstraint("symptom", "edition", "period", "site", "is_guided", "facts", "is_double"),)


class CaseRow(Written, Base):
    """A closed case. `origin`: guided, import or demo. `rest`: what of a case has no column.

    linked: the edition here that it was climbed by; None where its claim cannot be checked. came_back: when its fault
    did, as the log knows it; told_back: as the case itself says. brought_by: the import that it came with. stratum,
    signature: the key under which it is counted. place: where it stands in the log, see `store.log.index`.
    """

    __tablename__ = "cases"
    number: Mapped[int] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(unique=True)
    symptom: Mapped[str]
    opened: Mapped[datetime]
    closed: Mapped[datetime]
    said: Mapped[str | None]
    unit: Mapped[str | None]
    site: Mapped[str]
    playbook_id: Mapped[str | None]
    edition: Mapped[int | None]
    linked: Mapped[int | None]
    baseline: Mapped[str | None]
    end: Mapped[str]
    resolved_by: Mapped[str | None]
    confirmed: Mapped[str | None]
    came_back: Mapped[datetime | None]
    told_back: Mapped[datetime | None]
    reopened_from: Mapped[str | None]
    notes: Mapped[str | None]
    rest: Mapped[dict[str, Any]]
    origin: Mapped[str]
    logged: Mapped[datetime]
    brought_by: Mapped[int | None] = mapped_column(ForeignKey("imports.number"), index=True)
    stratum: Mapped[int] = mapped_column(ForeignKey("strata.number"))
    signature: Mapped[int] = mapped_column(ForeignKey("signatures.number"))
    place: Mapped[int] = mapped_column(server_default="0")
    attempts: Mapped[list["AttemptRow"]] = relationship(order_by="AttemptRow.position", lazy="selectin", viewonly=True)
    facts: Mapped[list["CaseFactRow"]] = relationship(lazy="selectin", viewonly=True)
    __table_args__ = (
        Index(None, "symptom", "unit", "closed", "opened"),
        Index(None, "place", unique=True),
    )


class AttemptRow(Base):
    """One attempt of a case. `harmed`: hazard kinds; empty: asked, none; None: not asked. `ways`: words of those that
    worked. `tried_with`: the values of each try, by name."""

    __tablename__ = "attempts"
    case: Mapped[int] = mapped_column(ForeignKey("cases.number", ondelete="CASCADE"), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True)
    step: Mapped[str]
    outcome: Mapped[str | None]
    finding: Mapped[str | None]
    minutes: Mapped[float | None]
    by: Mapped[str]
    trial: Mapped[int | None]
    took: Mapped[str | None]
    harmed: Mapped[list[Any] | None]
    safeguard_used: Mapped[str | None]
    reading: Mapped[float | None]
    put_right: Mapped[str | None]
    ways: Mapped[list[Any] | None]
    tried_with: Mapped[list[Any] | None]
    at: Mapped[datetime | None]
    __table_args__ = ({"sqlite_with_rowid": False},)


class ClosingDayRow(Base):
    """How many cases closed on a day (UTC), so that a page deep in the log is found without counting cases."""

    __tablename__ = "closing_days"
    day: Mapped[str] = mapped_column(primary_key=True)
    count: Mapped[int]


class CaseFactRow(Base):
    """One known fact of a case."""

    __tablename__ = "case_facts"
    case: Mapped[int] = mapped_column(ForeignKey("cases.number", ondelete="CASCADE"), primary_key=True)
    fact: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[str]
    __table_args__ = (Index(None, "fact", "case"), {"sqlite_with_rowid": False})


class ImportRow(Written, Base):
    """A file of cases that was brought in, undone as one. state: running, undoing, done or undone.

    job: the work that it was; None from before this was kept.
    """

    __tablename__ = "imports"
    number: Mapped[int] = mapped_column(primary_key=True)
    source: Mapped[str]
    began: Mapped[datetime]
    state: Mapped[str] = mapped_column(index=True)
    job: Mapped[int | None] = mapped_column(ForeignKey("jobs.number", ondelete="SET NULL"))


class ReplacedCaseRow(Base):
    """A logged case as it was before another of the same id took its place. `document`: the case and how it was
    logged; `by`: the import that replaced it, None where it was no file."""

    __tablename__ = "replaced_cases"
    number: Mapped[int] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(index=True)
    document: Mapped[dict[str, Any]] = mapped_column(StoredDocument("replaced"))
    at: Mapped[datetime]
    by: Mapped[int | None] = mapped_column(ForeignKey("imports.number"), index=True)


class RefusedLineRow(Written, Base):
    """A line of a brought-in case file that could not be read. `source`: the file's name; `text`: how it begins.

    brought_by: the import that left it out.
    """

    __tablename__ = "refused_lines"
    brought_by: Mapped[int] = mapped_column(ForeignKey("imports.number"), primary_key=True)
    line: Mapped[int] = mapped_column(primary_key=True)
    source: Mapped[str] = mapped_column(index=True)
    path: Mapped[str]
    says: Mapped[str]
    text: Mapped[str]
    at: Mapped[datetime]


class TallyRow(Base):
    """How many cases of a stratum share a signature, kept in the transaction that logs a case.

    returned: those whose fault came back. seconds: from opening to closing, waiting left out.
    """

    __tablename__ = "tallies"
    stratum: Mapped[int] = mapped_column(ForeignKey("strata.number"), primary_key=True)
    signature: Mapped[int] = mapped_column(ForeignKey("signatures.number"), primary_key=True)
    count: Mapped[int]
    returned: Mapped[int]
    seconds: Mapped[int]
    __table_args__ = ({"sqlite_with_rowid": False},)


class StepTallyRow(Base):
    """What is counted of a step beside signatures, by stratum; a step of no name is the whole case.

    what: minutes (value: a bin, see `core.evidence.counts`), harm (value: asked, or a kind that was seen), safeguard
    (value: the step that was used), return (value: whole days to it).
    """

    __tablename__ = "step_tallies"
    stratum: Mapped[int] = mapped_column(ForeignKey("strata.number"), primary_key=True)
    step: Mapped[str] = mapped_column(primary_key=True)
    what: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[str] = mapped_column(primary_key=True)
    count: Mapped[int]
    __table_args__ = ({"sqlite_with_rowid": False},)


class TallyVersionRow(Base):
    """A number that grows with each change of a symptom's tallies, so that what was worked out of them can be kept."""

    __tablename__ = "tally_versions"
    symptom: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int]
