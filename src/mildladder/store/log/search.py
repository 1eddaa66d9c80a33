"""Find cases in the log: pages, one case, what a unit had before."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Select, func, literal, or_, select, tuple_
from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.core.model.events import EarlierCase
from mildladder.store.library import aliases
from mildladder.store.moments import Moment
from mildladder.store.tables import CaseRow, TriedRow

__all__ = ["CaseFilter", "case", "case_page", "count_cases", "unit_history"]


@dataclass(frozen=True)
class CaseFilter:
    """Which cases to show; empty fields let everything through. `words`: in what was said, notes, unit or id."""

    symptom: str = ""
    step: str = ""
    end: str = ""
    words: str = ""

    def on(self, query: Select[CaseRow]) -> Select[CaseRow]:
        """The query narrowed to the cases that fit."""
        if self.symptom:
            query = query.where(CaseRow.symptom == self.symptom)
        if self.end:
            query = query.where(CaseRow.end == self.end)
        if self.step:
            query = query.where(CaseRow.number.in_(select(TriedRow.case).where(TriedRow.step == self.step)))
        if self.words:
            texts = (CaseRow.said, CaseRow.notes, CaseRow.unit, CaseRow.id)
            query = query.where(or_(*(text.icontains(self.words, autoescape=True) for text in texts)))
        return query


def case_page(
    session: Session, wanted: CaseFilter, after: tuple[datetime, str] | None, limit: int
) -> Sequence[CaseRow]:
    """At most `limit` cases, the last closed first, going on after the (closed, id) of the last one shown."""
    query = wanted.on(select(CaseRow))
    if after is not None:
        place = tuple_(literal(after[0], Moment()), literal(after[1]))
        query = query.where(tuple_(CaseRow.closed, CaseRow.id) < place)
    return session.scalars(query.order_by(CaseRow.closed.desc(), CaseRow.id.desc()).limit(limit)).all()


def unit_history(session: Session, symptom: str, unit: str, limit: int) -> list[EarlierCase]:
    """The cases of a symptom that a unit had, the last closed first; merged steps count as what they are now."""
    if not unit:
        return []
    query = select(CaseRow.id, CaseRow.closed, CaseRow.resolved_by)
    of_unit = query.where(CaseRow.symptom == symptom, CaseRow.unit == unit).order_by(CaseRow.closed.desc())
    same = aliases(session)
    return [
        EarlierCase(case=case_id, closed=closed, resolved_by=same.get(step, step) if step else None)
        for case_id, closed, step in session.execute(of_unit.limit(limit))
    ]


def count_cases(session: Session, wanted: CaseFilter) -> int:
    """How many cases fit."""
    found = wanted.on(select(CaseRow)).with_only_columns(CaseRow.id).subquery()
    return session.scalar(select(func.count()).select_from(found)) or 0


def case(session: Session, case_id: str) -> CaseRow:
    """One case. Raises NotFound."""
    row = session.scalars(select(CaseRow).where(CaseRow.id == case_id)).first()
    if row is None:
        raise NotFound(f"there is no case '{case_id}'")
    return row
