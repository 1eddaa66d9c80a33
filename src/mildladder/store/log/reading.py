"""What the tallies say: everything that evidence and the Desk need, without looking at a single case.

What is worked out of one version of a symptom's tallies is kept, see `of_version`.
"""

from collections import Counter, defaultdict
from collections.abc import Callable, Hashable, Iterator, Mapping
from dataclasses import dataclass
from typing import TypeVar

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mildladder.core.evidence.signature import Tally, read_signature
from mildladder.store.kept import kept
from mildladder.store.tables import SignatureRow, StepTallyRow, StratumRow, TallyRow, TallyVersionRow

__all__ = ["HarmCount", "ends", "harm_counts", "minutes", "of_version", "tallies"]

T = TypeVar("T")


def of_version(session: Session, symptom: str, what: tuple[Hashable, ...], make: Callable[[], T]) -> T:
    """What `make` works out of a symptom's tallies, once for each version of them. what: names it, and all else that it
    depends on."""
    row = session.get(TallyVersionRow, symptom)
    return kept(session, (*what, symptom, row.version if row else 0), make)


def tallies(session: Session, symptom: str) -> Iterator[Tally]:
    """Every tally of a symptom by period and signature; editions, sites and facts added up."""
    count, returned = func.sum(TallyRow.count), func.sum(TallyRow.returned)
    query = (
        select(StratumRow.period, SignatureRow.text, count, returned)
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .join(SignatureRow, SignatureRow.number == TallyRow.signature)
        .where(StratumRow.symptom == symptom)
        .group_by(StratumRow.period, TallyRow.signature)
    )
    for period, text, cases, back in session.execute(query):
        yield Tally.model_construct(period=period, signature=read_signature(text), count=cases, returned=back)


@dataclass(frozen=True)
class HarmCount:
    """How often harm was asked about after a step, and how often each kind was seen."""

    asked: int
    seen: Mapping[str, int]


def harm_counts(session: Session, symptom: str) -> dict[str, HarmCount]:
    """By step, for a symptom's cases; a merged step counts as what it was merged into."""
    asked: Counter[str] = Counter()
    seen: dict[str, Counter[str]] = defaultdict(Counter)
    query = (
        select(StepTallyRow.step, StepTallyRow.value, func.sum(StepTallyRow.count))
        .join(StratumRow, StratumRow.number == StepTallyRow.stratum)
        .where(StratumRow.symptom == symptom, StepTallyRow.what == "harm")
        .group_by(StepTallyRow.step, StepTallyRow.value)
    )
    for step, value, count in session.execute(query):
        if value == "asked":
            asked[step] += count
        else:
            seen[step][value] += count
    return {step: HarmCount(count, seen[step]) for step, count in asked.items()}


def ends(session: Session, symptom: str) -> Mapping[str, int]:
    """How many of a symptom's cases ended in each way."""
    return of_version(session, symptom, ("ends",), lambda: _ends(session, symptom))


def _ends(session: Session, symptom: str) -> Mapping[str, int]:
    found: Counter[str] = Counter()
    query = (
        select(SignatureRow.text, func.sum(TallyRow.count))
        .join(TallyRow, SignatureRow.number == TallyRow.signature)
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .where(StratumRow.symptom == symptom)
        .group_by(TallyRow.signature)
    )
    for text, count in session.execute(query):
        found[read_signature(text).end] += count
    return dict(found)


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
