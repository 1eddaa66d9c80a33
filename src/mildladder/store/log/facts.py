"""What the log knows of facts: how the cases of a symptom share in their values, and what a unit's last cases knew."""

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mildladder.core.model.events import KnownBefore
from mildladder.store.tables import CaseFactRow, CaseRow, PlaybookRow

__all__ = ["fact_counts", "facts_of_unit"]

# The newest cases are what the desk meets today, and a log of any size answers at once.
_MOST_CASES = 20_000
_LAST_OF_UNIT = 20


def fact_counts(session: Session, symptom: str) -> tuple[int, dict[str, dict[str, int]]]:
    """How many cases were looked at, the newest first, and for each fact the cases with each value, commonest first."""
    newest = (
        select(CaseRow.number).where(CaseRow.symptom == symptom).order_by(CaseRow.closed.desc()).limit(_MOST_CASES)
    ).subquery()
    cases = session.scalar(select(func.count()).select_from(newest)) or 0
    rows = session.execute(
        select(CaseFactRow.fact, CaseFactRow.value, func.count())
        .join(newest, newest.c.number == CaseFactRow.case)
        .group_by(CaseFactRow.fact, CaseFactRow.value)
        .order_by(CaseFactRow.fact, func.count().desc(), CaseFactRow.value)
    )
    found: dict[str, dict[str, int]] = {}
    for fact, value, count in rows:
        found.setdefault(fact, {})[value] = count
    return cases, found


def facts_of_unit(session: Session, unit: str) -> dict[str, KnownBefore]:
    """What the last cases of a unit, of any symptom, knew of it: the newest value of each fact."""
    if not unit:
        return {}
    # Symptom by symptom, as the index of the log stands.
    of_unit = CaseRow.symptom.in_(select(PlaybookRow.id)), CaseRow.unit == unit
    last = select(CaseRow.number, CaseRow.closed).where(*of_unit).order_by(CaseRow.closed.desc()).limit(_LAST_OF_UNIT)
    newest = last.subquery()
    rows = session.execute(
        select(CaseFactRow.fact, CaseFactRow.value, newest.c.closed)
        .join(newest, newest.c.number == CaseFactRow.case)
        .order_by(newest.c.closed)
    )
    return {fact: KnownBefore(value=value, closed=closed) for fact, value, closed in rows if value}
