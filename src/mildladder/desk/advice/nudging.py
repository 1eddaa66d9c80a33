"""What to change next, over all symptoms: worked out as jobs of their own, so that no page waits for them."""

import hashlib
import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from functools import partial
from typing import Annotated, Any, ClassVar, Literal, NamedTuple

from pydantic import Field
from sqlalchemy.orm import Session

from mildladder.clock import utc_now
from mildladder.core.advice.followup import lowered, share_to_count_on
from mildladder.core.advice.guarding import safeguards_of
from mildladder.core.advice.nudge import Nudge
from mildladder.core.advice.nudges import Grounds, nudges_of
from mildladder.core.errors import Conflict, LadderError, NotFound
from mildladder.core.evidence.differences import Drift
from mildladder.core.evidence.estimate import Estimated, estimate
from mildladder.core.evidence.forward import Span
from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.learned import minutes_of_step
from mildladder.core.evidence.pace import Pace
from mildladder.core.evidence.records import records_of
from mildladder.core.model import HazardKind, Playbook, Shape, Step
from mildladder.core.model.base import Id
from mildladder.desk.advice.following import Followed, PromiseQuestion, followed_up, pace, promise, promised
from mildladder.desk.evidence.estimating import taught_of
from mildladder.desk.evidence.odd_names import names_of_their_own, odd_steps
from mildladder.desk.evidence.studying import AboutCases
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.jobs.kind import JobKind
from mildladder.desk.jobs.task import Task
from mildladder.desk.people import check_lead
from mildladder.desk.settings import return_window
from mildladder.desk.titles import titles_of
from mildladder.store import jobs as kept_jobs
from mildladder.store.advice import decline as keep_declined
from mildladder.store.advice import declined
from mildladder.store.cache import Needs, cached
from mildladder.store.database import Database
from mildladder.store.documents import document_of
from mildladder.store.drafts import State, revision, states
from mildladder.store.log import reading as store
from mildladder.store.tables import DeclinedNudgeRow

__all__ = ["NUDGING", "Declined", "WhatToChange", "decline", "nudges"]

_LEAST_CASES = 30


class NudgeQuestion(AboutCases):
    """What to change next of a revision of a draft. others: a digest of what else the answer depends on: what eases the
    harm of its steps in other playbooks, and what names in its log are said to be."""

    kind: ClassVar[str] = "nudging"
    ask: Literal["nudging"] = "nudging"
    revision: int
    others: str


def _alike(window: int) -> dict[str, Any]:
    """What an older answer has to have been asked for the same as, for it to be one of the same question."""
    return {"ask": "nudging", "window": window}


class NudgeList(Shape):
    """What to change next of one draft. revision: of the draft; as_of: when it was worked out; drifts: steps that have
    stopped working; followed: what came of what its editions promised; pace: how many cases a month it counts with."""

    revision: int
    as_of: datetime
    pace: Pace
    nudges: tuple[Nudge, ...]
    drifts: tuple[Drift, ...] = ()
    followed: tuple[Followed, ...] = ()


class NamedDrift(Drift):
    """A step that has stopped working, by its title. key: by which one says that it was seen."""

    key: str
    title: str


class SymptomNudges(Shape):
    """What to change next of one symptom. is_stale: cases or changes have come since, and a newer answer is made."""

    playbook: Id
    title: str
    revision: int
    as_of: datetime
    is_stale: bool
    pace: Pace
    nudges: tuple[Nudge, ...]
    drifts: tuple[NamedDrift, ...]
    followed: tuple[Followed, ...]


class WhatToChange(Shape):
    """What to change next, by symptom. of: how many symptoms have enough cases to say something; waiting: those of them
    whose answer is being worked out anew. counted_on: the share that figures count on of what is promised; 1 unless
    much less came of promises before."""

    symptoms: tuple[SymptomNudges, ...]
    of: int
    waiting: int
    counted_on: float


class Declined(Shape):
    """That a nudge is not wanted: for good, or until the cases say something else."""

    is_for_good: bool
    why: Annotated[str, Field(max_length=300)] = ""


def nudges(database: Database, workers: jobs.Workers, now: datetime) -> WhatToChange:
    """What to change next by symptom, older answers where newer ones are being made. Symptoms of too few cases have
    none."""
    with database.reading() as session:
        window = return_window(session)
        guards = _guards_by_step(session)
        questions = [
            _question(session, state, guards, window, now)
            for state in states(session)
            if sum(store.ends(session, state.playbook).values()) >= _LEAST_CASES
        ]
    answers = jobs.answers_of(database, workers, questions, now)
    found, waiting = [], 0
    asked = zip(questions, answers, strict=True)
    open_ones = {question.subject for question, answer in asked if isinstance(answer, jobs.Waiting)}
    with database.reading() as session:
        older = kept_jobs.last_answers(session, "nudging", open_ones, _alike(window))
        said = declined(session)
        for question, answer in zip(questions, answers, strict=True):
            # What a draft is refused for is told where it is edited; meanwhile nothing is said of it here.
            if isinstance(answer, LadderError):
                continue
            is_waiting = isinstance(answer, jobs.Waiting)
            waiting += is_waiting
            told = older.get(question.subject) if isinstance(answer, jobs.Waiting) else answer
            if told is not None:
                unwanted = said.get(question.subject, {})
                found.append(_of_symptom(session, question, told, is_waiting, unwanted))
    known_of = [
        (one.a_month * one.promised.saving.mean, one.a_month * one.came.saving.mean)
        for symptom in found
        for one in symptom.followed
        if one.came is not None
    ]
    share = share_to_count_on(known_of)
    if share < 1:
        found = [
            one.model_copy(update={"nudges": tuple(lowered(nudge, share) for nudge in one.nudges)}) for one in found
        ]
    return WhatToChange(symptoms=tuple(found), of=len(questions), waiting=waiting, counted_on=share)


def _question(
    session: Session, state: State, guards: Mapping[str, Sequence["_Guard"]], window: int, now: datetime
) -> NudgeQuestion:
    """What to change next of a draft."""
    steps = titles_of(session, state.playbook, state.draft).steps
    logged = store.attempted(session, state.playbook)
    needs = Needs(draft=(state.playbook, state.draft), library=True, names=True)
    own = cached(session, "own names", needs, lambda: names_of_their_own(session, steps))
    others = [
        sorted({guard.says for step in steps for guard in guards.get(step, ()) if guard.playbook != state.playbook}),
        sorted((step, name) for step, name in own.items() if step in logged),
    ]
    return NudgeQuestion(
        subject=state.playbook,
        version=state.tallies,
        edition=state.edition,
        revision=state.draft,
        window=window,
        today=now.date(),
        others=hashlib.sha256(json.dumps(others).encode()).hexdigest()[:16],
    )


def _of_symptom(
    session: Session, question: NudgeQuestion, told: str, is_stale: bool, said: Mapping[str, DeclinedNudgeRow]
) -> SymptomNudges:
    """What is shown of an answer, or of an older one while a newer is being worked out. said: what is not wanted, by
    key."""
    playbook_id = question.subject
    made = NudgeList.model_validate_json(told)
    titles = titles_of(session, playbook_id, question.revision)
    return SymptomNudges(
        playbook=playbook_id,
        title=titles.playbook,
        revision=made.revision,
        as_of=made.as_of,
        is_stale=is_stale,
        pace=made.pace,
        nudges=tuple(one for one in made.nudges if not _is_hidden(one, said.get(one.key))),
        drifts=tuple(one for one in _named(made.drifts, playbook_id, titles.steps) if one.key not in said),
        followed=made.followed,
    )


def _named(found: Iterable[Drift], playbook_id: str, titles: Mapping[str, str]) -> Iterator[NamedDrift]:
    return (
        NamedDrift(**one.model_dump(), key=_key_of(playbook_id, one), title=titles[one.step])
        for one in found
        if one.step in titles
    )


def _key_of(playbook_id: str, drift: Drift) -> str:
    """The same for the same step since the same month: what begins anew is told anew."""
    return hashlib.sha256(f"{playbook_id} drift {drift.step} {drift.since}".encode()).hexdigest()[:16]


def _is_hidden(nudge: Nudge, row: DeclinedNudgeRow | None) -> bool:
    """Never for good; not now until what it would save has moved by half of its interval's width."""
    return row is not None and (row.is_for_good or abs(nudge.saving.mean - row.mean) <= row.width / 2)


def decline(session: Session, playbook_id: str, key: str, said: Declined, who: int, now: datetime) -> None:
    """Hide a nudge, or a step that has stopped working, once that was seen. Raises NotFound for one that nobody is
    shown, NotTheirs for anybody but a lead, and Conflict for never without a reason."""
    check_lead(session, who)
    if said.is_for_good and not said.why.strip():
        raise Conflict("say why it is never to be shown again")
    saving = _saving_of(session, playbook_id, key)
    row = DeclinedNudgeRow(
        playbook_id=playbook_id,
        key=key,
        is_for_good=said.is_for_good,
        mean=saving.mean,
        width=saving.high - saving.low,
        why=said.why.strip(),
        at=now,
        who=who,
    )
    keep_declined(session, row)


def _saving_of(session: Session, playbook_id: str, key: str) -> Span:
    """What a nudge would save; nothing for a step that has stopped working."""
    number = kept_jobs.last_done(session, "nudging", playbook_id, _alike(return_window(session)))
    result = kept_jobs.job(session, number).result if number is not None else None
    told = NudgeList.model_validate_json(result) if result else None
    savings = {one.key: one.saving for one in told.nudges} if told else {}
    savings |= {_key_of(playbook_id, one): Span(mean=0, low=0, high=0) for one in told.drifts} if told else {}
    if key not in savings:
        raise NotFound("that is not suggested any more; look at what to do next again")
    return savings[key]


def _advise(task: Task[NudgeQuestion]) -> None:
    """Work out what to change next of one draft. Raises Stopped, and what the draft or the log is refused with."""
    taught, today = taught_of(task), task.question.today
    with task.database.reading() as session:
        often = pace(session, task.subject, today)
        kept_promises = promised(session, task.subject, today)
        logged = store.step_minutes(session, task.subject)
        odd = odd_steps(session, task.subject, taught.draft)
        elsewhere = _safeguards_elsewhere(session, task.subject)

    def refit(playbook: Playbook) -> Estimated:
        records, model = records_of(odd.tallies, learnable(playbook))
        return estimate(records, model, {step: row.tried for step, row in taught.counts.items()}, {}, check=task.check)

    grounds = Grounds(
        made=taught.whole,
        draft=taught.draft,
        told=taught.told,
        counts=taught.counts,
        splits=taught.view.splits,
        a_month=often.a_month,
        refit=refit,
        minutes={
            step.id: took
            for step in taught.draft.steps
            if (took := minutes_of_step(step, logged.get(step.id, {}), taught.draft.retest)) is not None
        },
        odd=odd.tried,
        elsewhere=elsewhere,
    )
    found = NudgeList(
        revision=task.question.revision,
        as_of=utc_now(),
        pace=often,
        nudges=nudges_of(grounds, task.is_stopped),
        drifts=taught.view.drifts,
        followed=tuple(followed_up(one, taught.whole, taught.told) for one in kept_promises),
    )
    with task.database.writing(is_durable=False) as session:
        task.end(session, found.model_dump_json(by_alias=True))


class _Guard(NamedTuple):
    """What eases one kind of harm of a step in a playbook. says: all of it, as text."""

    playbook: str
    step: str
    kind: HazardKind
    guard: Step
    says: str


def _guards_by_step(session: Session) -> dict[str, list[_Guard]]:
    """What eases the harm of steps, in every draft, by step."""
    found: dict[str, list[_Guard]] = {}
    for state in states(session):
        for one in cached(
            session, "safeguards", Needs(draft=(state.playbook, state.draft)), partial(_guards, session, state)
        ):
            found.setdefault(one.step, []).append(one)
    return found


def _guards(session: Session, state: State) -> tuple[_Guard, ...]:
    playbook = document_of(revision(session, state.playbook, state.draft)).playbook
    return tuple(
        _Guard(state.playbook, step, kind, guard, f"{step} {kind} {guard.model_dump_json()}")
        for step, kind, guard in safeguards_of(playbook)
    )


def _safeguards_elsewhere(session: Session, playbook_id: str) -> dict[tuple[str, HazardKind], list[Step]]:
    """What eases the harm of steps in the other playbooks, by step and kind."""
    found: dict[tuple[str, HazardKind], dict[str, Step]] = {}
    for guards in _guards_by_step(session).values():
        for one in guards:
            if one.playbook != playbook_id:
                found.setdefault((one.step, one.kind), {})[one.guard.id] = one.guard
    return {key: list(guards.values()) for key, guards in found.items()}


NUDGING = JobKind(
    name=NudgeQuestion.kind,
    work={NudgeQuestion: _advise, PromiseQuestion: promise},
    is_newest_first=False,
    niceness=15,
)
