"""Count every logged case anew, from the cases alone, in one walk over them."""

from collections.abc import Iterator, Mapping
from contextlib import suppress
from datetime import timedelta
from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

from sqlalchemy import Connection
from sqlalchemy.orm import Session

from mildladder.core.tally.keys import Link
from mildladder.core.tally.returns import Visit, close_to_others, links_of
from mildladder.core.tally.signature import renamed, signature_text, tried_part
from mildladder.store.gc_pause import gc_paused
from mildladder.store.log.bare import bare_cases, cases_in_order
from mildladder.store.log.counting import counting_of
from mildladder.store.log.recount import Recount
from mildladder.store.log.returns import stored_visit
from mildladder.store.log.sql import rows_as
from mildladder.store.log.tallies import Changes

__all__ = ["rebuild"]

# Counts are gathered up to so many before they are written: most of them meet their like before that.
_MOST_HELD = 300_000
_ALONE = Link(None, is_double=False)


@gc_paused()
def rebuild(session: Session, return_window: int) -> None:
    """Every tally, and whose fault came back, from the logged cases alone."""
    connection, counting = session.connection(), counting_of(session)
    for table in ("tallies", "step_tallies"):
        connection.exec_driver_sql(f"DELETE FROM {table}")
    connection.exec_driver_sql("UPDATE strata SET folded_into = NULL")
    links = dict(_links(connection, timedelta(days=return_window), counting.aliases))
    recount = Recount(connection, counting, Changes())
    for rows in cases_in_order(connection):
        recount.count(rows, [links.get(row.number, _ALONE) for row in rows])
        if len(recount.changes.steps) > _MOST_HELD:
            recount.changes.apply(connection)
            recount.changes = Changes()
    recount.changes.apply(connection)


def _links(connection: Connection, window: timedelta, aliases: Mapping[str, str]) -> Iterator[tuple[int, Link]]:
    """How cases stand to others of their unit, by number; those that stand alone are left out."""
    for visits in _visits_by_unit(connection):
        _say_what_was_tried(connection, close_to_others(visits), aliases)
        for visit, link in links_of(visits, window):
            if link != _ALONE and visit.number is not None:
                yield visit.number, link


class _VisitRow(NamedTuple):
    symptom: str
    unit: str
    number: int
    id: str
    opened: str
    closed: str
    end: str
    told_back: str | None


def _visits_by_unit(connection: Connection) -> Iterator[list[Visit]]:
    """The cases of each symptom and unit, by opening."""
    rest = "FROM cases WHERE unit IS NOT NULL OR told_back IS NOT NULL ORDER BY symptom, unit, opened, id"
    rows = rows_as(connection, _VisitRow, rest, unit="coalesce(unit, '')")
    for (symptom, unit), group in groupby(rows, key=attrgetter("symptom", "unit")):
        visits = []
        for row in group:
            with suppress(ValueError):
                visits.append(stored_visit(symptom, unit, row))
        yield visits


def _say_what_was_tried(connection: Connection, visits: list[Visit], aliases: Mapping[str, str]) -> None:
    by_number = {visit.number: visit for visit in visits if visit.number is not None}
    for row in bare_cases(connection, list(by_number)):
        by_number[row.number].attempts = tried_part(renamed(signature_text(row.case), aliases))
