"""The Desk: every symptom with its figures, what takes most time first."""

from functools import partial

from sqlalchemy.orm import Session

from mildladder.core.evidence.rates import Rate, raw_rate
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.model import (
    Fact,
    Shape,
    Sign,
)
from mildladder.core.model.outcomes import CURED
from mildladder.desk.titles import StepTitle
from mildladder.store import drafts
from mildladder.store.documents import document_of, forecast_of
from mildladder.store.drafts import State, states
from mildladder.store.editions import edition, is_same
from mildladder.store.kept import kept
from mildladder.store.log import reading as store

__all__ = ["SymptomCard", "symptoms"]


class SymptomCard(Shape):
    """One symptom in the list. `forecast`, `facts`: of the newest edition, or of the draft while there is none.

    `minutes`: spent on its cases in all; `ended`: how its cases ended, by end; `steps`: those of the draft.
    """

    id: str
    title: str
    says: str
    signs: tuple[Sign, ...]
    facts: tuple[Fact, ...]
    steps: tuple[StepTitle, ...]
    edition: int | None
    draft_differs: bool
    cases: int
    minutes: float
    ended: dict[str, int]
    resolved: Rate
    forecast: Forecast


def symptoms(session: Session) -> list[SymptomCard]:
    """Every symptom with a playbook, the one that took most minutes first.

    A card is made once for each draft, edition and version of the tallies.
    """
    cards = [kept(session, ("card", *state), partial(_card, session, state)) for state in states(session)]
    return sorted(cards, key=lambda card: (-card.minutes, card.title))


def _card(session: Session, state: State) -> SymptomCard:
    document = document_of(drafts.revision(session, state.playbook, state.draft))
    published = edition(session, state.playbook, state.edition) if state.edition else None
    draft = document.playbook
    ends = store.ends(session, state.playbook)
    return SymptomCard(
        id=state.playbook,
        title=draft.title,
        says=draft.symptom.says,
        signs=draft.symptom.signs,
        facts=(document_of(published).playbook if published else draft).facts,
        steps=tuple(StepTitle(id=step.id, title=step.title) for step in draft.steps),
        edition=state.edition,
        draft_differs=published is None or not is_same(published, document),
        cases=sum(ends.values()),
        minutes=store.minutes(session, state.playbook),
        ended=dict(ends),
        resolved=raw_rate(sum(ends.get(end, 0) for end in CURED), sum(ends.values())),
        forecast=forecast_of(published) if published else forecast(draft),
    )
