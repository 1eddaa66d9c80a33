"""The log: its pages, and one whole case in words."""

from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput, NotFound
from mildladder.core.model import (
    Case,
    Playbook,
    Shape,
    minutes_between,
)
from mildladder.desk.editions import document
from mildladder.desk.titles import StepTitle
from mildladder.store.climbs import climb_of_case
from mildladder.store.log import search as store
from mildladder.store.log.rows import case_of
from mildladder.store.log.search import CaseFilter

__all__ = ["AttemptLine", "CaseFilter", "CaseList", "CaseSummary", "CaseView", "StepTitle", "case_list", "case_view"]


class CaseSummary(Shape):
    """One row of the log. `site`: where the unit stands, empty when nobody said."""

    case: str
    symptom: str
    opened: datetime
    closed: datetime
    said: str | None
    unit: str | None
    site: str
    end: str
    resolved_by: str | None
    came_back: datetime | None
    minutes: float
    attempts: int
    origin: str
    who: str


class AttemptLine(Shape):
    """One attempt in words: the step's title, and the title of what was found."""

    title: str
    finding: str | None


class CaseView(Shape):
    """One whole case. `lines`: one for each attempt; `climb`: the guided case that it was; `title`: its symptom's."""

    case: Case
    title: str
    lines: tuple[AttemptLine, ...]
    steps: tuple[StepTitle, ...]
    origin: str
    who: str
    climb: str | None


class CaseList(Shape):
    """A page of the log, the last closed first. `next`: what to ask for the page after it; None at the end."""

    total: int
    cases: tuple[CaseSummary, ...]
    next: str | None


def case_list(session: Session, wanted: CaseFilter, after: str, limit: int) -> CaseList:
    """A page of the log. Raises BadInput for an `after` that no page gave."""
    rows = store.case_page(session, wanted, _cursor(after), limit)
    last = f"{rows[-1].closed.isoformat()}~{rows[-1].id}" if len(rows) == limit else None
    summaries = tuple(
        CaseSummary(
            case=row.id,
            symptom=row.symptom,
            opened=row.opened,
            closed=row.closed,
            said=row.said,
            unit=row.unit,
            site=row.site,
            end=row.end,
            resolved_by=row.resolved_by,
            came_back=row.came_back,
            minutes=max(0.0, minutes_between(row.opened, row.closed) - (row.rest.get("waited") or 0.0)),
            attempts=len(row.attempts),
            origin=row.origin,
            who=row.person.name,
        )
        for row in rows
    )
    return CaseList(total=store.count_cases(session, wanted), cases=summaries, next=last)


def _cursor(after: str) -> tuple[datetime, str] | None:
    if not after:
        return None
    moment, _, case_id = after.partition("~")
    try:
        closed = datetime.fromisoformat(moment)
    except ValueError as error:
        raise BadInput("this is no place in the log; start from its beginning", path="after") from error
    if closed.tzinfo is None or not case_id:
        raise BadInput("this is no place in the log; start from its beginning", path="after")
    return closed, case_id


def case_view(session: Session, case_id: str) -> CaseView:
    """One whole case, in words. Raises NotFound."""
    row = store.case(session, case_id)
    case = case_of(row)
    playbook = _playbook_of(session, case)
    steps = {step.id: step for step in playbook.steps} if playbook else {}
    lines = []
    for attempt in case.attempts:
        step = steps.get(attempt.step)
        found = next((f.title for f in step.findings if f.id == attempt.finding), None) if step else None
        lines.append(AttemptLine(title=step.title if step else attempt.step, finding=found or attempt.finding))
    return CaseView(
        case=case,
        title=playbook.title if playbook else case.symptom,
        lines=tuple(lines),
        steps=tuple(StepTitle(id=step.id, title=step.title) for step in steps.values()),
        origin=row.origin,
        who=row.person.name,
        climb=climb_of_case(session, case_id),
    )


def _playbook_of(session: Session, case: Case) -> Playbook | None:
    """The edition that the case was guided by, else the draft of its symptom, else None."""
    try:
        if case.playbook is not None and case.edition is not None:
            return document(session, case.playbook, case.edition)
        return document(session, case.symptom, "draft")
    except NotFound:
        return None
