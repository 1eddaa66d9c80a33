"""The Desk: every symptom with its figures, what takes most time first, and how its draft stands."""

from collections import Counter
from collections.abc import Mapping
from datetime import date, datetime, timedelta
from functools import partial
from typing import NamedTuple

from sqlalchemy.orm import Session

from mildladder.core.errors import LadderError
from mildladder.core.evidence.rates import Rate, raw_rate
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.model import Fact, Shape, Sign
from mildladder.core.model.outcomes import CURED
from mildladder.desk.drafts.author import flaws_at
from mildladder.desk.drafts.draft_view import blocker_of, forecast_at
from mildladder.desk.drafts.reviewing import links_of_draft
from mildladder.desk.evidence.odd_names import Undecided, undecided
from mildladder.desk.library.recounting import Recounting, recountings
from mildladder.desk.settings import return_window
from mildladder.desk.titles import StepTitle
from mildladder.store import drafts
from mildladder.store.cache import Needs, cached
from mildladder.store.documents import document_of, forecast_of
from mildladder.store.drafts import State, states
from mildladder.store.editions import edition, is_same
from mildladder.store.log import reading as store

__all__ = ["SymptomCard", "symptoms"]

# Of fewer cases on either side nothing is said.
_LEAST_CASES = 30


class SinceEdition(Shape):
    """How cases ended that were climbed by the newest edition, and by those before it."""

    edition: int
    cases: int
    resolved: Rate
    before: Rate


class Unpublished(Shape):
    """A draft that differs from what agents follow. at: when it was changed last; less: effort minutes a case that it
    takes less than the edition, as judged, None where it has no forecast or there is no edition; held_by: what keeps it
    from being published, the first of it in words, None for nothing."""

    at: datetime
    less: float | None
    held_by: str | None


class SymptomCard(Shape):
    """One symptom in the list. `forecast`, `facts`: of the newest edition, or of the draft while there is none.

    `minutes`: spent on its cases in all; `ended`: how its cases ended, by end; `held`: the share of judged cures that
    lasted; `since`: None where too few cases say anything; `odd_names`: None without any; `steps`: those of the draft;
    `recounting`: cases are being counted anew, None where they are not.
    """

    id: str
    title: str
    says: str
    signs: tuple[Sign, ...]
    facts: tuple[Fact, ...]
    steps: tuple[StepTitle, ...]
    edition: int | None
    draft_differs: bool
    unpublished: Unpublished | None
    cases: int
    minutes: float
    ended: dict[str, int]
    resolved: Rate
    held: Rate
    since: SinceEdition | None
    odd_names: Undecided | None
    recounting: Recounting | None = None
    forecast: Forecast


def symptoms(session: Session, today: date) -> list[SymptomCard]:
    """Every symptom with a playbook, the one that took most minutes first.

    Each part of a card is worked out once for each version of what it needs, so that neither a new day nor another
    symptom's change reads any draft again.
    """
    passed = today - timedelta(days=return_window(session))
    cards = [_card(session, state, passed) for state in states(session)]
    if touched := recountings(session):
        cards = [card.model_copy(update={"recounting": touched.get(card.id)}) for card in cards]
    return sorted(cards, key=lambda card: (-card.minutes, card.title))


class _Written(NamedTuple):
    """What a card says of a draft and the newest edition."""

    title: str
    says: str
    signs: tuple[Sign, ...]
    facts: tuple[Fact, ...]
    steps: tuple[StepTitle, ...]
    differs: bool
    at: datetime
    figures: Forecast
    held_by: str | None


def _card(session: Session, state: State, passed: date) -> SymptomCard:
    editions = ((state.playbook, state.edition),) if state.edition else ()
    needs = Needs(draft=(state.playbook, state.draft), editions=editions)
    written = cached(session, "written of card", needs, partial(_written, session, state))
    # Of other drafts nothing is read but where they lead, and that only to say what keeps this one from agents.
    links = frozenset(links_of_draft(session, state.playbook, state.draft).items()) if written.differs else None
    needs = needs._replace(tallies=state.playbook, library=True, names=True, day=passed, asked=links)
    return cached(session, "card", needs, partial(_whole_card, session, state, written, passed))


def _whole_card(session: Session, state: State, written: _Written, passed: date) -> SymptomCard:
    ends = store.ends(session, state.playbook)
    judged, held = store.cures(session, state.playbook, passed)
    return SymptomCard(
        id=state.playbook,
        title=written.title,
        says=written.says,
        signs=written.signs,
        facts=written.facts,
        steps=written.steps,
        edition=state.edition,
        draft_differs=written.differs,
        unpublished=_unpublished(session, state, written) if written.differs else None,
        cases=sum(ends.values()),
        minutes=store.minutes(session, state.playbook),
        ended=dict(ends),
        resolved=_resolved(ends),
        held=raw_rate(held, judged),
        since=_since(session, state),
        odd_names=undecided(session, state.playbook, {step.id for step in written.steps}),
        forecast=written.figures,
    )


def _written(session: Session, state: State) -> _Written:
    row = drafts.revision(session, state.playbook, state.draft)
    document = document_of(row)
    published = edition(session, state.playbook, state.edition) if state.edition else None
    draft = document.playbook
    flaws = flaws_at(session, state.playbook, state.draft)
    return _Written(
        title=draft.title,
        says=draft.symptom.says,
        signs=draft.symptom.signs,
        facts=(document_of(published).playbook if published else draft).facts,
        steps=tuple(StepTitle(id=step.id, title=step.title) for step in draft.steps),
        differs=published is None or not is_same(published, document),
        at=row.at,
        figures=forecast_of(published) if published else forecast(draft),
        held_by=flaws[0].says if flaws else None,
    )


def _resolved(ends: Mapping[str, int]) -> Rate:
    return raw_rate(sum(ends.get(end, 0) for end in CURED), sum(ends.values()))


def _since(session: Session, state: State) -> SinceEdition | None:
    by_it: Counter[str] = Counter()
    before: Counter[str] = Counter()
    for number, ends in store.ends_by_edition(session, state.playbook).items():
        if number:
            (by_it if number == state.edition else before).update(ends)
    if state.edition is None or min(by_it.total(), before.total()) < _LEAST_CASES:
        return None
    resolved, resolved_before = _resolved(by_it), _resolved(before)
    return SinceEdition(edition=state.edition, cases=by_it.total(), resolved=resolved, before=resolved_before)


def _unpublished(session: Session, state: State, written: _Written) -> Unpublished:
    if written.held_by is not None:
        return Unpublished(at=written.at, less=None, held_by=written.held_by)
    try:
        blocker = blocker_of(session, state.playbook, state.draft)
        figures = forecast_at(session, state.playbook, state.draft)
    except LadderError as error:
        return Unpublished(at=written.at, less=None, held_by=str(error))
    less = written.figures.effort - figures.effort if state.edition else None
    return Unpublished(at=written.at, less=less, held_by=blocker)
