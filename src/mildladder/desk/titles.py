"""What things are called, for screens that know their ids."""

from collections.abc import Mapping
from typing import NamedTuple

from sqlalchemy.orm import Session

from mildladder.core.model import Shape
from mildladder.store.cache import Needs, cached
from mildladder.store.documents import document_of
from mildladder.store.drafts import revision

__all__ = ["StepTitle", "titles_of"]


class StepTitle(Shape):
    """A step's id and what it is called."""

    id: str
    title: str


class Titles(NamedTuple):
    """What a draft is called, and each of its steps by id."""

    playbook: str
    steps: Mapping[str, str]


def titles_of(session: Session, playbook_id: str, number: int) -> Titles:
    """What is called what at a revision; kept, since lists of all symptoms need nothing else of their documents."""

    def read() -> Titles:
        playbook = document_of(revision(session, playbook_id, number)).playbook
        return Titles(playbook.title, {step.id: step.title for step in playbook.steps})

    return cached(session, "titles", Needs(draft=(playbook_id, number)), read)
