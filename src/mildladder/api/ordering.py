"""Routes of ordering a draft: the best order, the curve, reasons, suggestions, what if; each may say “not yet”."""

from collections.abc import Callable
from functools import partial

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context
from mildladder.api.problems import documented
from mildladder.api.replies import Working, reply_answer
from mildladder.api.requests import BasisQuery, OrderQuery, PlaybookPath, RungPath
from mildladder.desk.documents import document, revision_of
from mildladder.desk.drafts import ordering
from mildladder.desk.drafts.ordering import Changes, WhyHere
from mildladder.desk.drafts.questions import (
    AboutDraft,
    CurveQuestion,
    MendList,
    MendsQuestion,
    OrderQuestion,
    SuggestionList,
    SuggestionsQuestion,
    WhatIfQuestion,
    WhyQuestion,
)
from mildladder.desk.drafts.reviewing import known_links
from mildladder.desk.evidence.teaching import Basis, teaching_of
from mildladder.desk.jobs import queue as jobs

__all__ = ["blueprint"]

blueprint = APIBlueprint("ordering", __name__, url_prefix="/api/playbooks", abp_tags=[Tag(name="orders")])


_PROBLEMS = documented(404, 409, 422, 503)


@blueprint.get("/<playbook_id>/draft/order", responses={200: ordering.OrderView, 202: Working, **_PROBLEMS})
def get_order(path: PlaybookPath, query: OrderQuery) -> Response:
    """The best order of the draft."""
    return _asked(path, query.by, partial(OrderQuestion, mode=query.mode or None, rate=query.rate))


@blueprint.get("/<playbook_id>/draft/curve", responses={200: ordering.CurveView, 202: Working, **_PROBLEMS})
def get_curve(path: PlaybookPath, query: BasisQuery) -> Response:
    """The mild-quick curve of the draft."""
    return _asked(path, query.by, CurveQuestion)


@blueprint.get("/<playbook_id>/draft/rungs/<rung>/why", responses={200: WhyHere, 202: Working, **_PROBLEMS})
def get_why(path: RungPath, query: BasisQuery) -> Response:
    """Why a rung of the main line stands where it stands, and what every other place would change."""
    return _asked(path, query.by, partial(WhyQuestion, rung=path.rung))


@blueprint.get("/<playbook_id>/draft/suggestions", responses={200: SuggestionList, 202: Working, **_PROBLEMS})
def get_suggestions(path: PlaybookPath, query: BasisQuery) -> Response:
    """Changes beyond the order that would pay."""
    return _asked(path, query.by, SuggestionsQuestion)


@blueprint.get("/<playbook_id>/draft/mends", responses={200: MendList, 202: Working, **_PROBLEMS})
def get_mends(path: PlaybookPath) -> Response:
    """What review found and can be mended in one press."""
    with context().database.reading() as db:
        known = known_links(db, document(db, path.playbook_id, "draft"))
    links = {name: tuple(sorted(found)) for name, found in known.items()}
    return _asked(path, "judged", partial(MendsQuestion, known=links))


@blueprint.post("/<playbook_id>/draft/what-if", responses={200: ordering.WhatIfView, 202: Working, **_PROBLEMS})
def what_if(path: PlaybookPath, query: BasisQuery, body: Changes) -> Response:
    """The draft under another judgement; nothing is saved."""
    return _asked(path, query.by, partial(WhatIfQuestion, changes=body))


def _asked(path: PlaybookPath, by: Basis, question: Callable[..., AboutDraft]) -> Response:
    desk = context()
    with desk.database.reading() as db:
        revision = revision_of(db, path.playbook_id)
        teaching = teaching_of(db, path.playbook_id) if by == "cases" else None
    asked = question(
        subject=path.playbook_id, version=revision, taught_by=teaching.name if teaching is not None else None
    )
    return reply_answer(jobs.answer_of(desk.database, desk.workers, asked, desk.now()))
