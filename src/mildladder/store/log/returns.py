"""How cases of one unit stand to each other, read from the log: whose fault came back, and which were logged twice."""

from collections import defaultdict
from collections.abc import Collection, Iterable, Sequence
from datetime import datetime, timedelta
from operator import attrgetter
from typing import Any

from sqlalchemy import Connection

from mildladder.core.model.outcomes import CURED
from mildladder.core.tally.keys import Link
from mildladder.core.tally.returns import TWICE, Visit, links_of
from mildladder.core.tally.signature import tried_in
from mildladder.store.log.raw import plain
from mildladder.store.moments import as_stored, from_stored

__all__ = ["link", "stored_visit"]

_LEAST_REACH = timedelta(days=1)


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
        growing = (as_stored(opened - 2 * TWICE), as_stored(opened)) if is_growing else ()
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
