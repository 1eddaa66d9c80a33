"""How cases of one unit stand to each other, read from the log: whose fault came back, and which were logged twice."""

from collections import defaultdict
from collections.abc import Collection, Iterable, Sequence
from datetime import datetime, timedelta
from operator import attrgetter
from typing import NamedTuple, Protocol

from sqlalchemy import Connection

from mildladder.core.model.outcomes import CURED
from mildladder.core.tally.keys import Link
from mildladder.core.tally.returns import TWICE, Visit, links_of
from mildladder.core.tally.signature import tried_part
from mildladder.store.log.sql import rows_as
from mildladder.store.moments import as_stored, from_stored

__all__ = ["link", "stored_visit"]

_LEAST_REACH = timedelta(days=1)


class StoredVisit(Protocol):
    """The columns of a case that matter to others of its unit, as stored."""

    @property
    def number(self) -> int: ...
    @property
    def id(self) -> str: ...
    @property
    def opened(self) -> str: ...
    @property
    def closed(self) -> str: ...
    @property
    def end(self) -> str: ...
    @property
    def told_back(self) -> str | None: ...


class _NearRow(NamedTuple):
    number: int
    id: str
    opened: str
    closed: str
    end: str
    told_back: str | None
    came_back: str | None
    is_double: int
    text: str


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
        for visit, found in links_of(visits, window, sorted(moments[key]), is_growing=not removed):
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
    seen: set[int] = set()
    for (symptom, unit), opened, closed in _spans(changed, reach):
        within = (symptom, unit, as_stored(opened - reach), as_stored(closed + reach))
        growing = (as_stored(opened - 2 * TWICE), as_stored(opened)) if is_growing else ()
        near = _NEAR_GROWING if is_growing else _NEAR
        for row in rows_as(
            connection, _NearRow, near, (*within, *growing), number="cases.number", text="signatures.text"
        ):
            if row.number in seen:
                continue
            seen.add(row.number)
            try:
                visit = stored_visit(symptom, unit, row)
                visit.link = Link(from_stored(row.came_back) if row.came_back else None, bool(row.is_double))
                visit.attempts = tried_part(row.text)
            except ValueError:
                continue
            yield visit


_NEAR = (
    "FROM cases JOIN strata ON strata.number = cases.stratum JOIN signatures ON signatures.number = cases.signature"
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


def stored_visit(symptom: str, unit: str, row: StoredVisit) -> Visit:
    """A logged case. Raises ValueError if its row cannot be read."""
    told_back = from_stored(row.told_back) if row.told_back else None
    opened, closed = from_stored(row.opened), from_stored(row.closed)
    return Visit(row.id, symptom, unit, opened, closed, row.end in CURED, told_back, "", row.number)
