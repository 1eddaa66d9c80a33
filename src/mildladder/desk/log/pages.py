"""The log: its pages, and one whole case in words."""

from collections.abc import Mapping
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
from mildladder.core.model.outcomes import BASELINES, CONFIRMED, ENDS, HARMS, OUTCOMES, SENT_ON
from mildladder.desk.documents import document
from mildladder.desk.titles import StepTitle
from mildladder.store.climbs import climb_of_case
from mildladder.store.library import fact_questions
from mildladder.store.log import search as store
from mildladder.store.log.search import CaseFilter
from mildladder.store.moments import from_stored
from mildladder.store.people import person

__all__ = ["CaseFilter", "CaseList", "CaseTotal", "CaseView", "KnownFact", "case_list", "case_total", "case_view"]


class CaseSummary(Shape):
    """One row of the log. `site`: where the unit stands, empty when nobody said. `ended`: its end, in words.

    A row that cannot be read has its id, and neither moments nor end.
    """

    case: str
    symptom: str
    opened: datetime | None
    closed: datetime | None
    said: str | None
    unit: str | None
    site: str
    end: End | None
    ended: str
    resolved_by: str | None
    came_back: datetime | None
    minutes: float
    attempts: int
    origin: str
    who: str
    is_readable: bool


class AttemptLine(Shape):
    """One attempt in words: the step's title, what came of it, and the harm that was seen."""

    title: str
    says: str
    harms: tuple[str, ...]


class KnownFact(Shape):
    """A fact of a logged case, its value as one says it. ask: what it is asked by; what other systems log goes by the
    name that it has there."""

    fact: str
    ask: str
    says: str


class EndChoice(Shape):
    """A way in which cases end, in words."""

    end: End
    says: str


class CaseView(Shape):
    """One whole case. `lines`: one for each attempt; `climb`: the guided case that it was; `title`: its symptom's.

    ended, confirmed, baseline, waited: how it ended, how that is known, what was tried first and how long it waited, in
    words.
    """

    case: Case
    title: str
    ended: str
    confirmed: str | None
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

    cases: tuple[CaseSummary, ...]
    next: str | None
    ends: tuple[EndChoice, ...]


class CaseTotal(Shape):
    """How many cases fit."""

    total: int


def case_list(session: Session, wanted: CaseFilter, after: str, limit: int, rank: int = 0) -> CaseList:
    """A page of the log. rank: how many of the cases that fit stand above it. Raises BadInput for an `after` that no
    page gave, and for a rank beside it."""
    if rank and after:
        raise BadInput("a page is asked for by its rank or by what comes after a case, not by both", path="rank")
    if rank:
        rows = store.case_page_at(session, wanted, rank, limit)
    else:
        rows = store.case_page(session, wanted, _place(after), limit)
    last = str(rows[-1].place) if len(rows) == limit else None
    return CaseList(cases=tuple(_summary(row) for row in rows), next=last, ends=_ENDS)


def case_total(session: Session, wanted: CaseFilter) -> CaseTotal:
    """How many cases fit."""
    return CaseTotal(total=store.count_cases(session, wanted))


def _summary(row: store.Found) -> CaseSummary:
    """A row of the log in words; one that cannot be read is shown as such and stops nothing."""
    try:
        opened, closed = from_stored(row.opened), from_stored(row.closed)
        end, back = cast(End, row.end), row.came_back
        return CaseSummary(
            case=row.id,
            symptom=row.symptom,
            opened=opened,
            closed=closed,
            said=row.said,
            unit=row.unit,
            site=row.site,
            end=end,
            ended=_ended(end, row.sent_on),
            resolved_by=row.resolved_by,
            came_back=from_stored(back) if back else None,
            minutes=max(0.0, minutes_between(opened, closed) - (row.waited or 0.0)),
            attempts=row.attempts,
            origin=row.origin,
            who=row.who,
            is_readable=True,
        )
    except (ValueError, KeyError, TypeError):
        return CaseSummary(
            case=str(row.id),
            symptom=str(row.symptom),
            opened=None,
            closed=None,
            said=None,
            unit=None,
            site="",
            end=None,
            ended="Cannot be read",
            resolved_by=None,
            came_back=None,
            minutes=0.0,
            attempts=0,
            origin=str(row.origin),
            who=str(row.who),
            is_readable=False,
        )


_LONGEST_PLACE = 20
_ENDS = tuple(EndChoice(end=end, says=meaning.says) for end, meaning in ENDS.items())


def _place(after: str) -> int | None:
    if not after:
        return None
    if not (after.isascii() and after.isdecimal() and len(after) < _LONGEST_PLACE):
        raise BadInput("this is no place in the log; start from its beginning", path="after")
    return int(after)


def case_view(session: Session, case_id: str) -> CaseView:
    """One whole case, in words. Raises NotFound."""
    logged = store.case(session, case_id)
    case = logged.case.model_copy(update={"came_back": logged.came_back})
    playbook = _playbook_of(session, case, logged.linked)
    steps = {step.id: step for step in playbook.steps} if playbook else {}
    asks = {**fact_questions(session), **({fact.id: fact.ask for fact in playbook.facts} if playbook else {})}
    return CaseView(
        case=case,
        title=playbook.title if playbook else case.symptom,
        ended=_ended(case.end, case.sent_on),
        confirmed=CONFIRMED[case.confirmed or "none"] or None,
        baseline=_sentence(BASELINES[case.baseline]) if case.baseline else None,
        waited=in_words(case.waited) if case.waited else None,
        known=tuple(_known(asks, fact, value) for fact, value in case.facts.items()),
        lines=tuple(_line(attempt, steps.get(attempt.step)) for attempt in case.attempts),
        steps=tuple(StepTitle(id=step.id, title=step.title) for step in steps.values()),
        origin=logged.origin,
        who=person(session, logged.who).name,
        climb=climb_of_case(session, case_id),
    )


def _ended(end: End, sent_on: str | None) -> str:
    """How a case ended: one that went on in another playbook was not handed to a team."""
    return SENT_ON if sent_on else ENDS[end].says


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:]


def _known(asks: Mapping[str, str], fact: str, value: str) -> KnownFact:
    return KnownFact(fact=fact, ask=asks.get(fact, fact.replace("-", " ")), says=value_in_words(value))


def _line(attempt: Attempt, step: Step | None) -> AttemptLine:
    found = next((f.title for f in step.findings if f.id == attempt.finding), attempt.finding) if step else None
    outcome = "did not take" if attempt.took == "no" else OUTCOMES[attempt.outcome].said if attempt.outcome else None
    says = " · ".join(part for part in (found or attempt.finding, outcome) if part)
    return AttemptLine(
        title=step.title if step else attempt.step,
        says=_sentence(says),
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
