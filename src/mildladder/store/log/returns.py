"""How cases of one unit stand to each other: whose fault came back, and which were logged twice under two ids.

A cured case came back with the first case of its symptom on its unit that opened within the return window after it
closed, or when the case itself says so, whichever is earlier. A case is a double when one with the same attempts was
opened there within the hour before it. Both follow from the cases that the log holds now, not from the order in which
they came.
"""

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise
from operator import attrgetter
from typing import Any

from sqlalchemy import Connection

from mildladder.core.evidence.signature import tried_in
from mildladder.core.model import Case
from mildladder.core.model.outcomes import CURED
from mildladder.store.log.keys import Link
from mildladder.store.log.raw import plain
from mildladder.store.moments import as_stored, from_stored

__all__ = ["Visit", "link", "links_of", "near_others", "stored_visit", "visit_of"]

_TWICE = timedelta(hours=1)
_LEAST_REACH = timedelta(days=1)


@dataclass
class Visit:
    """A case as far as it matters to others of its unit. number: of its row; None: not in the log yet. attempts: what
    was tried, to compare; empty when nothing was. link: how the log says that it stands, None for a new one."""

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


def link(
    connection: Connection, removed: Collection[Visit], added: Collection[Visit], window: timedelta
) -> tuple[dict[str, Link], dict[int, Link]]:
    """How the added cases stand, by id, and the cases in the log that stand otherwise now, by number.

    removed: cases that have gone from the log already.
    """
    changed = [*removed, *added]
    groups: dict[tuple[str, str], list[Visit]] = defaultdict(list)
    moments: dict[tuple[str, str], list[datetime]] = defaultdict(list)
    near = _near(connection, changed, window, is_growing=not removed)
    for visit in (*near, *added):
        groups[visit.symptom, visit.unit].append(visit)
    for visit in changed:
        moments[visit.symptom, visit.unit].append(visit.opened)
    fresh: dict[str, Link] = {}
    moved: dict[int, Link] = {}
    for key, visits in groups.items():
        for visit, found in links_of(visits, window, sorted(moments[key])):
            if visit.number is None:
                fresh[visit.id] = found
            elif found != visit.link:
                moved[visit.number] = found
    return fresh, moved


def _near(connection: Connection, changed: Sequence[Visit], window: timedelta, is_growing: bool) -> Iterable[Visit]:
    """The logged cases of the same symptoms and units that may stand otherwise now, and those that they stand by.

    is_growing: cases only come. Those that came back before the first of these are left out then: most of a unit's
    history.
    """
    if not changed:
        return
    reach = max(window, _LEAST_REACH)
    execute = plain(connection).execute
    seen: set[int] = set()
    for (symptom, unit), opened, closed in _spans(changed, reach):
        within = (symptom, unit, as_stored(opened - reach), as_stored(closed + reach))
        growing = (as_stored(opened - 2 * _TWICE), as_stored(opened)) if is_growing else ()
        for *stored, came_back, is_double, text in execute(_NEAR_GROWING if is_growing else _NEAR, (*within, *growing)):
            if stored[0] in seen:
                continue
            seen.add(stored[0])
            try:
                visit = stored_visit(symptom, unit, stored)
                visit.link = Link(from_stored(came_back) if came_back else None, bool(is_double))
                visit.attempts = tried_in(text)
            except ValueError:
                continue
            yield visit


_NEAR = (
    'SELECT cases.number, id, opened, closed, "end", told_back, came_back, is_double, signatures.text'
    " FROM cases JOIN strata ON strata.number = cases.stratum JOIN signatures ON signatures.number = cases.signature"
    " WHERE cases.symptom = ? AND unit = ? AND closed >= ? AND opened <= ?"
)
_CURED = ", ".join(f"'{end}'" for end in sorted(CURED))
_NEAR_GROWING = f'{_NEAR} AND (opened >= ? OR ("end" IN ({_CURED}) AND (came_back IS NULL OR came_back > ?)))'


def _spans(changed: Sequence[Visit], reach: timedelta) -> Iterable[tuple[tuple[str, str], datetime, datetime]]:
    """From when to when cases of each symptom and unit have come or gone; those far apart each in a span of its own."""
    groups: dict[tuple[str, str], list[Visit]] = defaultdict(list)
    for visit in changed:
        if visit.unit:
            groups[visit.symptom, visit.unit].append(visit)
    for key, visits in groups.items():
        visits.sort(key=attrgetter("opened"))
        opened, closed = visits[0].opened, visits[0].closed
        for visit in visits[1:]:
            if visit.opened - closed > 2 * reach:
                yield key, opened, closed
                opened, closed = visit.opened, visit.closed
            closed = max(closed, visit.closed)
        yield key, opened, closed


def stored_visit(symptom: str, unit: str, row: Sequence[Any]) -> Visit:
    """A logged case: its number, id, opened, closed, end and told_back as stored. Raises ValueError when these cannot
    be read."""
    number, name, opened, closed, end, told = row
    is_cured, told_back = end in CURED, from_stored(told) if told else None
    return Visit(name, symptom, unit, from_stored(opened), from_stored(closed), is_cured, told_back, "", number)


def near_others(visits: Sequence[Visit]) -> list[Visit]:
    """Those of one unit, by opening, that have another within an hour: no other can be a double."""
    near = [later.opened - one.opened <= _TWICE for one, later in pairwise(visits)]
    return [
        visit for visit, before, after in zip(visits, [False, *near], [*near, False], strict=True) if before or after
    ]


def links_of(
    visits: list[Visit], window: timedelta, changed: Sequence[datetime] | None = None
) -> Iterable[tuple[Visit, Link]]:
    """How each case of one symptom and unit stands to the others; those without a unit stand alone.

    changed: openings of cases that came or went, in order: of how a logged case stands only what these may touch is
    worked out, for not all that it stands by may be among the visits; None: all of it.
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
        is_double = before is not None and visit.opened - before.opened <= _TWICE
        if changed is None or visit.link is None:
            yield visit, Link(_came_back(visit, visits, openings, window), is_double)
        else:
            may_return, stood = _may_return(visit, changed, window), visit.link
            came_back = _came_back(visit, visits, openings, window) if may_return else stood.came_back
            yield visit, Link(came_back, is_double if _is_near(visit, changed) else stood.is_double)


def _may_return(visit: Visit, changed: Sequence[datetime], window: timedelta) -> bool:
    after = bisect_left(changed, visit.closed)
    return visit.is_cured and after < len(changed) and changed[after] <= visit.closed + window


def _is_near(visit: Visit, changed: Sequence[datetime]) -> bool:
    near = bisect_left(changed, visit.opened - _TWICE)
    return near < len(changed) and changed[near] <= visit.opened + _TWICE


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
