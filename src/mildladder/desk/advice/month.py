"""A month of the desk on a page: what took its time, what was changed, and what came of it, for whoever pays for it."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.evidence.rates import Rate, raw_rate
from mildladder.core.model import Shape
from mildladder.core.model.base import Id
from mildladder.core.model.outcomes import CURED
from mildladder.desk.titles import titles_of
from mildladder.store.drafts import states
from mildladder.store.editions import editions_between
from mildladder.store.log.reading import MonthTally, months_of

__all__ = ["Month", "month"]


class MonthOfSymptom(Shape):
    """What cases of a symptom came to in a month. minutes: from opening to closing, waiting left out; minutes_before,
    cases_before: of the month before."""

    playbook: Id
    title: str
    cases: int
    minutes: float
    resolved: Rate
    cases_before: int
    minutes_before: float


class MonthOfEdition(Shape):
    """An edition that was published in a month."""

    playbook: Id
    title: str
    edition: int
    note: str
    who: str
    at: datetime


class Month(Shape):
    """A month of the desk, as 2026-03, and the one before. symptoms: those that took most minutes first."""

    month: str
    before: str
    symptoms: tuple[MonthOfSymptom, ...]
    editions: tuple[MonthOfEdition, ...]


def month(session: Session, wanted: str) -> Month:
    """What the log and the editions say of a month."""
    before = _month_before(wanted)
    titles = {one.playbook: titles_of(session, one.playbook, one.draft).playbook for one in states(session)}
    found = {name: months_of(session, name, (before, wanted)) for name in titles}
    now, then = _in_month(found, wanted), _in_month(found, before)
    symptoms = [
        MonthOfSymptom(
            playbook=name,
            title=titles[name],
            cases=_cases(now[name]),
            minutes=_minutes(now[name]),
            resolved=raw_rate(sum(one.count for one in now[name] if one.end in CURED), _cases(now[name])),
            cases_before=_cases(then[name]),
            minutes_before=_minutes(then[name]),
        )
        for name in titles
        if now[name] or then[name]
    ]
    published = editions_between(session, *_span(wanted))
    return Month(
        month=wanted,
        before=before,
        symptoms=tuple(sorted(symptoms, key=lambda one: (-one.minutes, one.title))),
        editions=tuple(
            MonthOfEdition(
                playbook=row.playbook_id,
                title=titles.get(row.playbook_id, ""),
                edition=row.number,
                note=row.note,
                who=row.person.name,
                at=row.at,
            )
            for row in published
        ),
    )


def _in_month(found: Mapping[str, Sequence[MonthTally]], wanted: str) -> dict[str, list[MonthTally]]:
    return {name: [one for one in tallies if one.month == wanted] for name, tallies in found.items()}


def _cases(tallies: Iterable[MonthTally]) -> int:
    return sum(one.count for one in tallies)


def _minutes(tallies: Iterable[MonthTally]) -> float:
    return sum(one.seconds for one in tallies) / 60


def _month_before(wanted: str) -> str:
    year, number = (int(part) for part in wanted.split("-"))
    return f"{year - (number == 1):04d}-{12 if number == 1 else number - 1:02d}"


def _span(wanted: str) -> tuple[datetime, datetime]:
    """From the month's first moment to the next one's."""
    year, number = (int(part) for part in wanted.split("-"))
    following = f"{year + (number == 12):04d}-{1 if number == 12 else number + 1:02d}"
    return datetime.fromisoformat(f"{wanted}-01T00:00:00+00:00"), datetime.fromisoformat(
        f"{following}-01T00:00:00+00:00"
    )
