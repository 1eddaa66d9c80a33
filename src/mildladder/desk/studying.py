"""Everything that is estimated of a log, however it came to be read."""

from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from sqlalchemy.orm import Session

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
from mildladder.core.evidence.signature import Tally
from mildladder.core.evidence.spent import SpentCurves, observed_curve, spent_curve
from mildladder.core.evidence.versions import with_versions
from mildladder.core.figures.forecast import forecast
from mildladder.core.model import Playbook, Shape
from mildladder.core.ordering.best import Infeasible, best_order
from mildladder.desk.editions import document
from mildladder.desk.harms import harms_of
from mildladder.desk.origins import kept_out, speaking
from mildladder.desk.tasks import Task, utc_now
from mildladder.store.log import reading as store
from mildladder.store.log.search import visits

__all__ = ["EstimateView", "Log", "of_cases", "remember", "study", "whole_of"]

_SEED = 1
_MOST_WHOLE = 24
# By so many cases a share is known to within a hundredth.
_MOST_ASKED = 2_000


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


_whole: OrderedDict[tuple[Any, ...], tuple[Estimated, EstimateView]] = OrderedDict()


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


def whole_of(session: Session, task: Task, playbook: Playbook, today: date) -> tuple[Estimated, EstimateView]:
    """The estimate of all cases that filters and drafts start from; a worker keeps it from one question to the next."""
    made = _whole.get(_key(session, task))
    return made or remember(session, task, of_cases(session, playbook, store.EVERYTHING, today, task))


def remember(session: Session, task: Task, made: tuple[Estimated, EstimateView]) -> tuple[Estimated, EstimateView]:
    """Keep an estimate of all cases for whoever starts from it."""
    _whole[_key(session, task)] = made
    while len(_whole) > _MOST_WHOLE:
        _whole.popitem(last=False)
    return made


def _key(session: Session, task: Task) -> tuple[Any, ...]:
    """What it is the estimate of: the ladder, and the version of the tallies."""
    edition, revision = task.asked["edition"], task.asked["revision"]
    version = store.version_of(session, task.subject)
    return (str(task.database.path), task.subject, edition, None if edition else revision, version)


def of_cases(
    session: Session, playbook: Playbook, part: store.Filter, today: date, task: Task, whole: Estimated | None = None
) -> tuple[Estimated, EstimateView]:
    """What is estimated of the cases that a filter leaves. whole: of all of them, where these are a part."""
    log = _log(session, playbook, speaking(session, playbook.id, part))
    made, view = study(playbook, log, today, task.asked["window"], whole, bool(part.facts), task.check)
    out = kept_out(session, playbook.id) if part.is_guided is None else None
    return made, view.model_copy(update={"kept_out": out})


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
    playbook: Playbook, log: Log, today: date, window: int, whole: Estimated | None = None, by_fact: bool = False,
    check: Callable[[], None] = lambda: None, seed: int = _SEED,
) -> tuple[Estimated, EstimateView]:  # fmt: skip
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
