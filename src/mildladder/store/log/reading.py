"""What the tallies say: everything that evidence and the Desk need, without looking at a single case.

What is worked out of one version of a symptom's tallies is kept, see `of_version`.
"""

import json
from collections import Counter, defaultdict
from collections.abc import Callable, Hashable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Any, NamedTuple, TypeVar

from sqlalchemy import ColumnElement, case, func, select
from sqlalchemy.orm import Session

from mildladder.core.evidence.counts import HarmCount
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.model.outcomes import CURED
from mildladder.core.tally.signature import Tally, read_signature, steps_in
from mildladder.store.cache import Needs, cached, version_of
from mildladder.store.tables import SignatureRow, StepTallyRow, StratumRow, TallyRow

__all__ = [
    "EVERYTHING",
    "Filter",
    "MonthTally",
    "Returns",
    "attempted",
    "cases_by_period",
    "cures",
    "ends",
    "ends_by_edition",
    "filtered_cases",
    "harm_counts",
    "keyed_tallies",
    "minutes",
    "months_of",
    "of_version",
    "returns_of",
    "step_minutes",
    "strata_values",
    "symptoms",
    "tallies",
    "version_of",
    "ways_worked",
]

T = TypeVar("T")


@dataclass(frozen=True)
class Filter:
    """Which of a symptom's cases are looked at. since, until: months of closing, as 2026-03, both included; edition: by
    which they were climbed; facts: what their units are. None, or nothing: all."""

    since: str | None = None
    until: str | None = None
    edition: int | None = None
    site: str | None = None
    is_guided: bool | None = None
    facts: tuple[tuple[str, str], ...] = ()

    @property
    def is_all(self) -> bool:
        """Whether nothing is left out."""
        return self == EVERYTHING


EVERYTHING = Filter()


def _where(symptom: str, which: Filter) -> list[ColumnElement[bool]]:
    month = func.substr(StratumRow.period, 1, 7)
    tests = [StratumRow.symptom == symptom]
    if which.since:
        tests.append(month >= which.since)
    if which.until:
        tests.append(month <= which.until)
    if which.edition is not None:
        tests.append(StratumRow.edition == which.edition)
    if which.site is not None:
        tests.append(StratumRow.site == which.site)
    if which.is_guided is not None:
        tests.append(StratumRow.is_guided == which.is_guided)
    return tests + [func.json_extract(StratumRow.facts, f'$."{fact}"') == value for fact, value in which.facts]


def of_version(session: Session, symptom: str, what: tuple[Hashable, ...], make: Callable[[], T]) -> T:
    """What `make` works out of a symptom's tallies, once for each version of them. what: its name, then all else that
    tells it apart."""
    return cached(session, str(what[0]), Needs(tallies=symptom, asked=what[1:]), make)


def tallies(session: Session, symptom: str, which: Filter = EVERYTHING) -> Iterator[Tally]:
    """Every tally of a symptom by period and signature; editions, sites and facts added up."""
    count, returned = func.sum(TallyRow.count), func.sum(TallyRow.returned)
    query = (
        select(StratumRow.period, SignatureRow.text, count, returned)
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .join(SignatureRow, SignatureRow.number == TallyRow.signature)
        .where(*_where(symptom, which))
        .group_by(StratumRow.period, TallyRow.signature)
    )
    for period, text, cases, back in session.execute(query):
        yield Tally.model_construct(period=period, signature=read_signature(text), count=cases, returned=back)


def filtered_cases(session: Session, symptom: str, which: Filter) -> int:
    """How many cases a filter leaves."""
    query = select(func.sum(TallyRow.count)).join(StratumRow, StratumRow.number == TallyRow.stratum)
    return session.scalar(query.where(*_where(symptom, which))) or 0


def cases_by_period(session: Session, symptom: str) -> Mapping[str, int]:
    """How many cases of a symptom were closed on each day, or in each folded month."""
    return of_version(session, symptom, ("cases by period",), lambda: _cases_by_period(session, symptom))


def _cases_by_period(session: Session, symptom: str) -> dict[str, int]:
    query = (
        select(StratumRow.period, func.sum(TallyRow.count))
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .where(StratumRow.symptom == symptom)
        .group_by(StratumRow.period)
    )
    return dict(session.execute(query).all())


def keyed_tallies(session: Session, symptom: str, which: Filter = EVERYTHING) -> list[KeyedTally]:
    """Every tally of a symptom with what the estimate looks at; days of a month added up."""
    month = func.substr(StratumRow.period, 1, 7)
    query = (
        select(
            SignatureRow.text,
            StratumRow.facts,
            StratumRow.is_double,
            func.sum(TallyRow.count),
            month,
            StratumRow.site,
            StratumRow.is_guided,
            StratumRow.edition,
            func.sum(TallyRow.seconds),
        )
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .join(SignatureRow, SignatureRow.number == TallyRow.signature)
        .where(*_where(symptom, which))
        .group_by(
            TallyRow.signature,
            StratumRow.facts,
            StratumRow.is_double,
            month,
            StratumRow.site,
            StratumRow.is_guided,
            StratumRow.edition,
        )
    )
    return [KeyedTally(read_signature(text), _facts(facts), *rest) for text, facts, *rest in session.execute(query)]


@lru_cache(maxsize=65_536)
def _facts(text: str) -> Mapping[str, str]:
    found: dict[str, str] = json.loads(text)
    return found


def strata_values(session: Session, symptom: str) -> tuple[list[str], list[int], list[str], dict[str, list[str]]]:
    """What a symptom's cases can be told apart by: months, editions, sites, and the values of each fact."""
    rows = session.execute(
        select(func.substr(StratumRow.period, 1, 7), StratumRow.edition, StratumRow.site, StratumRow.facts)
        .where(StratumRow.symptom == symptom, StratumRow.folded_into.is_(None))
        .distinct()
    ).all()
    values: dict[str, set[str]] = defaultdict(set)
    for text in {row[3] for row in rows}:
        for fact, value in _facts(text).items():
            values[fact].add(value)
    months, editions, sites = (sorted({row[at] for row in rows if row[at]}) for at in range(3))
    return months, editions, sites, {fact: sorted(found) for fact, found in sorted(values.items())}


@dataclass(frozen=True)
class Returns:
    """Returned cures of a step that were closed in one period (a day, or a folded month), by whole days to it."""

    step: str
    period: str
    days: int
    count: int


def returns_of(session: Session, symptom: str, which: Filter = EVERYTHING) -> list[Returns]:
    """After how many days the cures of each step came back."""
    rows = session.execute(_counts_of(symptom, which, "return", StratumRow.period)).all()
    return [Returns(step, period, int(value), count) for period, step, value, count in rows]


def step_minutes(session: Session, symptom: str, which: Filter = EVERYTHING) -> dict[str, dict[str, int]]:
    """The histogram of minutes of each step, by bin (`core.evidence.counts`)."""
    found: dict[str, dict[str, int]] = defaultdict(dict)
    for _, step, value, count in session.execute(_counts_of(symptom, which, "minutes", StratumRow.symptom)):
        found[step][value] = count
    return dict(found)


def ways_worked(session: Session, symptom: str) -> Mapping[str, Mapping[str, int]]:
    """In how many cases each way of a step worked, by step and by its words."""
    return of_version(session, symptom, ("ways",), lambda: _ways_worked(session, symptom))


def _ways_worked(session: Session, symptom: str) -> dict[str, dict[str, int]]:
    found: dict[str, dict[str, int]] = defaultdict(dict)
    for _, step, words, count in session.execute(_counts_of(symptom, EVERYTHING, "way", StratumRow.symptom)):
        found[step][words] = count
    return dict(found)


@dataclass(frozen=True)
class CopiesUsed:
    """How often a safeguard's copy was needed; of those times, of which that is known, how much was put right: by
    whole, partly and no."""

    needed: int
    put_right: Mapping[str, int]


def copies_used(session: Session, symptom: str, which: Filter = EVERYTHING) -> dict[str, CopiesUsed]:
    """By safeguard, for a symptom's cases."""
    needed: Counter[str] = Counter()
    put_right: dict[str, Counter[str]] = defaultdict(Counter)
    for _, _, safeguard, count in session.execute(_counts_of(symptom, which, "safeguard", StratumRow.symptom)):
        needed[safeguard] += count
    for _, safeguard, how, count in session.execute(_counts_of(symptom, which, "put-right", StratumRow.symptom)):
        put_right[safeguard][how] += count
    return {safeguard: CopiesUsed(count, put_right[safeguard]) for safeguard, count in needed.items()}


def steps_that_helped(session: Session, symptom: str) -> frozenset[str]:
    """The steps that ended the fault of a case at least once."""
    return frozenset(_how_it_went(session, symptom).cured)


def _counts_of(symptom: str, which: Filter, what: str, by: Any) -> Any:
    return (
        select(by, StepTallyRow.step, StepTallyRow.value, func.sum(StepTallyRow.count))
        .join(StratumRow, StratumRow.number == StepTallyRow.stratum)
        .where(*_where(symptom, which), StepTallyRow.what == what)
        .group_by(by, StepTallyRow.step, StepTallyRow.value)
    )


def harm_counts(session: Session, symptom: str, which: Filter = EVERYTHING) -> dict[str, HarmCount]:
    """By step, for a symptom's cases; a merged step counts as what it was merged into."""
    asked: Counter[str] = Counter()
    seen: dict[str, Counter[str]] = defaultdict(Counter)
    query = (
        select(StepTallyRow.step, StepTallyRow.value, func.sum(StepTallyRow.count))
        .join(StratumRow, StratumRow.number == StepTallyRow.stratum)
        .where(*_where(symptom, which), StepTallyRow.what == "harm")
        .group_by(StepTallyRow.step, StepTallyRow.value)
    )
    for step, value, count in session.execute(query):
        if value == "asked":
            asked[step] += count
        else:
            seen[step][value] += count
    return {step: HarmCount(count, seen[step]) for step, count in asked.items()}


def symptoms(session: Session) -> list[str]:
    """Every symptom that cases were logged of."""
    return list(session.scalars(select(StratumRow.symptom).distinct().order_by(StratumRow.symptom)))


def ends(session: Session, symptom: str) -> Mapping[str, int]:
    """How many of a symptom's cases ended in each way."""
    found: Counter[str] = Counter()
    for by_one in ends_by_edition(session, symptom).values():
        found.update(by_one)
    return found


def ends_by_edition(session: Session, symptom: str) -> Mapping[int, Mapping[str, int]]:
    """The same by the edition that they were climbed by; 0 for those by none."""
    return _how_it_went(session, symptom).ends


def attempted(session: Session, symptom: str) -> Mapping[str, int]:
    """How often each step was attempted, under the name by which it is counted."""
    return _how_it_went(session, symptom).attempted


class _HowItWent(NamedTuple):
    ends: dict[int, Counter[str]]
    attempted: Counter[str]
    cured: set[str]


def _how_it_went(session: Session, symptom: str) -> _HowItWent:
    return of_version(session, symptom, ("how it went",), lambda: _read_how_it_went(session, symptom))


def _read_how_it_went(session: Session, symptom: str) -> _HowItWent:
    made = _HowItWent(defaultdict(Counter), Counter(), set())
    query = _by_signature(symptom, StratumRow.edition, func.sum(TallyRow.count)).group_by(StratumRow.edition)
    for text, edition, count in session.execute(query):
        signature = read_signature(text)
        made.ends[edition][signature.end] += count
        made.cured.update([signature.resolved_by] if signature.resolved_by else [])
        for step in steps_in(text):
            made.attempted[step] += count
    return made


def cures(session: Session, symptom: str, passed: date) -> tuple[int, int]:
    """How many cures of a symptom can be judged, their return window having passed before a day or their fault having
    come back, and how many of these held."""
    return of_version(session, symptom, ("cures", passed), lambda: _cures(session, symptom, passed))


def _cures(session: Session, symptom: str, passed: date) -> tuple[int, int]:
    # Months are only made of days whose window has passed, and stand before their own days.
    is_judged = StratumRow.period < passed.isoformat()
    judged = func.sum(case((is_judged, TallyRow.count), else_=TallyRow.returned))
    found = session.execute(_by_signature(symptom, judged, func.sum(TallyRow.returned)))
    cured = [(all_of_them, back) for text, all_of_them, back in found if read_signature(text).end in CURED]
    return sum(one for one, _ in cured), sum(one - back for one, back in cured)


def _by_signature(symptom: str, *what: Any) -> Any:
    return (
        select(SignatureRow.text, *what)
        .join(TallyRow, SignatureRow.number == TallyRow.signature)
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .where(StratumRow.symptom == symptom)
        .group_by(TallyRow.signature)
    )


@dataclass(frozen=True)
class MonthTally:
    """Cases of a symptom that were closed in a month and ended alike. seconds: of them all, waiting left out."""

    month: str
    end: str
    count: int
    seconds: int


def months_of(session: Session, symptom: str, wanted: Sequence[str]) -> list[MonthTally]:
    """What of a symptom was closed in some months."""
    return of_version(session, symptom, ("months", *wanted), lambda: _months_of(session, symptom, wanted))


def _months_of(session: Session, symptom: str, wanted: Sequence[str]) -> list[MonthTally]:
    month = func.substr(StratumRow.period, 1, 7)
    query = (
        select(month, SignatureRow.text, func.sum(TallyRow.count), func.sum(TallyRow.seconds))
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .join(SignatureRow, SignatureRow.number == TallyRow.signature)
        .where(StratumRow.symptom == symptom, month.in_(wanted))
        .group_by(month, TallyRow.signature)
    )
    return [
        MonthTally(own, read_signature(text).end, count, seconds)
        for own, text, count, seconds in session.execute(query)
    ]


def minutes(session: Session, symptom: str) -> float:
    """The minutes between opening and closing of all cases of a symptom, waiting left out."""
    return of_version(session, symptom, ("minutes",), lambda: _minutes(session, symptom))


def _minutes(session: Session, symptom: str) -> float:
    query = (
        select(func.sum(TallyRow.seconds))
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .where(StratumRow.symptom == symptom)
    )
    return (session.scalar(query) or 0) / 60
