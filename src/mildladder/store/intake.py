"""Imports of case files, and their lines that could not be read: kept, so that none is lost, until the file comes
again."""

from collections.abc import Collection, Iterable, Sequence
from datetime import datetime

from sqlalchemy import delete, func, insert, select
from sqlalchemy.orm import Session

from mildladder.core.model import RefusedLine
from mildladder.store.tables import ImportRow, RefusedLineRow

__all__ = [
    "begin_import",
    "end_import",
    "import_state",
    "keep_refused",
    "refused_counts",
    "refused_lines",
    "running_imports",
]


def begin_import(session: Session, source: str, who: int, now: datetime, job: int | None = None) -> int:
    """The number of an import that begins. job: the work that it is."""
    row = ImportRow(source=source, who=who, began=now, state="running", job=job)
    session.add(row)
    session.flush()
    return row.number


def import_state(session: Session, number: int) -> str:
    """How an import stands."""
    return session.get_one(ImportRow, number).state


def end_import(session: Session, number: int, state: str) -> None:
    """An import is done, or undone, or being undone."""
    session.get_one(ImportRow, number).state = state
    session.flush()


def running_imports(session: Session) -> Sequence[ImportRow]:
    """Imports that have begun and not ended."""
    return session.scalars(select(ImportRow).where(ImportRow.state.in_(("running", "undoing")))).all()


def keep_refused(
    session: Session,
    number: int,
    source: str,
    lines: Iterable[RefusedLine],
    before: Collection[int],
    who: int,
    now: datetime,
) -> None:
    """Keep what an import left out, in place of what the same file left out before.

    before: imports that had brought some of its cases; those of the same name were the same file. Another file of that
    name takes nothing away.
    """
    old = RefusedLineRow
    session.execute(delete(old).where(old.source == source, old.brought_by.in_(before)))
    there = set(session.execute(select(old.line, old.text).where(old.source == source)).all())
    rows = [
        {"brought_by": number, "source": source, **line.model_dump(), "who": who, "at": now}
        for line in lines
        if (line.line, line.text) not in there
    ]
    if rows:
        session.execute(insert(RefusedLineRow), rows)


def refused_counts(session: Session) -> dict[str, int]:
    """How many lines of each file wait, by its name."""
    query = select(RefusedLineRow.source, func.count()).group_by(RefusedLineRow.source)
    return {row[0]: row[1] for row in session.execute(query.order_by(RefusedLineRow.source))}


def refused_lines(session: Session, limit: int) -> Sequence[RefusedLineRow]:
    """The first `limit` of them, by file and line."""
    row = RefusedLineRow
    return session.scalars(select(row).order_by(row.source, row.brought_by, row.line).limit(limit)).all()
