"""Undo an import as one: its new cases go, those that it replaced are what they were."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import select
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
    _put_back(session, number, return_window, [one.id for one in found] if found else None)
    if not found:
        end_import(session, number, "undone")
    return bool(found)


def _put_back(session: Session, number: int, return_window: int, names: Sequence[str] | None) -> None:
    """Log what the import replaced, as it was logged; newest first, so that the first state of a case is the last."""
    query = select(ReplacedCaseRow).where(ReplacedCaseRow.by == number).order_by(ReplacedCaseRow.number.desc())
    if names is not None:
        query = query.where(ReplacedCaseRow.id.in_(names))
    for row in session.scalars(query).all():
        was = row.document
        logging = Logging(was["origin"], was["who"], datetime.fromisoformat(was["logged"]), return_window,
                          was["brought_by"])  # fmt: skip
        case = Case.model_validate(was["case"])
        log_cases(session, [case], logging)
        session.delete(row)
    session.flush()
