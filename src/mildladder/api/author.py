"""Routes of a draft: see it, change it, undo and redo."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply_draft
from mildladder.api.requests import (
    IfMatch,
    MendFinding,
    MoveRung,
    PlaybookPath,
    SaveDraft,
    UndoOrRedo,
)
from mildladder.core.errors import BadInput
from mildladder.desk import author
from mildladder.desk.draft_view import DraftView

__all__ = ["blueprint"]

blueprint = APIBlueprint("author", __name__, url_prefix="/api", abp_tags=[Tag(name="playbooks")])
_WRITE = documented(403, 404, 409, 412, 422, 503)


@blueprint.get("/playbooks/<playbook_id>/draft", responses={200: DraftView, **documented(404, 422, 503)})
def get_draft(path: PlaybookPath) -> Response:
    """The draft with every figure."""
    with context().database.reading() as db:
        return reply_draft(author.draft(db, path.playbook_id))


@blueprint.put("/playbooks/<playbook_id>/draft", responses={200: DraftView, **_WRITE})
def save_draft(path: PlaybookPath, header: IfMatch, body: SaveDraft) -> Response:
    """Make a changed document the draft."""
    if body.playbook.id != path.playbook_id:
        raise BadInput("the document's id is not the playbook's; ids never change", path="playbook.id")
    with context().database.writing() as db:
        now = context().now()
        return reply_draft(author.save(db, body.playbook, body.label, header.revision, who(db), now))


@blueprint.post("/playbooks/<playbook_id>/draft/move", responses={200: DraftView, **_WRITE})
def move_rung(path: PlaybookPath, header: IfMatch, body: MoveRung) -> Response:
    """Move one rung up or down the ladder."""
    with context().database.writing() as db:
        now = context().now()
        view = author.move(db, path.playbook_id, body.source, body.target, body.both, header.revision, who(db), now)
        return reply_draft(view)


@blueprint.post("/playbooks/<playbook_id>/draft/undo", responses={200: DraftView, **_WRITE})
def undo(path: PlaybookPath, header: IfMatch, body: UndoOrRedo) -> Response:
    """Bring back the state before the last change."""
    with context().database.writing() as db:
        now = context().now()
        return reply_draft(author.undo(db, path.playbook_id, header.revision, body.even_others, who(db), now))


@blueprint.post("/playbooks/<playbook_id>/draft/redo", responses={200: DraftView, **_WRITE})
def redo(path: PlaybookPath, header: IfMatch, body: UndoOrRedo) -> Response:
    """Bring back what undo took away."""
    with context().database.writing() as db:
        now = context().now()
        return reply_draft(author.redo(db, path.playbook_id, header.revision, body.even_others, who(db), now))


@blueprint.post("/playbooks/<playbook_id>/draft/mend", responses={200: DraftView, **_WRITE})
def mend_finding(path: PlaybookPath, header: IfMatch, body: MendFinding) -> Response:
    """Mend one finding of review."""
    with context().database.writing() as db:
        now = context().now()
        view = author.mend(db, path.playbook_id, body.code, body.finding, header.revision, who(db), now)
        return reply_draft(view)
