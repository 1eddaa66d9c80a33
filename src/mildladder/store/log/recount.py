"""Count logged cases anew: those that a new fact or a merge touches, or all of them."""

import json
from collections.abc import Iterator, Mapping, Sequence
from datetime import timedelta
from itertools import groupby

from sqlalchemy import Connection, select
from sqlalchemy.orm import Session

from mildladder.core.evidence.signature import signature_text, tried_in
from mildladder.core.model.outcomes import CURED
from mildladder.store.log.kept import kept_keys
from mildladder.store.log.keys import Counting, Link, counted, counting_of
from mildladder.store.log.raw import plain
from mildladder.store.log.returns import Visit, links_of
from mildladder.store.log.rows import LoggedCase, load_cases
from mildladder.store.log.tallies import Changes, signature_numbers, stratum_numbers
from mildladder.store.moments import as_stored, from_stored
from mildladder.store.tables import CaseFactRow, CaseRow

__all__ = ["rebuild", "recount_fact", "recount_step"]

_BATCH = 2_000
# Counts are gathered up to so many before they are written: most of them meet their like before that.
_MOST_HELD = 300_000
_NOTHING = Link(None, is_double=False)


def recount_fact(session: Session, fact: str) -> None:
    """The desk has come to know a fact that keys hold: the cases that have it move under keys of their own."""
    _recount(session, session.scalars(select(CaseFactRow.case).where(CaseFactRow.fact == fact)).all())


def recount_step(session: Session, step: str) -> list[str]:
    """A step counts as another one now, and so does whatever counted as it; the symptoms whose cases name it.

    Signatures name steps as they are counted, so those that name it are found whatever the cases call it.
    """
    found = (
        session.connection()
        .exec_driver_sql(
            "SELECT number, symptom FROM cases WHERE signature IN (SELECT number FROM signatures WHERE instr(text, ?))",
            (json.dumps(step, ensure_ascii=False),),
        )
        .all()
    )
    _recount(session, [row[0] for row in found])
    return sorted({row[1] for row in found})


def _recount(session: Session, numbers: Sequence[int]) -> None:
    """Move cases under the keys that they would have were they logged now."""
    counting, connection = counting_of(session), session.connection()
    for rows in _rows_of(session, numbers):
        changes = Changes()
        kept = kept_keys(connection, rows)
        for before in kept:
            changes.add(before.stratum, before.signature, before.counted, -1)
        links = {one.number: Link(row.came_back, one.counted.stratum.is_double)
                 for row, one in zip(rows, kept, strict=True)}  # fmt: skip
        _count(connection, rows, links, counting, changes)
        changes.apply(connection)


def _rows_of(session: Session, numbers: Sequence[int]) -> Iterator[list[LoggedCase]]:
    for start in range(0, len(numbers), _BATCH):
        yield load_cases(session.connection(), "number", numbers[start : start + _BATCH], is_bare=True)


def _count(
    connection: Connection,
    rows: Sequence[LoggedCase],
    links: dict[int, Link],
    counting: Counting,
    changes: Changes,
    texts: Mapping[int, str] | None = None,
) -> None:
    """Count cases under keys worked out now, and let their rows keep these. texts: the signatures that rows hold, where
    these are of today."""
    known = texts or {}
    made = [
        counted(row.case, row.origin, row.linked, links.get(row.number, _NOTHING), counting, known.get(row.signature))
        for row in rows
    ]
    strata = stratum_numbers(connection, [one.stratum for one in made])
    signatures = signature_numbers(connection, [one.signature for one in made])
    moved = []
    for row, one in zip(rows, made, strict=True):
        key = (strata[one.stratum], signatures[one.signature])
        changes.add(*key, one, 1)
        back = links.get(row.number, _NOTHING).came_back
        moved.append((*key, as_stored(back) if back else None, row.number))
    plain(connection).executemany("UPDATE cases SET stratum = ?, signature = ?, came_back = ? WHERE number = ?", moved)


def rebuild(session: Session, return_window: int) -> None:
    """Every tally, and whose fault came back, from the logged cases alone. Keys that no case has any more go."""
    connection, counting = session.connection(), counting_of(session)
    connection.exec_driver_sql("DELETE FROM tallies")
    connection.exec_driver_sql("DELETE FROM step_tallies")
    numbers = session.scalars(select(CaseRow.number).order_by(CaseRow.number)).all()
    for rows in _rows_of(session, numbers):
        _sign(connection, rows, counting)
    links = _all_links(connection, timedelta(days=return_window))
    texts = {row[0]: row[1] for row in plain(connection).execute("SELECT number, text FROM signatures")}
    changes = Changes()
    for rows in _rows_of(session, numbers):
        _count(connection, rows, links, counting, changes, texts)
        if len(changes.steps) > _MOST_HELD:
            changes.apply(connection)
            changes = Changes()
    changes.apply(connection)
    connection.exec_driver_sql("UPDATE strata SET folded_into = NULL")
    connection.exec_driver_sql("DELETE FROM strata WHERE number NOT IN (SELECT stratum FROM cases)")
    connection.exec_driver_sql("DELETE FROM signatures WHERE number NOT IN (SELECT signature FROM cases)")


def _sign(connection: Connection, rows: Sequence[LoggedCase], counting: Counting) -> None:
    """Let rows keep the signatures that their cases have now."""
    texts = {row.number: signature_text(row.case, counting.aliases) for row in rows}
    numbers = signature_numbers(connection, texts.values())
    signed = [(numbers[text], number) for number, text in texts.items()]
    connection.exec_driver_sql("UPDATE cases SET signature = ? WHERE number = ?", signed)


def _all_links(connection: Connection, window: timedelta) -> dict[int, Link]:
    """How every case stands to others of its unit, those that stand alone left out."""
    found = {}
    rows = plain(connection).execute(
        "SELECT symptom, coalesce(unit, ''), cases.number, id, opened, closed, \"end\", told_back, text"
        " FROM cases JOIN signatures ON signatures.number = cases.signature"
        " WHERE unit IS NOT NULL OR told_back IS NOT NULL ORDER BY symptom, unit, opened, id"
    )
    for (symptom, unit), group in groupby(rows, key=lambda row: (row[0], row[1])):
        visits = [
            Visit(name, symptom, unit, from_stored(opened), from_stored(closed), end in CURED,
                  from_stored(told) if told else None, tried_in(text), number)
            for _, _, number, name, opened, closed, end, told, text in group
        ]  # fmt: skip
        for visit, link in links_of(visits, window):
            if link != _NOTHING and visit.number is not None:
                found[visit.number] = link
    return found
