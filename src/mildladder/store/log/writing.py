"""Put cases into the log: the one way in, for guided cases and for files."""

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import insert, select
from sqlalchemy.orm import Session

from mildladder.core.model import Case
from mildladder.store.log.returns import link_returns
from mildladder.store.log.rows import attempt_rows, case_of, case_row, fact_rows
from mildladder.store.log.tallies import Counting, counting_of, tally
from mildladder.store.tables import AttemptRow, CaseFactRow, CaseRow

__all__ = ["Logging", "log_cases"]

_BATCH = 2_000


@dataclass(frozen=True)
class Logging:
    """Where cases come from (guided, import or demo), who logs them, when, and the desk's return window in days."""

    origin: str
    who: int
    now: datetime
    return_window: int


def log_cases(session: Session, cases: Iterable[Case], logging: Logging) -> Counter[str]:
    """Log every case, replacing those of the same id; how many were new, updated, unchanged.

    An earlier case of the same symptom on the same unit is marked as come back when one opened within its return
    window.
    """
    counting = counting_of(session, logging.now.date(), logging.return_window)
    counts: Counter[str] = Counter()
    batch: dict[str, Case] = {}
    for case in cases:
        if case.case in batch or len(batch) == _BATCH:
            counts += _log(session, batch, logging, counting)
            batch = {}
        batch[case.case] = case
    return counts + _log(session, batch, logging, counting)


def _log(session: Session, batch: Mapping[str, Case], logging: Logging, counting: Counting) -> Counter[str]:
    """Log cases of as many ids."""
    rows = {row.id: row for row in session.scalars(select(CaseRow).where(CaseRow.id.in_(batch)))}
    there = {name: case_of(row) for name, row in rows.items()}
    unchanged = {name for name, case in there.items() if _is_same(case, batch[name])}
    updated = there.keys() - unchanged
    tally(session, [there[name] for name in updated], counting, -1)
    for name in updated:
        session.delete(rows[name])
    session.flush()
    _put(session, [case for name, case in batch.items() if name not in unchanged], logging, counting)
    return Counter(new=len(batch) - len(there), updated=len(updated), unchanged=len(unchanged))


def _put(session: Session, cases: list[Case], logging: Logging, counting: Counting) -> None:
    came_back = link_returns(session, cases, counting)
    final = [case.model_copy(update={"came_back": came_back[case.case]}) for case in cases]
    many = (
        (CaseRow, [case_row(case, logging.origin, logging.who, logging.now) for case in final]),
        (AttemptRow, [row for case in final for row in attempt_rows(case)]),
        (CaseFactRow, [row for case in final for row in fact_rows(case)]),
    )
    for table, rows in many:
        if rows:
            session.execute(insert(table), rows)
    tally(session, final, counting, 1)


def _is_same(there: Case, logged: Case) -> bool:
    return there == logged or there.model_copy(update={"came_back": logged.came_back}) == logged
