"""Log many cases at once: what `log_case` does for one, with one query a batch instead of several a case."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import islice
from typing import Any

from sqlalchemy import insert, select
from sqlalchemy.orm import Session

from mildladder.core.model import Case
from mildladder.store import cases as one_by_one
from mildladder.store.tables import AttemptRow, CaseFactRow, CaseRow

__all__ = ["log_cases"]

_BATCH = 2_000


@dataclass
class _Visit:
    """A case as far as it matters whether its fault came back."""

    id: str
    opened: datetime
    closed: datetime
    is_cured: bool
    came_back: datetime | None
    is_new: bool


def log_cases(
    session: Session, cases: Iterable[Case], origin: str, who: str, now: datetime, return_window: int
) -> Counter[str]:
    """Log every case; how many were new, updated, unchanged."""
    counts: Counter[str] = Counter()
    rest = iter(cases)
    while batch := list(islice(rest, _BATCH)):
        fresh = _fresh(session, batch)
        new = [case for case in batch if case.case in fresh]
        _log_new(session, new, origin, who, now, return_window)
        counts["new"] += len(new)
        for case in batch:
            if case.case not in fresh:
                counts[one_by_one.log_case(session, case, origin, who, now, return_window)] += 1
    return counts


def _fresh(session: Session, batch: Sequence[Case]) -> set[str]:
    """The ids that stand once in the batch and not in the log yet."""
    times = Counter(case.case for case in batch)
    there = set(session.scalars(select(CaseRow.id).where(CaseRow.id.in_(times))))
    return {name for name, count in times.items() if count == 1 and name not in there}


def _log_new(session: Session, batch: Sequence[Case], origin: str, who: str, now: datetime, return_window: int) -> None:
    if not batch:
        return
    counting = one_by_one.counting_of(session, now.date(), return_window)
    came_back = _linked(session, batch, counting, timedelta(days=return_window))
    final = [case.model_copy(update={"came_back": came_back[case.case]}) for case in batch]
    rows = [one_by_one.plain_row(case, origin, who, now) for case in final]
    session.execute(insert(CaseRow), rows)
    attempts = [row for case in final for row in one_by_one.plain_attempts(case)]
    facts = [{"case_id": case.case, "fact": f, "value": v} for case in final for f, v in case.facts.items()]
    for table, many in ((AttemptRow, attempts), (CaseFactRow, facts)):
        if many:
            session.execute(insert(table), many)
    one_by_one.tally_many(session, final, counting)


def _linked(
    session: Session, batch: Sequence[Case], counting: one_by_one.Counting, window: timedelta
) -> dict[str, datetime | None]:
    """When each new case came back; earlier cases of the log that now have come back are marked."""
    known = _visits(session, batch)
    for case in batch:
        mine = _Visit(case.case, case.opened, case.closed, case.end in one_by_one.CURED, case.came_back, is_new=True)
        if not case.unit:
            known[case.case, ""] = [mine]
            continue
        others = known[case.symptom, case.unit]
        for before in others:
            if before.is_cured and before.came_back is None and before.closed <= mine.opened <= before.closed + window:
                before.came_back = mine.opened
                if not before.is_new:
                    one_by_one.mark_come_back(session, before.id, mine.opened, counting)
        if mine.is_cured and mine.came_back is None:
            again = [one.opened for one in others if mine.closed <= one.opened <= mine.closed + window]
            mine.came_back = min(again, default=None)
        others.append(mine)
    return {visit.id: visit.came_back for visits in known.values() for visit in visits if visit.is_new}


def _visits(session: Session, batch: Sequence[Case]) -> dict[tuple[str, str], list[_Visit]]:
    units = {case.unit for case in batch if case.unit}
    found: dict[tuple[str, str], list[_Visit]] = defaultdict(list)
    columns: Any = (CaseRow.id, CaseRow.symptom, CaseRow.unit, CaseRow.opened, CaseRow.closed, CaseRow.end,
                    CaseRow.came_back)  # fmt: skip
    for name, symptom, unit, opened, closed, end, back in session.execute(
        select(*columns).where(CaseRow.unit.in_(units))
    ):
        found[symptom, unit].append(_Visit(name, opened, closed, end in one_by_one.CURED, back, is_new=False))
    return found
