"""Questions about the order of a draft, as data, so that another process can answer them."""

from collections.abc import Callable, Mapping
from typing import Any

from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound, Stopped
from mildladder.core.model import Playbook, Shape
from mildladder.desk.drafts.ordering import (
    Changes,
    Suggestion,
    curve_of,
    order_of,
    suggestions,
    what_if_of,
    why_here,
)
from mildladder.desk.drafts.reviewing import Mend, mends_of
from mildladder.desk.evidence.teaching import teaching_by
from mildladder.desk.jobs.task import Task
from mildladder.store.documents import document_of
from mildladder.store.drafts import revision

__all__ = ["MendList", "SuggestionList", "answer"]


class SuggestionList(Shape):
    """Changes that would pay, the one worth most first."""

    suggestions: tuple[Suggestion, ...]


class MendList(Shape):
    """What can be mended in one press, in the order of the findings."""

    mends: tuple[Mend, ...]


_IsStopped = Callable[[], bool]
_Asked = Mapping[str, Any]


def _what_if(playbook: Playbook, asked: _Asked, is_stopped: _IsStopped) -> Shape:
    return what_if_of(playbook, Changes.model_validate(asked["changes"]), is_stopped)


def _suggestions(playbook: Playbook, _asked: _Asked, is_stopped: _IsStopped) -> Shape:
    return SuggestionList(suggestions=tuple(suggestions(playbook, is_stopped)))


def _mends(playbook: Playbook, asked: _Asked, _is_stopped: _IsStopped) -> Shape:
    known = {name: frozenset(links) for name, links in asked["known"].items()}
    return MendList(mends=mends_of(playbook, known))


_ANSWERS: dict[str, Callable[[Playbook, _Asked, _IsStopped], Shape]] = {
    "order": lambda playbook, asked, is_stopped: order_of(playbook, asked["mode"], asked["rate"], is_stopped),
    "curve": lambda playbook, _asked, is_stopped: curve_of(playbook, is_stopped),
    "why": lambda playbook, asked, is_stopped: why_here(playbook, asked["rung"], is_stopped),
    "suggestions": _suggestions,
    "mends": _mends,
    "what-if": _what_if,
}


def _taught(session: Session, playbook_id: str, name: str, draft: Playbook) -> Playbook:
    """The draft by what that estimate has taught. Raises Stopped where it is kept no longer: it is asked anew then."""
    try:
        teaching = teaching_by(session, playbook_id, name)
    except NotFound:
        raise Stopped from None
    return draft if teaching is None else teaching.taught(draft)


def answer(task: Task) -> None:
    """Answer a question about a revision of a draft. Raises Stopped, and whatever the answer is refused with."""
    if task.version is None:
        raise Stopped
    with task.database.reading() as session:
        playbook = document_of(revision(session, task.subject, task.version)).playbook
        if (name := task.asked.get("taught_by")) is not None:
            playbook = _taught(session, task.subject, name, playbook)
    made = _ANSWERS[task.asked["ask"]](playbook, task.asked, task.is_stopped)
    with task.database.writing(is_lasting=False) as session:
        task.end(session, made.model_dump_json(by_alias=True))
