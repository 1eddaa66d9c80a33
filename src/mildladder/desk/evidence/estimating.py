"""The estimate of one symptom as a job: a page never waits for it, and shows an older one while a new one is made."""

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, Literal

from sqlalchemy.orm import Session

from mildladder.core.advice.replay import Replay, replay
from mildladder.core.errors import Stopped
from mildladder.core.evidence.estimate import Estimated
from mildladder.core.evidence.forward import LearnedFigures, Told, drawn_of, learned_figures, told_of
from mildladder.core.evidence.observed import ObservedEditions, observed_editions
from mildladder.core.evidence.rates import StepEvidence, count_steps
from mildladder.core.model import Playbook, Shape
from mildladder.desk.documents import Version, document, newest_as, revision_of
from mildladder.desk.evidence.harms import harms_of
from mildladder.desk.evidence.studying import AboutCases, EstimateView, estimated_of, read_log
from mildladder.desk.evidence.symptom import EvidenceFilter
from mildladder.desk.evidence.teaching import alike
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.jobs.kind import JobKind
from mildladder.desk.jobs.task import Task
from mildladder.desk.log.origins import informative
from mildladder.desk.settings import return_window
from mildladder.store import jobs as kept_jobs
from mildladder.store.cache import Key, Needs, key_of
from mildladder.store.database import Database
from mildladder.store.documents import document_of
from mildladder.store.drafts import newest_revision, revision
from mildladder.store.editions import newest_number
from mildladder.store.log import reading as store

__all__ = [
    "ESTIMATING",
    "EstimateView",
    "LearnedFigures",
    "ReplayView",
    "estimated",
    "learned",
    "replayed",
    "taught_of",
]


class ReplayView(Shape):
    """A ladder on the logged cases; observed: both as their own cases went, None where one is no edition or has too few
    cases."""

    replay: Replay
    observed: ObservedEditions | None


class EstimateQuestion(AboutCases):
    """What the cases say of every step. filter: which of them."""

    ask: Literal["estimating"] = "estimating"
    filter: EvidenceFilter


class LearnedQuestion(AboutCases):
    """The figures of a revision of the draft by what the cases have taught."""

    ask: Literal["learned"] = "learned"


class ReplayQuestion(AboutCases):
    """A ladder on the logged cases, against another where one is named."""

    ask: Literal["replay"] = "replay"
    before: Version | None
    after: Version


def _alike(asked: EstimateQuestion) -> dict[str, Any]:
    return alike(asked.edition, asked.filter, asked.window)


def estimated(
    database: Database, workers: jobs.Workers, playbook_id: str, case_filter: EvidenceFilter, now: datetime
) -> str | jobs.Waiting:
    """The estimate as JSON text, an older one where a new one is being made; Waiting while there is none at all.

    Raises NotFound, and whatever the work raised.
    """
    with database.reading() as session:
        version = store.version_of(session, playbook_id)
        edition = newest_number(session, playbook_id)
        revision = None if edition else revision_of(session, playbook_id)
        window = return_window(session)
    asked = EstimateQuestion(
        subject=playbook_id,
        version=version,
        edition=edition,
        revision=revision,
        filter=case_filter,
        window=window,
        today=now.date(),
    )
    made = jobs.answer_of(database, workers, asked, now)
    older = _older(database, asked) if isinstance(made, jobs.Waiting) else None
    return older if older is not None else made


def _older(database: Database, asked: EstimateQuestion) -> str | None:
    """The last estimate of the same filter, said to be an older one."""
    with database.reading() as session:
        found = kept_jobs.last_done(session, asked.kind, asked.subject, _alike(asked))
        if found is None:
            return None
        result = json.loads(kept_jobs.job(session, found).result or "{}")
        return json.dumps({**result, "is_stale": True}, ensure_ascii=False)


def learned(
    database: Database, workers: jobs.Workers, playbook_id: str, number: int | None, now: datetime
) -> str | jobs.Waiting:
    """The figures of a revision of the draft by what the cases have taught, as JSON text. Raises NotFound, Stale, and
    whatever the work raised."""
    with database.reading() as session:
        row = newest_as(session, playbook_id, number) if number else newest_revision(session, playbook_id)
        version = store.version_of(session, playbook_id)
        edition = newest_number(session, playbook_id)
        window = return_window(session)
    asked = LearnedQuestion(
        subject=playbook_id, version=version, edition=edition, revision=row.number, window=window, today=now.date()
    )
    return jobs.answer_of(database, workers, asked, now)


@dataclass(frozen=True)
class Taught:
    """A revision of a draft, the edition beside it, and what the cases have taught. edition_key: under which the draws
    of the edition are held."""

    edition_key: Key
    whole: Estimated
    view: EstimateView
    draft: Playbook
    counts: Mapping[str, StepEvidence]
    edition: Playbook | None
    told: Told


def _learned(task: Task[LearnedQuestion]) -> LearnedFigures:
    taught = taught_of(task)
    lesson = taught.view.lesson
    told = replace(taught.told, minutes=lesson.minutes, histories=lesson.histories) if lesson else taught.told
    now, before = drawn_of(taught.whole, taught.draft, told), None
    if (edition := taught.edition) is not None:
        # Every revision of a draft stands beside the same one; by the tallies that this draft is taught by, and not by
        # those that have come since.
        cache = task.database.cache
        there = cache.find(taught.edition_key)
        before = there[0] if there is not None else drawn_of(taught.whole, edition, told)
        cache.put(taught.edition_key, before)
    return learned_figures(taught.whole, now, before)


def taught_of(task: Task[Any]) -> Taught:
    """What a task about a revision of a draft rests on. Raises Stopped where a newer revision is there."""
    asked: AboutCases = task.question
    name = asked.subject
    assert asked.revision is not None, "a revision of the draft is asked about"
    with task.database.reading() as session:
        if newest_revision(session, name).number > asked.revision:
            raise Stopped
        draft = document_of(revision(session, name, asked.revision)).playbook
        edition = document(session, name, asked.edition) if asked.edition else None
        read = read_log(session, task)
        part = informative(session, name)
        counts = _counted(session, asked, part)
        told = told_of(counts, harms_of(session, draft, part))
        needs = Needs(
            editions=((name, asked.edition),) if asked.edition else (),
            tallies=name,
            settings=True,
            day=asked.today,
            asked=asked.window,
        )
        edition_key = key_of(session, "drawn edition", needs)
    whole, view = estimated_of(task, read)
    return Taught(edition_key, whole, view, draft, counts, edition, told)


def _counted(session: Session, asked: AboutCases, part: store.Filter) -> Mapping[str, StepEvidence]:
    """What is counted of each step, until more cases come or another day."""
    name, day, window = asked.subject, asked.today, asked.window

    def count() -> Mapping[str, StepEvidence]:
        return count_steps(store.tallies(session, name, part), day, window)

    return store.of_version(session, name, ("steps counted", part, day, window), count)


def _estimate(task: Task[EstimateQuestion]) -> EstimateView:
    asked = task.question
    with task.database.reading() as session:
        newer = kept_jobs.last_done(session, asked.kind, asked.subject, _alike(asked))
        if newer is not None and newer > task.number:
            raise Stopped
        everything = read_log(session, task)
        part = asked.filter.of_store()
        some = None if part.is_all else read_log(session, task, part)
    whole, view = estimated_of(task, everything)
    if some is not None:
        _, view = estimated_of(task, some, whole)
    return view.model_copy(update={"edition": asked.edition})


def replayed(
    database: Database, workers: jobs.Workers, playbook_id: str, before: Version | None, after: Version, now: datetime
) -> str | jobs.Waiting:
    """A ladder on the logged cases, against another where one is named, as JSON text.

    Raises NotFound, and whatever the work raised.
    """
    with database.reading() as session:
        version = store.version_of(session, playbook_id)
        row = newest_revision(session, playbook_id)
        for one in (before, after):
            if isinstance(one, int):
                document(session, playbook_id, one)
        edition = newest_number(session, playbook_id)
        is_of_draft = edition is None or "draft" in (before, after)
        asked = ReplayQuestion(
            subject=playbook_id,
            version=version,
            before=before,
            after=after,
            edition=edition,
            window=return_window(session),
            revision=row.number if is_of_draft else None,
            today=now.date(),
        )
    return jobs.answer_of(database, workers, asked, now)


def _replay(task: Task[ReplayQuestion]) -> ReplayView:
    asked, name = task.question, task.subject
    with task.database.reading() as session:
        if asked.revision and newest_revision(session, name).number > asked.revision:
            raise Stopped
        read = read_log(session, task)
        after = document(session, name, asked.after)
        before = document(session, name, asked.before) if asked.before else None
        part = informative(session, name)
        counts = _counted(session, asked, part)
        told = told_of(counts, harms_of(session, after, part))
        tallies = store.keyed_tallies(session, name)
    whole, _ = estimated_of(task, read)
    task.check()
    of = [[one for one in tallies if one.edition == number] for number in (asked.before, asked.after)]
    return ReplayView(
        replay=replay(whole, tallies, after, before, told),
        observed=observed_editions(whole, *of) if all(of) else None,
    )


def _answering(answer: Callable[[Task[Any]], Shape]) -> Callable[[Task[Any]], None]:
    """The work that answers such a question. It raises Stopped, and what the playbook is refused with."""

    def work(task: Task[Any]) -> None:
        made = answer(task)
        with task.database.writing(is_durable=False) as session:
            task.end(session, made.model_dump_json())

    return work


ESTIMATING = JobKind(
    name=AboutCases.kind,
    work={
        EstimateQuestion: _answering(_estimate),
        LearnedQuestion: _answering(_learned),
        ReplayQuestion: _answering(_replay),
    },
    is_newest_first=True,
    niceness=5,
)
