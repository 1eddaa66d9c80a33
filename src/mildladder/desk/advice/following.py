"""What editions promised when they were published, and what came of it."""

from collections.abc import Sequence
from datetime import UTC, date, datetime, timedelta
from typing import ClassVar, Literal, NamedTuple

from sqlalchemy.orm import Session

from mildladder.core.advice.followup import LEAST_CASES, LEAST_DAYS, Worth, worth_of
from mildladder.core.errors import BadInput, Stopped
from mildladder.core.evidence.estimate import Estimated
from mildladder.core.evidence.forward import Span, Told, told_of
from mildladder.core.evidence.observed import observed_editions
from mildladder.core.evidence.pace import Pace, pace_of
from mildladder.core.evidence.rates import count_steps
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.model import Playbook, Shape
from mildladder.desk.documents import document
from mildladder.desk.evidence.harms import harms_of
from mildladder.desk.evidence.studying import AboutCases, estimated_of, read_log
from mildladder.desk.jobs.queue import join_or_add
from mildladder.desk.jobs.task import Task
from mildladder.desk.log.origins import informative
from mildladder.desk.settings import return_window
from mildladder.store.advice import keep_promise, promises
from mildladder.store.log import reading as store
from mildladder.store.log.counting import folded_until
from mildladder.store.log.search import first_closing
from mildladder.store.tables import PromiseRow

__all__ = ["Followed", "PromiseQuestion", "ask_for_promise", "followed_up", "pace", "promise", "promised"]

_MOST = 4
# A promise that is worked out so much later knows already what came of it.
_MOST_SINCE = 0.05


class PromiseQuestion(AboutCases):
    """What an edition promises against the one before. after: the edition; cases: how many there were when it was
    published."""

    kind: ClassVar[str] = "nudging"
    ask: Literal["promise"] = "promise"
    edition: int
    after: int
    published: datetime
    cases: int


class Followed(Shape):
    """What an edition promised against the one before, and what came of it, each a case. a_month: cases a month when it
    was published; since: cases that it has had; came: None until it has had enough of them, or enough time; observed:
    minutes less on the clock as the cases of both went, None where that cannot be told."""

    edition: int
    published: datetime
    promised: Worth
    a_month: float
    since: int
    came: Worth | None
    observed: Span | None


def ask_for_promise(session: Session, playbook_id: str, edition: int, who: int, now: datetime) -> None:
    """Have it worked out what a new edition promises, by the cases as they stand at its publishing; where these are too
    few, it promises nothing."""
    cases = sum(store.ends(session, playbook_id).values())
    if edition < 2 or cases < LEAST_CASES:
        return
    asked = PromiseQuestion(
        subject=playbook_id,
        version=store.version_of(session, playbook_id),
        edition=edition - 1,
        after=edition,
        revision=None,
        window=return_window(session),
        today=now.astimezone(UTC).date(),
        published=now,
        cases=cases,
    )
    join_or_add(session, asked, who, now)


def promise(task: Task[PromiseQuestion]) -> None:
    """Work out what an edition promises, and keep it; nothing where too few cases say anything, or where so many have
    come since that it would be no promise any more. Raises Stopped."""
    asked, name, today = task.question, task.subject, task.question.today
    with task.database.reading() as session:
        before, after = (document(session, name, number) for number in (asked.edition, asked.after))
        read = read_log(session, task)
        part = informative(session, name)
        counts = count_steps(store.tallies(session, name, part), today, asked.window)
        told = told_of(counts, harms_of(session, after, part))
        a_month = pace(session, name, today).a_month
        since = sum(store.ends(session, name).values()) - asked.cases
    whole, view = estimated_of(task, read)
    task.check()
    is_late = since > _MOST_SINCE * asked.cases
    made = None if is_late or view.estimate.refused else worth_of(whole, before, after, told)
    with task.database.writing(is_durable=made is not None) as session:
        if made is not None:
            row = PromiseRow(
                playbook_id=name,
                edition=asked.after,
                published=asked.published,
                cases=view.estimate.cases,
                a_month=a_month,
                worth=made.model_dump(mode="json"),
            )
            keep_promise(session, row)
        task.end(session, "null" if made is None else made.model_dump_json())


class Promised(NamedTuple):
    """An edition that promised something, the cases of it and of the one before, and both documents where it is time to
    say what came of it."""

    row: PromiseRow
    own: Sequence[KeyedTally]
    earlier: Sequence[KeyedTally]
    documents: tuple[Playbook, Playbook] | None


def promised(session: Session, playbook_id: str, today: date) -> list[Promised]:
    """The last editions that promised something, the newest first."""
    tallies = store.keyed_tallies(session, playbook_id)
    found = []
    for row in promises(session, playbook_id)[:_MOST]:
        own = [one for one in tallies if one.edition == row.edition]
        earlier = [one for one in tallies if one.edition == row.edition - 1]
        is_late = today - row.published.date() >= timedelta(days=LEAST_DAYS)
        documents = None
        if is_late or sum(one.count for one in own) >= LEAST_CASES:
            documents = (document(session, playbook_id, row.edition - 1), document(session, playbook_id, row.edition))
        found.append(Promised(row, own, earlier, documents))
    return found


def followed_up(promise: Promised, whole: Estimated, told: Told) -> Followed:
    """What came of it. Raises Stopped where an edition was taken away."""
    row = promise.row
    came = observed = None
    if promise.documents is not None and not whole.estimate.refused:
        try:
            came = worth_of(whole, *promise.documents, told)
        except BadInput:
            raise Stopped from None
        seen = observed_editions(whole, promise.earlier, promise.own)
        if seen is not None:
            more = seen.more.minutes
            observed = Span(mean=-more.mean, low=-more.high, high=-more.low)
    return Followed(
        edition=row.edition,
        published=row.published,
        promised=Worth.model_validate(row.worth),
        a_month=row.a_month,
        since=sum(one.count for one in promise.own),
        came=came,
        observed=observed,
    )


def pace(session: Session, playbook_id: str, today: date) -> Pace:
    """How many cases of a symptom come in a month, and over how long that was seen."""
    counts = store.cases_by_period(session, playbook_id)
    return pace_of(counts.items(), first_closing(session, playbook_id), folded_until(session), today)
