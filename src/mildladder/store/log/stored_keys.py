"""The keys under which logged cases are counted, as their rows keep them: exactly that is subtracted later.

Whatever clock, facts, merges or settings have become meanwhile, a case goes out of the tallies as it came in.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from sqlalchemy import Connection

from mildladder.core.model import Case
from mildladder.core.tally.counts import CaseCount, case_count
from mildladder.core.tally.keys import Counted, Link, Stratum, counted_under
from mildladder.store.log.bare import BareCase
from mildladder.store.log.rows import LoggedCase
from mildladder.store.log.sql import driver, rows_as

__all__ = ["StoredKey", "stored_keys"]


@dataclass(frozen=True)
class StoredKey:
    """How a logged case is counted now. stratum: of the month, where its day was folded."""

    number: int
    case: Case
    count: CaseCount
    stratum: int
    signature: int
    counted: Counted

    def relinked(self, link: Link) -> Counted:
        """The same case under another link."""
        stratum = self.counted.stratum._replace(is_double=link.is_double)
        return counted_under(self.case, self.count, stratum, link.came_back)


def stored_keys(connection: Connection, rows: Sequence[LoggedCase | BareCase]) -> list[StoredKey]:
    """The key of each row, in their order."""
    strata = {row.stratum: _stratum(connection, row.stratum) for row in rows}
    texts = {row.signature: _text(connection, row.signature) for row in rows}
    found = []
    for row in rows:
        number, stratum = strata[row.stratum]
        count = case_count(row.case, texts[row.signature])
        now = counted_under(row.case, count, stratum, row.came_back)
        found.append(StoredKey(row.number, row.case, count, number, row.signature, now))
    return found


class _Folded(NamedTuple):
    folded_into: int | None


def _stratum(connection: Connection, number: int) -> tuple[int, Stratum]:
    """The stratum that a case of this one counts in now: that of its month, once its day was folded."""
    of = "FROM strata WHERE number = ?"
    while (folded := next(rows_as(connection, _Folded, of, (number,)))).folded_into is not None:
        number = folded.folded_into
    row = next(rows_as(connection, Stratum, of, (number,)))
    return number, row._replace(is_guided=bool(row.is_guided), is_double=bool(row.is_double))


def _text(connection: Connection, number: int) -> str:
    text: str = driver(connection).execute("SELECT text FROM signatures WHERE number = ?", (number,)).fetchone()[0]
    return text
