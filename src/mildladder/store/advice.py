"""Queries for what became of advice: nudges that nobody wants, promises of editions, trials of two side by side."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from mildladder.store.tables import DeclinedNudgeRow, PromiseRow, TrialCaseRow, TrialRow

__all__ = [
    "add_trial",
    "cases_of",
    "decline",
    "declined",
    "drop_cases",
    "keep_promise",
    "last_trial",
    "promises",
    "put_case",
    "rows_of",
    "same_unit",
]


def declined(session: Session) -> Mapping[str, Mapping[str, DeclinedNudgeRow]]:
    """Those that somebody does not want, by playbook and key; playbooks without any have none."""
    found: dict[str, dict[str, DeclinedNudgeRow]] = defaultdict(dict)
    for row in session.scalars(select(DeclinedNudgeRow)):
        found[row.playbook_id][row.key] = row
    return found


def decline(session: Session, row: DeclinedNudgeRow) -> None:
    """Somebody does not want it; what was said of it before is forgotten."""
    session.merge(row)
    session.flush()


def promises(session: Session, playbook_id: str) -> Sequence[PromiseRow]:
    """Those of a playbook, the newest edition's first."""
    query = select(PromiseRow).where(PromiseRow.playbook_id == playbook_id)
    return session.scalars(query.order_by(PromiseRow.edition.desc())).all()


def keep_promise(session: Session, row: PromiseRow) -> None:
    """Keep one; what an edition promised is never told otherwise afterwards."""
    if session.get(PromiseRow, (row.playbook_id, row.edition)) is None:
        session.add(row)
        session.flush()


def last_trial(session: Session, playbook_id: str) -> TrialRow | None:
    """The newest trial of a symptom, whether it runs or has ended."""
    query = select(TrialRow).where(TrialRow.playbook_id == playbook_id).order_by(TrialRow.number.desc()).limit(1)
    return session.scalars(query).first()


def add_trial(session: Session, row: TrialRow) -> None:
    """A trial begins."""
    session.add(row)
    session.flush()


def put_case(session: Session, row: TrialCaseRow) -> None:
    """A case that was given an edition; the same one twice changes nothing."""
    if session.get(TrialCaseRow, (row.trial, row.climb_id)) is None:
        session.add(row)
        session.flush()


def rows_of(session: Session, climb_id: str) -> Sequence[TrialCaseRow]:
    """Where a guided case belongs to trials."""
    return session.scalars(select(TrialCaseRow).where(TrialCaseRow.climb_id == climb_id)).all()


def cases_of(session: Session, trial: int) -> Sequence[TrialCaseRow]:
    """The cases of a trial, in the order in which they began."""
    query = select(TrialCaseRow).where(TrialCaseRow.trial == trial)
    return session.scalars(query.order_by(TrialCaseRow.began, TrialCaseRow.climb_id)).all()


def same_unit(session: Session, trial: int, unit: str, since: datetime) -> TrialCaseRow | None:
    """The last case of a trial on a unit that began since then."""
    query = select(TrialCaseRow).where(
        TrialCaseRow.trial == trial, TrialCaseRow.unit == unit, TrialCaseRow.began >= since
    )
    return session.scalars(query.order_by(TrialCaseRow.began.desc()).limit(1)).first()


def drop_cases(session: Session, climb_id: str) -> None:
    """A case that was given to what is known now belongs to no trial."""
    session.execute(delete(TrialCaseRow).where(TrialCaseRow.climb_id == climb_id))
