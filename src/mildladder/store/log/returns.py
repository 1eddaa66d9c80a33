"""Whose fault came back: a cured case, and the next one of its symptom on its unit within the return window."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from mildladder.core.model import Case
from mildladder.core.model.outcomes import CURED
from mildladder.store.log.rows import case_of
from mildladder.store.log.tallies import Counting, tally
from mildladder.store.tables import CaseRow

__all__ = ["link_returns"]


@dataclass
class _Visit:
    """A case as far as it matters whether its fault came back."""

    id: str
    opened: datetime
    closed: datetime
    is_cured: bool
    came_back: datetime | None
    is_new: bool


def link_returns(session: Session, cases: Sequence[Case], counting: Counting) -> dict[str, datetime | None]:
    """When each of these new cases came back; earlier cases of the log that now have come back are marked."""
    window = timedelta(days=counting.return_window)
    known = _visits(session, {case.unit for case in cases if case.unit})
    for case in cases:
        mine = _Visit(case.case, case.opened, case.closed, case.end in CURED, case.came_back, is_new=True)
        if not case.unit:
            known[case.case, ""] = [mine]
            continue
        others = known[case.symptom, case.unit]
        for before in others:
            if before.is_cured and before.came_back is None and before.closed <= mine.opened <= before.closed + window:
                before.came_back = mine.opened
                if not before.is_new:
                    _mark(session, before.id, mine.opened, counting)
        if mine.is_cured and mine.came_back is None:
            again = [one.opened for one in others if mine.closed <= one.opened <= mine.closed + window]
            mine.came_back = min(again, default=None)
        others.append(mine)
    return {visit.id: visit.came_back for visits in known.values() for visit in visits if visit.is_new}


def _mark(session: Session, case_id: str, at: datetime, counting: Counting) -> None:
    row = session.get_one(CaseRow, case_id)
    tally(session, [case_of(row)], counting, -1)
    row.came_back = at
    session.flush()
    tally(session, [case_of(row)], counting, 1)


def _visits(session: Session, units: set[str]) -> dict[tuple[str, str], list[_Visit]]:
    found: dict[tuple[str, str], list[_Visit]] = defaultdict(list)
    columns = (
        CaseRow.id,
        CaseRow.symptom,
        CaseRow.unit,
        CaseRow.opened,
        CaseRow.closed,
        CaseRow.end,
        CaseRow.came_back,
    )
    for name, symptom, unit, opened, closed, end, back in session.execute(
        select(*columns).where(CaseRow.unit.in_(units))
    ).tuples():
        found[symptom, unit or ""].append(_Visit(name, opened, closed, end in CURED, back, is_new=False))
    return found
