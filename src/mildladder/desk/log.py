"""The log: its pages, and one whole case in words."""

from datetime import datetime
from typing import cast

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput, NotFound
from mildladder.core.ladder.values import in_words, value_in_words
from mildladder.core.model import (
    Attempt,
    Case,
    End,
    Playbook,
    Shape,
    Step,
    minutes_between,
)
from mildladder.core.model.outcomes import BASELINES, ENDS, HARMS, OUTCOMES, SENT_ON
from mildladder.desk.editions import document
from mildladder.desk.titles import StepTitle
from mildladder.store.climbs import climb_of_case
from mildladder.store.log import search as store
from mildladder.store.log.rows import load_cases
from mildladder.store.log.search import CaseFilter

__all__ = [
    "AttemptLine",
    "CaseFilter",
    "CaseList",
    "CaseSummary",
    "CaseView",
    "EndChoice",
    "KnownFact",
    "StepTitle",
    "case_list",
    "case_view",
]


class CaseSummary(Shape):
    """One row of the log. `site`: where the unit stands, empty when nobody said. `ended`: its end, in words."""

    case: str
    symptom: str
    opened: datetime
    closed: datetime
    said: str | None
    unit: str | None
    site: str
    end: End
    ended: str
    resolved_by: str | None
    came_back: datetime | None
    minutes: float
    attempts: int
    origin: str
    who: str


class AttemptLine(Shape):
    """One attempt in words: the step's title, what came of it, and the harm that was seen."""

    title: str
    says: str
    harms: tuple[str, ...]


class KnownFact(Shape):
    """A fact of a logged case, its value as one says it."""

    fact: str
    says: str


class EndChoice(Shape):
    """A way in which cases end, in words."""

    end: End
    says: str


class CaseView(Shape):
    """One whole case. `lines`: one for each attempt; `climb`: the guided case that it was; `title`: its symptom's.

    ended, baseline, waited: how it ended, what was tried first and how long it waited, in words.
    """

    case: Case
    title: str
    ended: str
    baseline: str | None
    waited: str | None
    known: tuple[KnownFact, ...]
    lines: tuple[AttemptLine, ...]
    steps: tuple[StepTitle, ...]
    origin: str
    who: str
    climb: str | None


class CaseList(Shape):
    """A page of the log, the last closed first. `next`: what to ask for the page after it; None at the end.

    ends: every way in which a case can end.
    """

    total: int
    cases: tuple[CaseSummary, ...]
    next: str | None
    ends: tuple[EndChoice, ...]


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
            end=cast(End, row.end),
            ended=_ended(cast(End, row.end), row.rest.get("sent_on")),
            resolved_by=row.resolved_by,
            came_back=row.came_back,
            minutes=max(0.0, minutes_between(row.opened, row.closed) - (row.rest.get("waited") or 0.0)),
            attempts=len(row.attempts),
            origin=row.origin,
            who=row.person.name,
        )
        for row in rows
    )
    return CaseList(total=store.count_cases(session, wanted), cases=summaries, next=last, ends=_ENDS)


_ENDS = tuple(EndChoice(end=end, says=meaning.says) for end, meaning in ENDS.items())


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
    (logged,) = load_cases(session.connection(), "id", [case_id])
    case = logged.case.model_copy(update={"came_back": logged.came_back})
    playbook = _playbook_of(session, case, logged.linked)
    steps = {step.id: step for step in playbook.steps} if playbook else {}
    return CaseView(
        case=case,
        title=playbook.title if playbook else case.symptom,
        ended=_ended(case.end, case.sent_on),
        baseline=BASELINES[case.baseline] if case.baseline else None,
        waited=in_words(case.waited) if case.waited else None,
        known=tuple(KnownFact(fact=fact, says=value_in_words(value)) for fact, value in case.facts.items()),
        lines=tuple(_line(attempt, steps.get(attempt.step)) for attempt in case.attempts),
        steps=tuple(StepTitle(id=step.id, title=step.title) for step in steps.values()),
        origin=row.origin,
        who=row.person.name,
        climb=climb_of_case(session, case_id),
    )


def _ended(end: End, sent_on: str | None) -> str:
    """How a case ended: one that went on in another playbook was not handed to a team."""
    return SENT_ON if sent_on else ENDS[end].says


def _line(attempt: Attempt, step: Step | None) -> AttemptLine:
    found = next((f.title for f in step.findings if f.id == attempt.finding), attempt.finding) if step else None
    outcome = "did not take" if attempt.took == "no" else OUTCOMES[attempt.outcome].said if attempt.outcome else None
    says = " · ".join(part for part in (found or attempt.finding, outcome) if part)
    return AttemptLine(
        title=step.title if step else attempt.step,
        says=says[:1].upper() + says[1:],
        harms=tuple(HARMS[kind].was_seen for kind in attempt.harmed or ()),
    )


def _playbook_of(session: Session, case: Case, linked: int | None) -> Playbook | None:
    """The edition that the case was guided by, else the draft of its symptom, else None."""
    try:
        if case.playbook is not None and linked is not None:
            return document(session, case.playbook, linked)
        return document(session, case.symptom, "draft")
    except NotFound:
        return None
