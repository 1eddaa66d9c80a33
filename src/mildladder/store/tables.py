"""The tables: documents where we author, rows where we count."""

import json
from datetime import datetime
from typing import Annotated, Any

from sqlalchemy import JSON, ForeignKey, ForeignKeyConstraint, Index, MetaData, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, declared_attr, mapped_column, relationship

from mildladder.store.moments import Moment

__all__ = [
    "AliasRow", "AttemptRow", "Base", "CaseFactRow", "CaseRow", "ClimbEventRow", "ClimbRow", "ClosingDayRow",
    "DraftClientRow", "EditionRow", "FactRow", "FormRow", "ImportRow", "JobRow", "LibraryStepRow", "NoticeCallRow",
    "NoticeRow", "PersonRow", "PictureRow", "PlaybookRow", "PromiseRow", "RefusedLineRow", "RemarkRow",
    "ReplacedCaseRow", "RevisionRow", "SettingRow", "SignatureRow", "StepTallyRow", "StratumRow", "TallyRow",
    "TallyVersionRow", "TrialCaseRow", "TrialRow", "Written",
]  # fmt: skip


class Base(DeclarativeBase):
    """Root of the tables; constraint names are fixed so that migrations can speak of them."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "fk": "fk_%(table_name)s_%(column_0_N_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {dict[str, Any]: JSON, list[Any]: JSON, datetime: Moment}


Whoever = Annotated[int | None, mapped_column(ForeignKey("people.id"))]


class PersonRow(Base):
    """Somebody at the desk. `role`: lead, agent, technician; outside: who never sits here, such as the shell.

    who: who took them on; None for the first, and from before this was kept.
    """

    __tablename__ = "people"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    role: Mapped[str]
    since: Mapped[datetime]
    who: Mapped[Whoever]


class Written:
    """What somebody wrote: who, by number, and the person."""

    who: Mapped[int] = mapped_column(ForeignKey("people.id"))

    @declared_attr
    @classmethod
    def person(cls) -> Mapped[PersonRow]:
        """Whoever wrote it, for their name."""
        return relationship(PersonRow)


class SettingRow(Base):
    """A desk-wide setting, such as the return window in days or the key that signs cookies. who: None: the program."""

    __tablename__ = "settings"
    name: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[str]
    who: Mapped[Whoever]
    at: Mapped[datetime | None]


class PlaybookRow(Base):
    """One symptom and its playbook; the documents hang on it. `draft`: number of the newest revision."""

    __tablename__ = "playbooks"
    id: Mapped[str] = mapped_column(primary_key=True)
    draft: Mapped[int]
    since: Mapped[datetime]


class RevisionRow(Written, Base):
    """One edit of a draft: what was done, and what takes it back. `number`: of the draft as it stands after it.

    client, sent: who sent it, and as which of theirs; group: edits that are undone as one; undoes: the group that this
    one takes back. The first has no inverse: it is the form that is kept beside it.
    """

    __tablename__ = "revisions"
    playbook_id: Mapped[str] = mapped_column(ForeignKey("playbooks.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    client: Mapped[str]
    sent: Mapped[int]
    group: Mapped[str]
    undoes: Mapped[str | None]
    label: Mapped[str]
    at: Mapped[datetime]
    done: Mapped[str] = mapped_column(deferred=True)
    inverse: Mapped[str] = mapped_column(deferred=True)

    @property
    def operations(self) -> list[dict[str, Any]]:
        """What was done, as data."""
        found: list[dict[str, Any]] = json.loads(self.done)
        return found

    __table_args__ = (
        UniqueConstraint("playbook_id", "client", "sent"),
        Index("ix_revisions_playbook_id_who", "playbook_id", "who"),
    )


class FormRow(Base):
    """A draft's working form as it stood at a revision, compressed: now and then one, so that any can be made again."""

    __tablename__ = "forms"
    playbook_id: Mapped[str] = mapped_column(ForeignKey("playbooks.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    form: Mapped[bytes]


class DraftClientRow(Base):
    """A page that changes a draft. `next`: the number of the edit that is taken from it next; who: whose it is."""

    __tablename__ = "draft_clients"
    playbook_id: Mapped[str] = mapped_column(ForeignKey("playbooks.id"), primary_key=True)
    client: Mapped[str] = mapped_column(primary_key=True)
    who: Mapped[int] = mapped_column(ForeignKey("people.id"))
    next: Mapped[int]


class EditionRow(Written, Base):
    """A frozen, published document with the forecast made when it was published. `revision`: the draft's, then."""

    __tablename__ = "editions"
    playbook_id: Mapped[str] = mapped_column(ForeignKey("playbooks.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    revision: Mapped[int]
    document: Mapped[dict[str, Any]] = mapped_column(deferred=True)
    forecast: Mapped[dict[str, Any]] = mapped_column(deferred=True)
    content_hash: Mapped[str]
    note: Mapped[str]
    at: Mapped[datetime]


class PromiseRow(Base):
    """What an edition promised a case against the one before, as the cases stood when it was published: `cases` that
    spoke, `a_month` of them. worth: as `core.advice.followup.Worth`."""

    __tablename__ = "promises"
    playbook_id: Mapped[str] = mapped_column(primary_key=True)
    edition: Mapped[int] = mapped_column(primary_key=True)
    published: Mapped[datetime]
    cases: Mapped[int]
    a_month: Mapped[float]
    worth: Mapped[dict[str, Any]]
    __table_args__ = (ForeignKeyConstraint(["playbook_id", "edition"], ["editions.playbook_id", "editions.number"]),)


class FactRow(Base):
    """A fact as the whole desk knows it: one type and wording, and the choices of all playbooks united.

    who, at: who changed it last, and when; None from before this was kept.
    """

    __tablename__ = "facts"
    id: Mapped[str] = mapped_column(primary_key=True)
    type: Mapped[str]
    ask: Mapped[str]
    choices: Mapped[list[Any]]
    who: Mapped[Whoever]
    at: Mapped[datetime | None]


class LibraryStepRow(Written, Base):
    """One version of the shared half of a step."""

    __tablename__ = "library_steps"
    step_id: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    shared: Mapped[dict[str, Any]]
    at: Mapped[datetime]


class AliasRow(Base):
    """A step that was merged into another: its attempts count as that one's; logged cases keep its id.

    who: None from before this was kept.
    """

    __tablename__ = "aliases"
    old: Mapped[str] = mapped_column(primary_key=True)
    new: Mapped[str]
    who: Mapped[Whoever]
    at: Mapped[datetime]


class PictureRow(Base):
    """A picture, kept once however many documents show it. `digest`: SHA-256 of its bytes."""

    __tablename__ = "pictures"
    digest: Mapped[str] = mapped_column(primary_key=True)
    media: Mapped[str]
    data: Mapped[bytes]


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
        Index(None, "symptom", "unit", "closed"),
        Index(None, "place", unique=True),
    )


class AttemptRow(Base):
    """One attempt of a case. `harmed`: hazard kinds; empty: asked, none; None: not asked. `ways`: words of those that
    worked."""

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
    ways: Mapped[list[Any] | None]
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


class JobRow(Base):
    """Long work: asked for, carried out by one process at a time, ended. state: waiting, running, cancelling, done,
    failed, cancelled.

    kind, subject, version, input: what is asked; digest: of all four, so that the same question joins. is_outside:
    carried out by a shell, by no worker of the served desk. phase: a word for what is being done; done, of: how much of
    it, of None until that is known. so_far: what is needed to go on where it stopped. result: JSON text; problem: why
    it failed, as `core.errors` keeps it. tries: how often it was begun. who: None for whoever did not say.
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
    who: Mapped[Whoever]
    asked: Mapped[datetime]
    began: Mapped[datetime | None]
    ended: Mapped[datetime | None]
    person: Mapped[PersonRow | None] = relationship(PersonRow)
    __table_args__ = (Index(None, "kind", "digest"), Index(None, "kind", "subject", "version"))


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
    document: Mapped[dict[str, Any]]
    at: Mapped[datetime]
    by: Mapped[int | None] = mapped_column(ForeignKey("imports.number"), index=True)


class ClimbRow(Written, Base):
    """One guided run of an edition. `case_id` is set when it is opened; `ended` when it is closed."""

    __tablename__ = "climbs"
    id: Mapped[str] = mapped_column(primary_key=True)
    case_id: Mapped[str] = mapped_column(unique=True)
    playbook_id: Mapped[str]
    edition: Mapped[int]
    opened: Mapped[datetime]
    ended: Mapped[datetime | None]


class ClimbEventRow(Written, Base):
    """One event of a climb, in order; `key` makes sending it twice harmless. `event`: when, and the move."""

    __tablename__ = "climb_events"
    climb_id: Mapped[str] = mapped_column(ForeignKey("climbs.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str]
    event: Mapped[dict[str, Any]]
    __table_args__ = (UniqueConstraint("climb_id", "key"),)


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


class NoticeRow(Written, Base):
    """What is known now of a symptom, or of the units whose fact has that value, or of the whole desk; `until` when it
    is thought to last, `ended` when somebody ended it."""

    __tablename__ = "notices"
    number: Mapped[int] = mapped_column(primary_key=True)
    playbook_id: Mapped[str | None]
    fact: Mapped[str | None]
    value: Mapped[str | None]
    says: Mapped[str]
    begun: Mapped[datetime]
    until: Mapped[datetime | None]
    ended: Mapped[datetime | None]


class NoticeCallRow(Written, Base):
    """A caller who called about what a notice says. `id`: the browser's, so that sending it twice is harmless."""

    __tablename__ = "notice_calls"
    id: Mapped[str] = mapped_column(primary_key=True)
    notice: Mapped[int] = mapped_column(ForeignKey("notices.number"), index=True)
    at: Mapped[datetime]
    caller: Mapped[str]
    call_back: Mapped[str]
    unit: Mapped[str]
    said: Mapped[str]
    called_back: Mapped[datetime | None]


class RemarkRow(Written, Base):
    """An agent's word that a text of an edition's step is wrong. `text`: as it was shown; `settled`: when the lead had
    seen to it; `key`: makes sending it twice harmless."""

    __tablename__ = "remarks"
    number: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(unique=True)
    playbook_id: Mapped[str] = mapped_column(index=True)
    edition: Mapped[int]
    step: Mapped[str]
    text: Mapped[str]
    says: Mapped[str]
    at: Mapped[datetime]
    settled: Mapped[datetime | None]


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
    ground: Mapped[dict[str, Any]]
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
