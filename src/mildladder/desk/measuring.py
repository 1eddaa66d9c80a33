"""What the log shows: the list of symptoms, the evidence of one, and the cases themselves."""

from datetime import date, datetime
from typing import get_args

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput, NotFound
from mildladder.core.evidence.rates import Rate, StepEvidence, count_steps, is_more_than, no_evidence, raw_rate
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import (
    Case,
    Fact,
    HazardKind,
    Playbook,
    Rung,
    Shape,
    Sign,
    Step,
    StepKind,
    minutes_between,
)
from mildladder.desk.people import return_window
from mildladder.store import cases as store
from mildladder.store import documents
from mildladder.store.climbs import climb_of_case
from mildladder.store.refused import refused_counts, refused_lines

__all__ = [
    "CaseList", "CaseSummary", "CaseView", "Evidence", "EvidenceRow", "HarmSeen", "LeftOut", "LeftOutLine",
    "SymptomCard", "case_list", "case_view", "evidence", "left_out", "symptoms",
]  # fmt: skip


_MOST_LINES = 1000


class StepTitle(Shape):
    """A step's id and what it is called."""

    id: str
    title: str


class SymptomCard(Shape):
    """One symptom in the list. `forecast`, `facts`: of the newest edition, or of the draft while there is none.

    `minutes`: spent on its cases in all; `ended`: how its cases ended, by end; `steps`: those of the draft.
    """

    id: str
    title: str
    says: str
    signs: tuple[Sign, ...]
    facts: tuple[Fact, ...]
    steps: tuple[StepTitle, ...]
    edition: int | None
    draft_differs: bool
    cases: int
    minutes: float
    ended: dict[str, int]
    resolved: Rate
    forecast: Forecast


class HarmSeen(Shape):
    """Harm of one kind that came of a step, beside what the draft judges.

    `judged`: the chance that the step names, nothing eased, None where it names no such hazard; `eased_by`: the
    safeguard that it names. `asked`: attempts after which harm was asked about; `rate`: seen out of asked. `is_more`:
    more than luck explains, were the chance as judged.
    """

    kind: HazardKind
    judged: float | None
    eased_by: str | None
    asked: int
    seen: int
    rate: Rate
    is_more: bool


class EvidenceRow(Shape):
    """One step's counts, with its first place on the draft's ladder, such as 3 or 3a (None: not on it), and its title
    (None: unknown here)."""

    step: str
    title: str | None
    kind: StepKind | None
    label: str | None
    counts: StepEvidence
    harms: tuple[HarmSeen, ...]


class Evidence(Shape):
    """The evidence of one symptom, in the order of its ladder, then what is tried off it."""

    playbook: str
    title: str
    cases: int
    return_window: int
    rows: tuple[EvidenceRow, ...]


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


class LeftOutLine(Shape):
    """A line of a brought-in case file that is in no log, and why. `text`: how it begins; `at`: when it was read."""

    source: str
    line: int
    path: str
    says: str
    text: str
    at: datetime


class LeftOut(Shape):
    """All lines that wait to be mended and brought in again; `lines`: the first of them, by file."""

    total: int
    lines: tuple[LeftOutLine, ...]


class CaseList(Shape):
    """A page of the log, the last closed first. `next`: what to ask for the page after it; None at the end."""

    total: int
    cases: tuple[CaseSummary, ...]
    next: str | None


def symptoms(session: Session) -> list[SymptomCard]:
    """Every symptom with a playbook, the one that took most minutes first."""
    counts = store.symptom_counts(session)
    minutes = store.symptom_minutes(session)
    editions = documents.newest_editions(session)
    cards = []
    for playbook_id in documents.playbook_ids(session):
        edition = editions.get(playbook_id)
        draft = documents.document_of(documents.newest_revision(session, playbook_id)).playbook
        published = documents.document_of(edition).playbook if edition else None
        ends = counts.get(playbook_id, {})
        cards.append(
            SymptomCard(
                id=playbook_id,
                title=draft.title,
                says=draft.symptom.says,
                signs=draft.symptom.signs,
                facts=(published or draft).facts,
                steps=tuple(StepTitle(id=step.id, title=step.title) for step in draft.steps),
                edition=edition.number if edition else None,
                draft_differs=published != draft,
                cases=sum(ends.values()),
                minutes=minutes.get(playbook_id, 0.0),
                ended=ends,
                resolved=raw_rate(ends.get("resolved", 0) + ends.get("worked-around", 0), sum(ends.values())),
                forecast=Forecast.model_validate(edition.forecast) if edition else forecast(draft),
            )
        )
    return sorted(cards, key=lambda card: (-card.minutes, card.title))


def evidence(session: Session, playbook_id: str, today: date) -> Evidence:
    """The evidence of one symptom. Raises NotFound."""
    playbook = documents.document_of(documents.newest_revision(session, playbook_id)).playbook
    window = return_window(session)
    counts = count_steps(store.tallies(session, playbook_id), today, window)
    labels: dict[str, str] = {}
    for row in rows_of(playbook):
        if isinstance(row.entry, Rung):
            labels.setdefault(row.entry.step, row.label)
    steps = {step.id: step for step in playbook.steps}
    order = [*labels, *sorted(set(counts) - set(labels))]
    harms = store.harm_counts(session, playbook_id)
    rows = tuple(
        EvidenceRow(
            step=step,
            title=steps[step].title if step in steps else None,
            kind=steps[step].kind if step in steps else None,
            label=labels.get(step),
            counts=counts.get(step) or no_evidence(step),
            harms=_harms(steps.get(step), harms.get(step)),
        )
        for step in order
    )
    total = sum(store.symptom_counts(session).get(playbook_id, {}).values())
    return Evidence(playbook=playbook_id, title=playbook.title, cases=total, return_window=window, rows=rows)


def _harms(step: Step | None, count: store.HarmCount | None) -> tuple[HarmSeen, ...]:
    """One for each kind of harm that the step names or that was seen, once anybody was asked."""
    if count is None:
        return ()
    hazards = {hazard.kind: hazard for hazard in step.hazards} if step else {}
    kinds = [*hazards, *(kind for kind in get_args(HazardKind) if kind in count.seen and kind not in hazards)]
    return tuple(
        HarmSeen(
            kind=kind,
            judged=hazards[kind].chance if kind in hazards else None,
            eased_by=hazards[kind].eased_by if kind in hazards else None,
            asked=count.asked,
            seen=count.seen.get(kind, 0),
            rate=raw_rate(count.seen.get(kind, 0), count.asked),
            is_more=is_more_than(
                hazards[kind].chance if kind in hazards else 0.0, count.seen.get(kind, 0), count.asked
            ),
        )
        for kind in kinds
    )


def case_list(session: Session, wanted: store.CaseFilter, after: str, limit: int) -> CaseList:
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
            who=row.who,
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
    case = store.case_of(row)
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
        who=row.who,
        climb=climb_of_case(session, case_id),
    )


def left_out(session: Session) -> LeftOut:
    """What could not be read of brought-in files, the first lines of it word for word."""
    counts = refused_counts(session)
    lines = tuple(
        LeftOutLine(source=row.source, line=row.line, path=row.path, says=row.says, text=row.text, at=row.at)
        for row in refused_lines(session, _MOST_LINES)
    )
    return LeftOut(total=sum(counts.values()), lines=lines)


def _playbook_of(session: Session, case: Case) -> Playbook | None:
    """The edition that the case was guided by, else the draft of its symptom, else None."""
    try:
        if case.playbook is not None and case.edition is not None:
            return documents.document_of(documents.edition(session, case.playbook, case.edition)).playbook
        return documents.document_of(documents.newest_revision(session, case.symptom)).playbook
    except NotFound:
        return None
