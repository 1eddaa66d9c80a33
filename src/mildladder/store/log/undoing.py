"""Undo an import as one: its new cases go, those that it replaced are what they were."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from mildladder.core.model import Case
from mildladder.store.intake import end_import
from mildladder.store.log.writing import Logging, log_cases, unlog_cases
from mildladder.store.tables import CaseRow, ReplacedCaseRow

__all__ = ["undo_some"]

_BATCH = 400


def undo_some(session: Session, number: int, return_window: int) -> bool:
    """Undo a part of an import, which may be begun again wherever it stopped; whether there is more."""
    row = CaseRow
    found = session.execute(select(row.number, row.id).where(row.brought_by == number).limit(_BATCH)).all()
    unlog_cases(session, [one.number for one in found], return_window)
    _put_back(session, number, return_window, [one.id for one in found])
    end_import(session, number, "undoing" if found else "undone")
    return bool(found)


def _put_back(session: Session, number: int, return_window: int, names: Sequence[str]) -> None:
    """Log what these cases were before the import, as they were logged. What somebody has changed or taken out since
    is no longer the import's, and stays."""
    row = ReplacedCaseRow
    query = select(row).where(row.by == number, row.id.in_(names)).order_by(row.number)
    first: dict[str, ReplacedCaseRow] = {}
    for replaced in session.scalars(query).all():
        first.setdefault(replaced.id, replaced)
    for was in (replaced.document for replaced in first.values()):
        logged = datetime.fromisoformat(was["logged"])
        logging = Logging(was["origin"], was["who"], logged, return_window, was["brought_by"])
        log_cases(session, [Case.model_validate(was["case"])], logging)
    session.execute(delete(row).where(row.by == number, row.id.in_(names)))
