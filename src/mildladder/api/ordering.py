"""Routes of ordering a draft: the best order, the curve, reasons, suggestions, what if; each may say “not yet”."""

from collections.abc import Callable, Hashable
from typing import Literal

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context
from mildladder.api.problems import documented
from mildladder.api.replies import changed_draft, reply
from mildladder.api.requests import IfMatch, OrderQuery, PlaybookPath, Reorder, RungPath
from mildladder.core.model import Playbook, Shape
from mildladder.desk import ordering
from mildladder.desk.author import newest
from mildladder.desk.draft_view import DraftView
from mildladder.desk.editions import document
from mildladder.desk.ordering import Changes, Suggestion, WhyHere, suggestions, why_here
from mildladder.desk.reviewing import Mend, known_links, mends_of

__all__ = ["blueprint"]

blueprint = APIBlueprint("ordering", __name__, url_prefix="/api/playbooks", abp_tags=[Tag(name="orders")])


class Working(Shape):
    """The answer is being worked out: ask again."""

    working: Literal[True] = True


class SuggestionList(Shape):
    """Changes that would pay, the one worth most first."""

    suggestions: tuple[Suggestion, ...]


class MendList(Shape):
    """What can be mended in one press, in the order of the findings."""

    mends: tuple[Mend, ...]


_PROBLEMS = documented(404, 409, 422, 503)


@blueprint.get("/<playbook_id>/draft/order", responses={200: ordering.OrderView, 202: Working, **_PROBLEMS})
def get_order(path: PlaybookPath, query: OrderQuery) -> Response:
    """The best order of the draft."""
    mode, rate = query.mode or None, query.rate
    return _asked(path, ("order", mode, rate), lambda p, stop: ordering.order_of(p, mode, rate, stop))


@blueprint.get("/<playbook_id>/draft/curve", responses={200: ordering.CurveView, 202: Working, **_PROBLEMS})
def get_curve(path: PlaybookPath) -> Response:
    """The mild-quick curve of the draft."""
    return _asked(path, "curve", ordering.curve_of)


@blueprint.get("/<playbook_id>/draft/rungs/<rung>/why", responses={200: WhyHere, 202: Working, **_PROBLEMS})
def get_why(path: RungPath) -> Response:
    """Why a rung of the main line stands where it stands, and what every other place would change."""
    return _asked(path, ("why", path.rung), lambda p, stop: why_here(p, path.rung, stop))


@blueprint.get("/<playbook_id>/draft/suggestions", responses={200: SuggestionList, 202: Working, **_PROBLEMS})
def get_suggestions(path: PlaybookPath) -> Response:
    """Changes beyond the order that would pay."""
    return _asked(path, "suggestions", lambda p, stop: SuggestionList(suggestions=tuple(suggestions(p, stop))))


@blueprint.get("/<playbook_id>/draft/mends", responses={200: MendList, 202: Working, **_PROBLEMS})
def get_mends(path: PlaybookPath) -> Response:
    """What review found and can be mended in one press."""
    with context().database.reading() as db:
        known = known_links(db, document(db, path.playbook_id, "draft"))
    return _asked(path, "mends", lambda p, _stop: MendList(mends=mends_of(p, known)))


@blueprint.post("/<playbook_id>/draft/what-if", responses={200: ordering.WhatIfView, 202: Working, **_PROBLEMS})
def what_if(path: PlaybookPath, body: Changes) -> Response:
    """The draft under another judgement; nothing is saved."""
    question = ("what-if", body.model_dump_json())
    return _asked(path, question, lambda p, stop: ordering.what_if_of(p, body, stop))


@blueprint.post(
    "/<playbook_id>/draft/reorder",
    responses={200: DraftView, **documented(403, 404, 409, 412, 422, 428, 503)},
)
def reorder(path: PlaybookPath, header: IfMatch, body: Reorder) -> Response:
    """Give the main line another order, as one change."""
    return changed_draft(
        path.playbook_id,
        header,
        lambda db, seen, by, now: ordering.reorder(db, path.playbook_id, body.order, body.label, seen, by, now),
    )


def _asked(path: PlaybookPath, question: Hashable, work: Callable[[Playbook, Callable[[], bool]], Shape]) -> Response:
    with context().database.reading() as db:
        playbook, revision = newest(db, path.playbook_id)
    answer = context().workshop.ask(path.playbook_id, revision, question, lambda stop: work(playbook, stop))
    return reply(Working(), 202) if answer is None else reply(answer)
