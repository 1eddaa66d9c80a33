"""Read quick words against what a draft has: its causes and states are called as they are there."""

from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from mildladder.core.ladder.work import MOST_RUNGS
from mildladder.core.model import Id, Shape
from mildladder.core.model.quick import QuickStep
from mildladder.core.quick import Known, lines_of, read_line
from mildladder.store import drafts

__all__ = ["QuickText", "QuickWords", "read_quick"]

_MOST_LINES = MOST_RUNGS


class QuickText(Shape):
    """Lines of quick words, as they were typed or pasted. playbook: whose causes and states they may name."""

    text: Annotated[str, Field(max_length=1_000_000)]
    playbook: Id | None = None


class QuickWords(Shape):
    """What each line says; more: how many lines are left, for a ladder has no room for more."""

    lines: tuple[QuickStep, ...]
    more: int


def read_quick(session: Session, sent: QuickText) -> QuickWords:
    """What the lines say. Raises NotFound for a playbook that nobody has."""
    lines = lines_of(sent.text)
    known = _known(session, sent.playbook) if sent.playbook else Known()
    read = tuple(read_line(line, known) for line in lines[:_MOST_LINES])
    return QuickWords(lines=read, more=max(0, len(lines) - _MOST_LINES))


def _known(session: Session, playbook_id: str) -> Known:
    newest = drafts.newest_revision(session, playbook_id)
    tree = drafts.tree_at(session, playbook_id, newest.number)

    def titles(name: str) -> tuple[str, ...]:
        shown = (one for one in tree.children("playbook", (name,)) if tree.is_shown(one["key"]))
        return tuple(str(one["title"]) for one in shown if one.get("title"))

    return Known(causes=titles("causes"), footings=titles("footings"))
