"""Everything that is estimated of a log, however it came to be read."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any, ClassVar, NamedTuple

from sqlalchemy.orm import Session

from mildladder.clock import utc_now
from mildladder.core.evidence.comebacks import ComeBack, Cured, come_backs
from mildladder.core.evidence.counts import HarmCount
from mildladder.core.evidence.differences import Drift, Split, drifts, splits
from mildladder.core.evidence.doubts import Doubt, doubts
from mildladder.core.evidence.estimate import Estimate, Estimated, estimate
from mildladder.core.evidence.expected import expected
from mildladder.core.evidence.forward import told_of
from mildladder.core.evidence.histories import history_shares, history_tests
from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.learned import Guess, guesses_of, medians
from mildladder.core.evidence.lesson import Lesson, lesson_of
from mildladder.core.evidence.rates import StepEvidence, count_steps
from mildladder.core.evidence.records import KeyedTally, records_of
from mildladder.core.evidence.spent import SpentCurves, observed_curve, spent_curve
from mildladder.core.evidence.versions import with_versions
from mildladder.core.figures.forecast import forecast
from mildladder.core.model import Playbook, Shape
from mildladder.core.ordering.best import Infeasible, best_order
from mildladder.core.tally.signature import Tally
from mildladder.desk.documents import document
from mildladder.desk.evidence.harms import harms_of
from mildladder.desk.jobs.question import Question
from mildladder.desk.jobs.task import Task
from mildladder.desk.log.origins import informative, kept_out
from mildladder.store.cache import Key, Needs, key_of
from mildladder.store.documents import document_of
from mildladder.store.drafts import revision
from mildladder.store.log import reading as store
from mildladder.store.log.search import visits

__all__ = ["AboutCases", "EstimateView", "Log", "estimated_of", "read_log", "study"]

_SEED = 1
# By so many cases a share is known to within a hundredth.
_MOST_ASKED = 2_000


class AboutCases(Question):
    """About the logged cases of a symptom; its version is that of their tallies. edition: whose ladder is estimated;
    revision: of the draft that is asked about, or estimated where there is no edition; window: days within which a unit
    that comes back tells of its cure; today: which months count as the last."""

    kind: ClassVar[str] = "estimating"
    version: int
    edition: int | None
    revision: int | None
    window: int
    today: date


class EstimateView(Shape):
    """Everything estimated of one symptom. as_of: when it was worked out; edition: of which ladder, None: of the draft;
    filtered: how many cases a filter left, None: all; kept_out: how many brought-in cases say nothing here, as a lead
    wants it, None: all say what they can; lesson: what a draft is taught by, None where too few cases say;
    is_stale: cases have come since, and a new one is being made."""

    as_of: datetime
    edition: int | None
    filtered: int | None
    kept_out: int | None = None
    estimate: Estimate
    splits: tuple[Split, ...]
    drifts: tuple[Drift, ...]
    doubts: tuple[Doubt, ...]
    come_backs: tuple[ComeBack, ...]
    guesses: tuple[Guess, ...]
    lesson: Lesson | None = None
    spent: SpentCurves
    is_stale: bool = False


@dataclass(frozen=True)
class Log:
    """What the cases of a symptom say. tallies: by whatever tells cases apart; by_period: by closing; harms: by step;
    cured: cures by step and closing; ladders: by which cases were climbed, by edition; minutes: by step, in bins;
    histories: how often each test of a unit's history held."""

    tallies: Sequence[KeyedTally]
    by_period: Sequence[Tally]
    harms: Mapping[str, HarmCount]
    cured: Sequence[Cured]
    ladders: Mapping[int, Playbook]
    minutes: Mapping[str, Mapping[str, int]] = field(default_factory=dict)
    histories: Mapping[str, float] = field(default_factory=dict)


def _spent(playbook: Playbook, counts: Mapping[str, StepEvidence], cases: int) -> SpentCurves:
    balanced = playbook.model_copy(update={"policy": playbook.policy.model_copy(update={"mode": "balanced"})})
    try:
        best = spent_curve(best_order(balanced).forecast)
    except Infeasible:
        best = None
    return SpentCurves(
        forecast=spent_curve(forecast(playbook)), best=best, observed=observed_curve(playbook, counts, cases)
    )


Made = tuple[Estimated, EstimateView]


class LogRead(NamedTuple):
    """What was read of a part of a symptom's cases for an estimate of them. made: the estimate, where there is one
    already; else the ladder, its log, and how many brought-in cases say nothing."""

    key: Key
    part: store.Filter
    made: Made | None
    playbook: Playbook | None = None
    log: Log | None = None
    kept_out: int | None = None


def read_log(session: Session, task: Task[Any], part: store.Filter = store.EVERYTHING) -> LogRead:
    """Read what an estimate rests on. `estimated_of` is called once the session has ended: writers need not keep the
    state that was read for as long as the work takes."""
    asked: AboutCases = task.question
    edition, day = asked.edition, asked.today
    needs = Needs(
        draft=None if edition or asked.revision is None else (task.subject, asked.revision),
        editions=((task.subject, edition),) if edition else (),
        tallies=task.subject,
        # Whether brought-in cases speak.
        settings=True,
        day=day,
        asked=(part, asked.window),
    )
    key = key_of(session, "study", needs)
    if (there := task.database.cache.find(key)) is not None:
        return LogRead(key, part, there[0])
    playbook = _ladder(session, asked)
    log = _log(session, playbook, informative(session, playbook.id, part))
    out = kept_out(session, playbook.id) if part.is_guided is None else None
    return LogRead(key, part, None, playbook, log, out)


def estimated_of(task: Task[Any], read: LogRead, whole: Estimated | None = None) -> Made:
    """What is estimated of what was read; a worker keeps it from one question to the next. whole: of all cases, where
    these are a part."""
    if read.made is not None:
        return read.made
    assert read.playbook is not None
    assert read.log is not None
    asked: AboutCases = task.question
    by_fact = bool(read.part.facts)
    estimated, view = study(read.playbook, read.log, asked.today, asked.window, whole, by_fact, task.check)
    made = estimated, view.model_copy(update={"kept_out": read.kept_out})
    task.database.cache.put(read.key, made)
    return made


def _ladder(session: Session, asked: AboutCases) -> Playbook:
    """The ladder that is estimated: an edition, or the draft that was asked about where there is none."""
    if asked.edition is not None:
        return document(session, asked.subject, asked.edition)
    assert asked.revision is not None, "where there is no edition, a draft is asked about"
    return document_of(revision(session, asked.subject, asked.revision)).playbook


def _log(session: Session, playbook: Playbook, part: store.Filter) -> Log:
    playbook_id = playbook.id
    tallies = store.keyed_tallies(session, playbook_id, part)
    by_period = list(store.tallies(session, playbook_id, part))
    editions = sorted({one.edition for one in tallies if one.edition})
    return Log(
        tallies=tallies,
        by_period=by_period,
        harms=harms_of(session, playbook, part),
        cured=cured_of(by_period, store.returns_of(session, playbook_id, part)),
        ladders={number: document(session, playbook_id, number) for number in editions},
        minutes=store.step_minutes(session, playbook_id, part),
        histories=_histories(session, playbook),
    )


def _histories(session: Session, playbook: Playbook) -> dict[str, float]:
    tests = history_tests(playbook)
    return history_shares(tests, *visits(session, playbook.id, _MOST_ASKED)) if tests else {}


def study(
    playbook: Playbook,
    log: Log,
    today: date,
    window: int,
    whole: Estimated | None = None,
    by_fact: bool = False,
    check: Callable[[], None] = lambda: None,
    seed: int = _SEED,
) -> tuple[Estimated, EstimateView]:
    """Everything that is estimated of a log, and what filters of it start from. whole: of all cases, where these are a
    part; by_fact: that a fact tells apart."""
    tallies = log.tallies
    counts = count_steps(log.by_period, today, window)
    model = whole.model if whole else learnable(playbook)
    records, model = records_of(tallies, model, is_part=whole is not None)
    made = estimate(
        records, model, {step: row.tried for step, row in counts.items()}, _held(counts), seed, check, whole, by_fact
    )
    mean = made.chances.mean()
    found = expected(tallies, model, mean)
    # By the causes of all units: those that the cases gave each sort of unit explain a step away that is dead there.
    alike = found if len(model.groups) == 1 else expected(tallies, model, mean.alike(model.times))
    told_apart = splits(alike)
    check()
    tried = [one.learned for one in made.estimate.steps if (row := counts.get(one.step)) and row.tried]
    view = EstimateView(
        as_of=utc_now(),
        edition=None,
        filtered=sum(one.count for one in tallies) if whole else None,
        estimate=made.estimate,
        splits=told_apart,
        drifts=with_versions(drifts(found), tallies, playbook, told_apart),
        doubts=doubts(tallies, records, made.posterior, mean, found, tried, log.ladders, check)
        if records.cases
        else (),
        come_backs=come_backs(log.cured, today, window),
        guesses=guesses_of(made, counts),
        lesson=lesson_of(made, told_of(counts, log.harms, medians(playbook, log.minutes), log.histories)),
        spent=_spent(playbook, counts, sum(one.count for one in tallies)),
    )
    return made, view


def _held(counts: Mapping[str, StepEvidence]) -> dict[str, tuple[int, int]]:
    return {step: (row.held, row.judged) for step, row in counts.items() if row.judged}


def cured_of(by_period: Sequence[Tally], returns: Sequence[store.Returns]) -> list[Cured]:
    """Cures by step and period."""
    counts: dict[tuple[str, str], int] = {}
    for tally in by_period:
        step = tally.signature.resolved_by
        if step is not None:
            counts[step, tally.period] = counts.get((step, tally.period), 0) + tally.count
    back: dict[tuple[str, str], dict[int, int]] = {}
    for one in returns:
        own = back.setdefault((one.step, one.period), {})
        own[one.days] = own.get(one.days, 0) + one.count
    return [Cured(step, period, count, back.get((step, period), {})) for (step, period), count in counts.items()]
