"""Count logged cases under other keys: those that a new fact or a merge touches."""

import json
from collections.abc import Mapping, Sequence
from datetime import timedelta

from sqlalchemy import Connection
from sqlalchemy.orm import Session

from mildladder.core.tally.counts import CaseCount, case_count
from mildladder.core.tally.keys import Counting, Link, counted
from mildladder.core.tally.returns import visit_of
from mildladder.store.log.bare import BareCase, bare_cases
from mildladder.store.log.counting import counting_of
from mildladder.store.log.returns import link
from mildladder.store.log.sql import driver
from mildladder.store.log.stored_keys import stored_keys
from mildladder.store.log.tallies import Changes, Numbers, stratum_numbers
from mildladder.store.moments import as_stored

__all__ = ["Recount", "cases_naming", "cases_to_recount", "cases_with", "recount", "relink"]


def cases_naming(session: Session, step: str) -> dict[str, int]:
    """How many cases of each symptom name a step, as it is counted now: signatures name steps so, whatever the cases
    call them."""
    query = f"SELECT symptom, count(*) FROM cases WHERE {_NAMING} GROUP BY symptom"
    return {row[0]: row[1] for row in session.connection().exec_driver_sql(query, (_named(step),))}


def cases_with(session: Session, fact: str) -> dict[str, int]:
    """How many cases of each symptom have a fact."""
    query = f"SELECT symptom, count(*) FROM cases WHERE {_HAVING} GROUP BY symptom"
    return {row[0]: row[1] for row in session.connection().exec_driver_sql(query, (fact,))}


def cases_to_recount(session: Session, step: str | None, fact: str | None, after: int = 0) -> list[int]:
    """The numbers, in order and above `after`, of the cases that name a step or have a fact."""
    where, value = (_NAMING, _named(step)) if step is not None else (_HAVING, fact)
    query = f"SELECT number FROM cases WHERE number > ? AND {where} ORDER BY number"
    return [row[0] for row in session.connection().exec_driver_sql(query, (after, value))]


_NAMING = "signature IN (SELECT number FROM signatures WHERE instr(text, ?))"
_HAVING = 'number IN (SELECT "case" FROM case_facts WHERE fact = ?)'


def _named(step: str) -> str:
    return json.dumps(step, ensure_ascii=False)


def recount(session: Session, numbers: Sequence[int], window: timedelta) -> None:
    """Move cases under the keys that they would have were they logged now, and see anew which cases of their units were
    logged twice. Those that are there no more are passed over. window: within which a fault counts as come back."""
    counting, connection = counting_of(session), session.connection()
    rows = bare_cases(connection, numbers)
    changes = Changes()
    kept = stored_keys(connection, rows)
    for before in kept:
        changes.add(before.stratum, before.signature, before.counted, -1)
    links = [Link(row.came_back, one.counted.stratum.is_double) for row, one in zip(rows, kept, strict=True)]
    Recount(connection, counting, changes).count(rows, links)
    _, moved = link(connection, [visit_of(row.case, "") for row in rows], [], window)
    relink(session, moved, changes)
    changes.apply(connection)


def relink(session: Session, moved: Mapping[int, Link], changes: Changes) -> None:
    """Count cases of the log under how they stand now; all else of their keys stays."""
    if not moved:
        return
    connection = session.connection()
    kept = stored_keys(connection, bare_cases(connection, list(moved)))
    after = [one.relinked(moved[one.number]) for one in kept]
    strata = stratum_numbers(connection, [one.stratum for one in after])
    rows = []
    for before, now in zip(kept, after, strict=True):
        changes.add(before.stratum, before.signature, before.counted, -1)
        changes.add(strata[now.stratum], before.signature, now, 1)
        back = moved[before.number].came_back
        rows.append((as_stored(back) if back else None, strata[now.stratum], before.number))
    connection.exec_driver_sql("UPDATE cases SET came_back = ?, stratum = ? WHERE number = ?", rows)


class Recount:
    """Counts cases under keys worked out now, and lets their rows keep these; what is counted gathers in `changes`."""

    def __init__(self, connection: Connection, counting: Counting, changes: Changes) -> None:
        self._connection, self._counting, self.changes = connection, counting, changes
        self._numbers = Numbers()

    def count(self, rows: Sequence[BareCase], links: Sequence[Link]) -> None:
        """Count cases that stand to others as these links say."""
        made = [
            counted(row.case, self._count(row), row.origin, row.linked, how, self._counting)
            for row, how in zip(rows, links, strict=True)
        ]
        self._numbers.learn(self._connection, made)
        moved = []
        for row, how, one in zip(rows, links, made, strict=True):
            key = (self._numbers.strata[one.stratum], self._numbers.signatures[one.signature])
            self.changes.add(*key, one, 1)
            if key != (row.stratum, row.signature) or how.came_back != row.came_back:
                moved.append((*key, as_stored(how.came_back) if how.came_back else None, row.number))
        statement = "UPDATE cases SET stratum = ?, signature = ?, came_back = ? WHERE number = ?"
        driver(self._connection).executemany(statement, moved)

    def _count(self, row: BareCase) -> CaseCount:
        return case_count(row.case).renamed(self._counting.aliases)
