"""Send a shape as JSON, the same way everywhere."""

from typing import Literal

from flask import Response

from mildladder.core.model import Shape
from mildladder.desk.drafts.draft_view import DraftView
from mildladder.desk.jobs.queue import Waiting

__all__ = ["Working", "reply", "reply_answer", "reply_draft"]


class Working(Shape):
    """The answer is being worked out: ask again. says: why that takes longer than usual; None where it does not."""

    working: Literal[True] = True
    says: str | None = None


def reply(shape: Shape, status: int = 200) -> Response:
    """The shape with all its keys."""
    return Response(shape.model_dump_json(by_alias=True), status=status, mimetype="application/json")


def reply_answer(answer: str | Waiting) -> Response:
    """The answer to a question, which is JSON text already; or that it is being worked out."""
    if isinstance(answer, Waiting):
        body = Working(says=answer.says).model_dump_json(exclude_none=True)
        return Response(body, status=202, mimetype="application/json")
    return Response(answer, mimetype="application/json")


def reply_draft(draft: DraftView) -> Response:
    """A draft with its document as its author wrote it: keys never set are left out, so that a browser can send the
    document back unchanged. Its revision becomes the entity tag."""
    body = draft.model_dump_json(by_alias=True, exclude_unset=True)
    response = Response(body, mimetype="application/json")
    response.headers["ETag"] = f'"{draft.revision}"'
    return response
