"""Lines of brought-in case files that could not be read: kept, so that none is lost, until the file comes again."""

from collections.abc import Iterable, Sequence
from datetime import datetime

from sqlalchemy import delete, func, insert, select
from sqlalchemy.orm import Session

from mildladder.core.model import RefusedLine
from mildladder.store.tables import RefusedLineRow

__all__ = ["keep_refused", "refused_counts", "refused_lines"]


def keep_refused(session: Session, source: str, lines: Iterable[RefusedLine], who: int, now: datetime) -> None:
    """Keep what was refused of a file, in place of what was refused of it before."""
    session.execute(delete(RefusedLineRow).where(RefusedLineRow.source == source))
    rows = [{"source": source, **line.model_dump(), "who": who, "at": now} for line in lines]
    if rows:
        session.execute(insert(RefusedLineRow), rows)


def refused_counts(session: Session) -> dict[str, int]:
    """How many lines of each file wait, by its name."""
    query = select(RefusedLineRow.source, func.count()).group_by(RefusedLineRow.source)
    return {row[0]: row[1] for row in session.execute(query.order_by(RefusedLineRow.source))}


def refused_lines(session: Session, limit: int) -> Sequence[RefusedLineRow]:
    """The first `limit` of them, by file and line."""
    query = select(RefusedLineRow).order_by(RefusedLineRow.source, RefusedLineRow.line)
    return session.scalars(query.limit(limit)).all()
