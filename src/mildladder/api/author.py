"""Routes of a draft: see it, change it, undo and redo."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context
from mildladder.api.problems import documented
from mildladder.api.replies import changed_draft, reply_draft
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
_WRITE = documented(403, 404, 409, 412, 422, 428, 503)


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
    return changed_draft(
        path.playbook_id, header, lambda db, seen, by, now: author.save(db, body.playbook, body.label, seen, by, now)
    )


@blueprint.post("/playbooks/<playbook_id>/draft/move", responses={200: DraftView, **_WRITE})
def move_rung(path: PlaybookPath, header: IfMatch, body: MoveRung) -> Response:
    """Move one rung up or down the ladder."""
    return changed_draft(
        path.playbook_id,
        header,
        lambda db, seen, by, now: author.move(db, path.playbook_id, body.source, body.target, body.both, seen, by, now),
    )


@blueprint.post("/playbooks/<playbook_id>/draft/undo", responses={200: DraftView, **_WRITE})
def undo(path: PlaybookPath, header: IfMatch, body: UndoOrRedo) -> Response:
    """Bring back the state before the last change."""
    return changed_draft(
        path.playbook_id,
        header,
        lambda db, seen, by, now: author.undo(db, path.playbook_id, seen, body.even_others, by, now),
    )


@blueprint.post("/playbooks/<playbook_id>/draft/redo", responses={200: DraftView, **_WRITE})
def redo(path: PlaybookPath, header: IfMatch, body: UndoOrRedo) -> Response:
    """Bring back what undo took away."""
    return changed_draft(
        path.playbook_id,
        header,
        lambda db, seen, by, now: author.redo(db, path.playbook_id, seen, body.even_others, by, now),
    )


@blueprint.post("/playbooks/<playbook_id>/draft/mend", responses={200: DraftView, **_WRITE})
def mend_finding(path: PlaybookPath, header: IfMatch, body: MendFinding) -> Response:
    """Mend one finding of review."""
    return changed_draft(
        path.playbook_id,
        header,
        lambda db, seen, by, now: author.mend(db, path.playbook_id, body.code, body.finding, seen, by, now),
    )
