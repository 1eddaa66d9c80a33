"""How the logged cases of a symptom share in the values of its facts."""

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mildladder.store.tables import CaseFactRow, CaseRow

__all__ = ["fact_counts"]

# The newest cases are what the desk meets today, and a log of any size answers at once.
_MOST_CASES = 20_000


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
