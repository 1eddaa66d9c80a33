"""Questions about the order of a draft: typed, so that another process can answer them."""

from collections.abc import Callable
from typing import Any, ClassVar, Literal

from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound, Stopped
from mildladder.core.model import Playbook, Shape
from mildladder.core.model.base import Mode
from mildladder.desk.drafts.ordering import (
    Changes,
    Suggestion,
    curve_of,
    order_of,
    reasons_for_place,
    suggestions,
    what_if_of,
)
from mildladder.desk.drafts.reviewing import Mend, mends_of
from mildladder.desk.evidence.teaching import teaching_by
from mildladder.desk.jobs.kind import JobKind
from mildladder.desk.jobs.question import Question
from mildladder.desk.jobs.task import Task
from mildladder.store.documents import document_of
from mildladder.store.drafts import revision

__all__ = [
    "ORDERING",
    "AboutDraft",
    "CurveQuestion",
    "MendList",
    "MendsQuestion",
    "OrderQuestion",
    "SuggestionList",
    "SuggestionsQuestion",
    "WhatIfQuestion",
    "WhyQuestion",
]


class SuggestionList(Shape):
    """Changes that would pay, the one worth most first."""

    suggestions: tuple[Suggestion, ...]


class MendList(Shape):
    """What can be mended in one press, in the order of the findings."""

    mends: tuple[Mend, ...]


class AboutDraft(Question):
    """About a revision of a draft, which is the version. taught_by: the name of the estimate by which the cases have
    taught it, None for the draft as judged."""

    kind: ClassVar[str] = "ordering"
    version: int
    taught_by: str | None = None


class OrderQuestion(AboutDraft):
    """The best order. mode, rate: None for those of the draft."""

    ask: Literal["order"] = "order"
    mode: Mode | None = None
    rate: float | None = None


class CurveQuestion(AboutDraft):
    """The mild-quick curve."""

    ask: Literal["curve"] = "curve"


class WhyQuestion(AboutDraft):
    """Why a rung of the main line stands where it stands."""

    ask: Literal["why"] = "why"
    rung: int


class SuggestionsQuestion(AboutDraft):
    """Changes beyond the order that would pay."""

    ask: Literal["suggestions"] = "suggestions"


class MendsQuestion(AboutDraft):
    """What review found and can be mended in one press. known: where other playbooks lead, by playbook."""

    ask: Literal["mends"] = "mends"
    known: dict[str, tuple[str, ...]]


class WhatIfQuestion(AboutDraft):
    """The draft under another judgement."""

    ask: Literal["what-if"] = "what-if"
    changes: Changes


def _order(playbook: Playbook, task: Task[OrderQuestion]) -> Shape:
    return order_of(playbook, task.question.mode, task.question.rate, task.is_stopped)


def _curve(playbook: Playbook, task: Task[CurveQuestion]) -> Shape:
    return curve_of(playbook, task.is_stopped)


def _why(playbook: Playbook, task: Task[WhyQuestion]) -> Shape:
    return reasons_for_place(playbook, task.question.rung, task.is_stopped)


def _suggestions(playbook: Playbook, task: Task[SuggestionsQuestion]) -> Shape:
    return SuggestionList(suggestions=tuple(suggestions(playbook, task.is_stopped)))


def _mends(playbook: Playbook, task: Task[MendsQuestion]) -> Shape:
    known = {name: frozenset(links) for name, links in task.question.known.items()}
    return MendList(mends=mends_of(playbook, known))


def _what_if(playbook: Playbook, task: Task[WhatIfQuestion]) -> Shape:
    return what_if_of(playbook, task.question.changes, task.is_stopped)


def _taught(session: Session, playbook_id: str, name: str, draft: Playbook) -> Playbook:
    """The draft by what that estimate has taught. Raises Stopped where it is kept no longer: it is asked anew then."""
    try:
        teaching = teaching_by(session, playbook_id, name)
    except NotFound:
        raise Stopped from None
    return draft if teaching is None else teaching.taught(draft)


def _answering(answer: Callable[[Playbook, Task[Any]], Shape]) -> Callable[[Task[Any]], None]:
    """The work that answers such a question. It raises Stopped, and whatever the answer is refused with."""

    def work(task: Task[Any]) -> None:
        asked: AboutDraft = task.question
        with task.database.reading() as session:
            playbook = document_of(revision(session, asked.subject, asked.version)).playbook
            if asked.taught_by is not None:
                playbook = _taught(session, asked.subject, asked.taught_by, playbook)
        made = answer(playbook, task)
        with task.database.writing(is_durable=False) as session:
            task.end(session, made.model_dump_json(by_alias=True))

    return work


ORDERING = JobKind(
    name=AboutDraft.kind,
    work={
        OrderQuestion: _answering(_order),
        CurveQuestion: _answering(_curve),
        WhyQuestion: _answering(_why),
        SuggestionsQuestion: _answering(_suggestions),
        MendsQuestion: _answering(_mends),
        WhatIfQuestion: _answering(_what_if),
    },
    is_newest_first=True,
    niceness=5,
)
