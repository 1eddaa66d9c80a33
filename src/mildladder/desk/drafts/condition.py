"""What a condition means that somebody is typing into a draft, before it is kept."""

from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from mildladder.core.draft.form import called_by_name
from mildladder.core.errors import BadInput
from mildladder.core.ladder.conditions import parse
from mildladder.core.ladder.grammar import stops_at
from mildladder.core.ladder.saying import condition_in_words
from mildladder.core.ladder.units import share_where
from mildladder.core.model import Shape
from mildladder.store import drafts
from mildladder.store.documents import sound_of

__all__ = ["ConditionMeans", "TypedCondition", "condition_means"]

_MOST_CHARACTERS = 10_000


class TypedCondition(Shape):
    """A condition as far as it is typed, with ids as the draft holds them."""

    text: Annotated[str, Field(min_length=1, max_length=20_000)]


class ConditionMeans(Shape):
    """What a condition means in words, and the share of units for which it holds, where that is known; or why it cannot
    be read, and at which character (from 1) reading stops."""

    says: str | None = None
    share: float | None = None
    wrong: str | None = None
    at: int | None = None


def condition_means(session: Session, playbook_id: str, text: str) -> ConditionMeans:
    """What a condition of a draft means. Raises NotFound for a playbook that nobody has."""
    row = drafts.newest_revision(session, playbook_id)
    document = sound_of(session, playbook_id, row.number).document
    if len(text) > _MOST_CHARACTERS:
        says = (
            f"a condition has at most {_MOST_CHARACTERS:,} characters, this one has {len(text):,}; part it in two rungs"
        )
        return ConditionMeans(wrong=says)
    said = str(called_by_name(drafts.tree_at(session, playbook_id, row.number), text))
    place = stops_at(said)
    if place is not None:
        return ConditionMeans(wrong="this cannot be read from here on", at=place)
    if document is None:
        return ConditionMeans(says=said)
    try:
        condition = parse(said)
    except BadInput as error:
        return ConditionMeans(wrong=str(error))
    playbook = document.playbook
    return ConditionMeans(says=condition_in_words(condition, playbook), share=share_where(condition, playbook))
