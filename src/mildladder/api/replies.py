"""Send a shape as JSON, the same way everywhere."""

from collections.abc import Callable
from datetime import datetime

from flask import Response
from sqlalchemy.orm import Session

from mildladder.api.context import context, who
from mildladder.api.requests import IfMatch
from mildladder.core.model import Shape
from mildladder.desk import author
from mildladder.desk.draft_view import DraftView

__all__ = ["changed_draft", "reply", "reply_draft"]


def reply(shape: Shape, status: int = 200) -> Response:
    """The shape with all its keys."""
    return Response(shape.model_dump_json(by_alias=True), status=status, mimetype="application/json")


def changed_draft(
    playbook_id: str, header: IfMatch, change: Callable[[Session, int, int, datetime], object]
) -> Response:
    """The draft after a change, which is told the session, the revision that it is made upon, by whom and when.

    What takes long, figures and review, is worked out before the database is written and after, never meanwhile.
    """
    desk = context()
    now = desk.now()
    desk.database.change(lambda db: change(db, header.revision(author.revision_of(db, playbook_id)), who(db), now))
    with desk.database.reading() as db:
        return reply_draft(author.draft(db, playbook_id))


def reply_draft(draft: DraftView) -> Response:
    """A draft with its document as its author wrote it: keys never set are left out, so that a browser can send the
    document back unchanged. Its revision becomes the entity tag."""
    body = draft.model_dump_json(by_alias=True, exclude_unset=True)
    response = Response(body, mimetype="application/json")
    response.headers["ETag"] = f'"{draft.revision}"'
    return response
