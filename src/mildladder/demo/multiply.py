"""Make a demo desk large: what was simulated happens again at other piers, on units of their own.

Simulating a case takes a climb; for more than `SIMULATED` cases the simulated ones are taken again, a little later in
the day, under other ids and on other units, so that rates, returns and everything planted stay as they are.
"""

from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from itertools import groupby

from sqlalchemy import select

from mildladder.core.model import Case
from mildladder.desk.settings import return_window
from mildladder.store.database import Database
from mildladder.store.log.rows import LoggedCase, load_cases
from mildladder.store.log.writing import Logging, log_cases
from mildladder.store.tables import CaseRow

__all__ = ["SIMULATED", "multiply"]

SIMULATED = 20_000
_BATCH = 500


def multiply(database: Database, wanted: int, now: datetime, progress: Callable[[int], None] = lambda _: None) -> int:
    """Log copies until the desk has so many cases; how many it has then."""
    with database.reading() as session:
        numbers = session.scalars(select(CaseRow.number).order_by(CaseRow.number)).all()
        originals = load_cases(session.connection(), "number", numbers)
        window = return_window(session)
    made = len(originals)
    for pier, batch in _batches(originals):
        if made >= wanted or not originals:
            break
        batch = batch[: wanted - made]
        with database.writing() as session:
            for (origin, who), some in groupby(batch, key=lambda one: (one.origin, one.who)):
                log_cases(session, (_elsewhere(one.case, pier) for one in some), Logging(origin, who, now, window))
        made += len(batch)
        progress(made)
    return made


def _batches(originals: list[LoggedCase]) -> Iterator[tuple[int, list[LoggedCase]]]:
    pier = 1
    while True:
        for start in range(0, len(originals), _BATCH):
            yield pier, originals[start : start + _BATCH]
        pier += 1


def _elsewhere(case: Case, pier: int) -> Case:
    later = timedelta(minutes=pier)
    return case.model_copy(
        update={
            "case": f"{case.case}-{pier}",
            "unit": f"{case.unit}-{pier}" if case.unit else None,
            "opened": case.opened + later,
            "closed": case.closed + later,
            "came_back": case.came_back + later if case.came_back else None,
        }
    )
