"""What the keys of cases depend on, on this desk."""

from datetime import date

from sqlalchemy.orm import Session

from mildladder.core.tally.keys import COUNTED_TYPES, Counting
from mildladder.store.library import aliases
from mildladder.store.log.sql import driver
from mildladder.store.settings import setting

__all__ = ["FOLDED", "counting_of", "folded_until"]

FOLDED = "folded_until"
_NEVER = date(1, 1, 1)


def folded_until(session: Session) -> date:
    """The day before which closing days are counted as months."""
    folded = setting(session, FOLDED)
    return date.fromisoformat(folded) if folded else _NEVER


def counting_of(session: Session) -> Counting:
    """What keys depend on, on this desk."""
    session.flush()
    query = f"SELECT id FROM facts WHERE type IN ({', '.join('?' * len(COUNTED_TYPES))})"
    facts = [row[0] for row in driver(session.connection()).execute(query, COUNTED_TYPES)]
    return Counting(folded_until(session), frozenset(facts), aliases(session))
