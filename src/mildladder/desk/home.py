"""The Desk: every symptom with its figures, what takes most time first."""

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
from mildladder.store.editions import is_same, newest_editions
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
    """Every symptom with a playbook, the one that took most minutes first."""
    editions = newest_editions(session)
    cards = []
    for playbook_id in drafts.playbook_ids(session):
        edition = editions.get(playbook_id)
        document = document_of(drafts.newest_revision(session, playbook_id))
        draft = document.playbook
        published = document_of(edition).playbook if edition else None
        ends = store.ends(session, playbook_id)
        cards.append(
            SymptomCard(
                id=playbook_id,
                title=draft.title,
                says=draft.symptom.says,
                signs=draft.symptom.signs,
                facts=(published or draft).facts,
                steps=tuple(StepTitle(id=step.id, title=step.title) for step in draft.steps),
                edition=edition.number if edition else None,
                draft_differs=edition is None or not is_same(edition, document),
                cases=sum(ends.values()),
                minutes=store.minutes(session, playbook_id),
                ended=dict(ends),
                resolved=raw_rate(sum(ends.get(end, 0) for end in CURED), sum(ends.values())),
                forecast=forecast_of(edition) if edition else forecast(draft),
            )
        )
    return sorted(cards, key=lambda card: (-card.minutes, card.title))
