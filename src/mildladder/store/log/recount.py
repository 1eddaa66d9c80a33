"""Count logged cases under other keys: those that a new fact or a merge touches."""

import json
from collections.abc import Sequence

from sqlalchemy import Connection, select
from sqlalchemy.orm import Session

from mildladder.core.evidence.counts import CaseCount, case_count
from mildladder.store.log.bare import BareCase, bare_cases
from mildladder.store.log.kept import kept_keys
from mildladder.store.log.keys import Counting, Link, counted, counting_of
from mildladder.store.log.raw import plain
from mildladder.store.log.tallies import Changes, Numbers
from mildladder.store.moments import as_stored
from mildladder.store.tables import CaseFactRow

__all__ = ["Recount", "cases_naming", "recount_fact", "recount_step"]

_BATCH = 2_000


def recount_fact(session: Session, fact: str) -> None:
    """The desk has come to know a fact that keys hold: the cases that have it move under keys of their own."""
    _recount(session, session.scalars(select(CaseFactRow.case).where(CaseFactRow.fact == fact)).all())


def recount_step(session: Session, step: str) -> list[str]:
    """A step counts as another one now, and so does whatever counted as it; the symptoms whose cases name it.

    Signatures name steps as they are counted, so those that name it are found whatever the cases call it.
    """
    query = f"SELECT number, symptom FROM cases WHERE {_NAMING}"
    found = session.connection().exec_driver_sql(query, (_named(step),)).all()
    _recount(session, [row[0] for row in found])
    return sorted({row[1] for row in found})


def cases_naming(session: Session, step: str) -> dict[str, int]:
    """How many cases of each symptom name a step, as it is counted now."""
    query = f"SELECT symptom, count(*) FROM cases WHERE {_NAMING} GROUP BY symptom"
    return {row[0]: row[1] for row in session.connection().exec_driver_sql(query, (_named(step),))}


_NAMING = "signature IN (SELECT number FROM signatures WHERE instr(text, ?))"


def _named(step: str) -> str:
    return json.dumps(step, ensure_ascii=False)


def _recount(session: Session, numbers: Sequence[int]) -> None:
    """Move cases under the keys that they would have were they logged now."""
    counting, connection = counting_of(session), session.connection()
    for start in range(0, len(numbers), _BATCH):
        rows = bare_cases(connection, numbers[start : start + _BATCH])
        changes = Changes()
        kept = kept_keys(connection, rows)
        for before in kept:
            changes.add(before.stratum, before.signature, before.counted, -1)
        links = [Link(row.came_back, one.counted.stratum.is_double) for row, one in zip(rows, kept, strict=True)]
        Recount(connection, counting, changes).count(rows, links)
        changes.apply(connection)


class Recount:
    """Counts cases under keys worked out now, and lets their rows keep these; what is counted gathers in `changes`."""

    def __init__(self, connection: Connection, counting: Counting, changes: Changes) -> None:
        self._connection, self._counting, self.changes = connection, counting, changes
        self._numbers = Numbers()

    def count(self, rows: Sequence[BareCase], links: Sequence[Link]) -> None:
        """Count cases that stand to others as these links say."""
        made = [
            counted(row.case, self._count(row), row.origin, row.linked, link, self._counting)
            for row, link in zip(rows, links, strict=True)
        ]
        self._numbers.learn(self._connection, made)
        moved = []
        for row, link, one in zip(rows, links, made, strict=True):
            key = (self._numbers.strata[one.stratum], self._numbers.signatures[one.signature])
            self.changes.add(*key, one, 1)
            if key != (row.stratum, row.signature) or link.came_back != row.came_back:
                moved.append((*key, as_stored(link.came_back) if link.came_back else None, row.number))
        statement = "UPDATE cases SET stratum = ?, signature = ?, came_back = ? WHERE number = ?"
        plain(self._connection).executemany(statement, moved)

    def _count(self, row: BareCase) -> CaseCount:
        return case_count(row.case).renamed(self._counting.aliases)
