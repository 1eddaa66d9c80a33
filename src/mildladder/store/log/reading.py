"""What the tallies say: everything that evidence and the Desk need, without looking at a single case."""

from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mildladder.core.evidence.signature import Tally, read_signature
from mildladder.store.tables import SignatureRow, StepTallyRow, StratumRow, TallyRow

__all__ = ["HarmCount", "harm_counts", "symptom_counts", "symptom_minutes", "tallies"]


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


def symptom_counts(session: Session) -> dict[str, dict[str, int]]:
    """For each symptom, how many cases ended in each way."""
    found: dict[str, Counter[str]] = defaultdict(Counter)
    query = (
        select(StratumRow.symptom, SignatureRow.text, func.sum(TallyRow.count))
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .join(SignatureRow, SignatureRow.number == TallyRow.signature)
        .group_by(StratumRow.symptom, TallyRow.signature)
    )
    for symptom, text, count in session.execute(query):
        found[symptom][read_signature(text).end] += count
    return {symptom: dict(ends) for symptom, ends in found.items()}


def symptom_minutes(session: Session) -> dict[str, float]:
    """For each symptom, the minutes between opening and closing of all its cases, waiting left out."""
    query = (
        select(StratumRow.symptom, func.sum(TallyRow.seconds))
        .join(StratumRow, StratumRow.number == TallyRow.stratum)
        .group_by(StratumRow.symptom)
    )
    return {row[0]: row[1] / 60 for row in session.execute(query)}
