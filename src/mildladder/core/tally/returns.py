"""How cases of one unit stand to each other: whose fault came back, and which were logged twice under two ids.

A cured case came back with the first case of its symptom on its unit that opened within the return window after it
closed, or when the case itself says so, whichever is earlier. A case is a double when one with the same attempts was
opened there within the hour before it. Both follow from the cases that the log holds now, not from the order in which
they came.
"""

from bisect import bisect_left
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise

from mildladder.core.model import Case
from mildladder.core.model.outcomes import CURED
from mildladder.core.tally.keys import Link

__all__ = ["TWICE", "Visit", "close_to_others", "links_of", "visit_of"]

# Within so long the same attempts are those of one call.
TWICE = timedelta(hours=1)


@dataclass
class Visit:
    """A case as far as it matters to others of its unit. number: of its row; None: not in the log yet. attempts: what
    was tried, to compare; empty when nothing was. link: how it stood when it was counted last, None
    for a new one."""

    id: str
    symptom: str
    unit: str
    opened: datetime
    closed: datetime
    is_cured: bool
    told_back: datetime | None
    attempts: str
    number: int | None = None
    link: Link | None = None


def visit_of(case: Case, attempts: str) -> Visit:
    """A case that is to be logged."""
    return Visit(
        case.case, case.symptom, case.unit or "", case.opened, case.closed, case.end in CURED, case.came_back, attempts
    )


def close_to_others(visits: Sequence[Visit]) -> list[Visit]:
    """Those of one unit, by opening, that have another within an hour: no other can be a double."""
    near = [later.opened - one.opened <= TWICE for one, later in pairwise(visits)]
    return [
        visit for visit, before, after in zip(visits, [False, *near], [*near, False], strict=True) if before or after
    ]


def links_of(
    visits: list[Visit], window: timedelta, changed: Sequence[datetime] | None = None, is_growing: bool = False
) -> Iterable[tuple[Visit, Link]]:
    """How each case of one symptom and unit stands to the others; those without a unit stand alone.

    changed: openings of cases that came or went, in order: of how a logged case stands only what these may touch is
    worked out, for not all that it stands by may be among the visits; None: all of it. is_growing: cases only came, so
    that none comes back later than it did before, whoever is among the visits.
    """
    if len(visits) == 1 and (changed is None or visits[0].number is None):
        yield visits[0], Link(visits[0].told_back, is_double=False)
        return
    visits.sort(key=lambda visit: (visit.opened, visit.id))
    openings = [visit.opened for visit in visits]
    last: dict[str, Visit] = {}
    for visit in visits:
        if not visit.unit:
            yield visit, Link(visit.told_back, is_double=False)
            continue
        before = last.get(visit.attempts) if visit.attempts else None
        last[visit.attempts] = visit
        is_double = before is not None and visit.opened - before.opened <= TWICE
        if changed is None or visit.link is None:
            yield visit, Link(_came_back(visit, visits, openings, window), is_double)
        else:
            may_return, stood = _may_return(visit, changed, window), visit.link
            came_back = _came_back(visit, visits, openings, window) if may_return else stood.came_back
            if is_growing and stood.came_back is not None:
                came_back = min(came_back or stood.came_back, stood.came_back)
            yield visit, Link(came_back, is_double if _is_near(visit, changed) else stood.is_double)


def _may_return(visit: Visit, changed: Sequence[datetime], window: timedelta) -> bool:
    after = bisect_left(changed, visit.closed)
    return visit.is_cured and after < len(changed) and changed[after] <= visit.closed + window


def _is_near(visit: Visit, changed: Sequence[datetime]) -> bool:
    near = bisect_left(changed, visit.opened - TWICE)
    return near < len(changed) and changed[near] <= visit.opened + TWICE


def _came_back(
    visit: Visit, visits: Sequence[Visit], openings: Sequence[datetime], window: timedelta
) -> datetime | None:
    found = visit.told_back
    if visit.is_cured:
        place = bisect_left(openings, visit.closed)
        while place < len(visits) and visits[place] is visit:
            place += 1
        if place < len(visits) and openings[place] <= visit.closed + window:
            found = openings[place] if found is None else min(found, openings[place])
    return found
