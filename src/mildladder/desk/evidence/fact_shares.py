"""What shares the log gives the values of a playbook's facts."""

from sqlalchemy.orm import Session

from mildladder.core.ladder.values import comparable
from mildladder.core.model import Fact, Shape
from mildladder.store.documents import sound_of
from mildladder.store.drafts import newest_revision
from mildladder.store.log.facts import fact_counts

__all__ = ["FactCounts", "counts_of_facts"]

_MOST_SAMPLES = 12


class FactCounts(Shape):
    """Cases by value for each fact of the playbook's draft that the log knows, from so many cases. Of a fact that is no
    choice the commonest values alone: they stand for the rest."""

    cases: int
    facts: dict[str, dict[str, int]]


def counts_of_facts(session: Session, playbook_id: str) -> FactCounts:
    """Counts for every fact of the draft. Raises NotFound for a playbook that nobody has."""
    newest = newest_revision(session, playbook_id)
    document = sound_of(session, playbook_id, newest.number).document
    cases, counts = fact_counts(session, playbook_id)
    asked = document.playbook.facts if document else ()
    made = {fact.id: _of(fact, counts.get(fact.id, {})) for fact in asked}
    return FactCounts(cases=cases, facts={fact: values for fact, values in made.items() if values})


def _of(fact: Fact, counts: dict[str, int]) -> dict[str, int]:
    sound = {value: count for value, count in counts.items() if comparable(value, fact.type) is not None}
    return sound if fact.type == "choice" else dict(list(sound.items())[:_MOST_SAMPLES])
