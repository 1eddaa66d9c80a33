"""Routes of authoring and measuring: symptoms, drafts, editions, evidence."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply, reply_document
from mildladder.api.requests import (
    CompareQuery,
    IfMatch,
    MendFinding,
    MergeSteps,
    MoveRung,
    PlaybookPath,
    Publish,
    RestoreEdition,
    SaveDraft,
    StepPath,
    TakeNewer,
    UndoOrRedo,
)
from mildladder.core.errors import BadInput
from mildladder.core.ladder.diff import Comparison
from mildladder.core.model import Shape
from mildladder.desk import drafts, library, measuring, reviewing

__all__ = ["blueprint"]

blueprint = APIBlueprint("playbooks", __name__, url_prefix="/api", abp_tags=[Tag(name="playbooks")])
_WRITE = documented(403, 404, 409, 412, 422, 503)


class SymptomList(Shape):
    """Every symptom, the one that took most minutes first."""

    symptoms: tuple[measuring.SymptomCard, ...]


class StepList(Shape):
    """Every step of the library, by title."""

    steps: tuple[library.LibraryStep, ...]


class EditionList(Shape):
    """Every edition, newest first."""

    editions: tuple[drafts.EditionView, ...]


@blueprint.get("/symptoms", responses={200: SymptomList, **documented(503)})
def list_symptoms() -> Response:
    """Every symptom with its figures and counts."""
    with context().database.reading() as db:
        return reply(SymptomList(symptoms=tuple(measuring.symptoms(db))))


@blueprint.get("/playbooks/<playbook_id>/draft", responses={200: drafts.DraftView, **documented(404, 422, 503)})
def get_draft(path: PlaybookPath) -> Response:
    """The draft with every figure."""
    with context().database.reading() as db:
        return _draft(drafts.draft(db, path.playbook_id))


@blueprint.put("/playbooks/<playbook_id>/draft", responses={200: drafts.DraftView, **_WRITE})
def save_draft(path: PlaybookPath, header: IfMatch, body: SaveDraft) -> Response:
    """Make a changed document the draft."""
    if body.playbook.id != path.playbook_id:
        raise BadInput("the document's id is not the playbook's; ids never change", path="playbook.id")
    with context().database.writing() as db:
        now = context().now()
        return _draft(drafts.save(db, body.playbook, body.label, header.revision, who(db), now))


@blueprint.post("/playbooks/<playbook_id>/draft/move", responses={200: drafts.DraftView, **_WRITE})
def move_rung(path: PlaybookPath, header: IfMatch, body: MoveRung) -> Response:
    """Move one rung up or down the ladder."""
    with context().database.writing() as db:
        now = context().now()
        view = drafts.move(db, path.playbook_id, body.source, body.target, body.both, header.revision, who(db), now)
        return _draft(view)


@blueprint.post("/playbooks/<playbook_id>/draft/undo", responses={200: drafts.DraftView, **_WRITE})
def undo(path: PlaybookPath, header: IfMatch, body: UndoOrRedo) -> Response:
    """Bring back the state before the last change."""
    with context().database.writing() as db:
        now = context().now()
        return _draft(drafts.undo(db, path.playbook_id, header.revision, body.even_others, who(db), now))


@blueprint.post("/playbooks/<playbook_id>/draft/redo", responses={200: drafts.DraftView, **_WRITE})
def redo(path: PlaybookPath, header: IfMatch, body: UndoOrRedo) -> Response:
    """Bring back what undo took away."""
    with context().database.writing() as db:
        now = context().now()
        return _draft(drafts.redo(db, path.playbook_id, header.revision, body.even_others, who(db), now))


@blueprint.post("/playbooks/<playbook_id>/draft/newer-text", responses={200: drafts.DraftView, **_WRITE})
def take_newer_text(path: PlaybookPath, header: IfMatch, body: TakeNewer) -> Response:
    """Take the library's newest text of a step into the draft."""
    with context().database.writing() as db:
        now = context().now()
        return _draft(library.take_newer(db, path.playbook_id, body.step, header.revision, who(db), now))


@blueprint.post("/playbooks/<playbook_id>/draft/mend", responses={200: drafts.DraftView, **_WRITE})
def mend_finding(path: PlaybookPath, header: IfMatch, body: MendFinding) -> Response:
    """Mend one finding of review."""
    with context().database.writing() as db:
        now = context().now()
        view = drafts.mend(db, path.playbook_id, body.code, body.finding, header.revision, who(db), now)
        return _draft(view)


@blueprint.post("/playbooks/<playbook_id>/draft/restore", responses={200: drafts.DraftView, **_WRITE})
def restore_edition(path: PlaybookPath, header: IfMatch, body: RestoreEdition) -> Response:
    """Make an edition the draft again."""
    with context().database.writing() as db:
        now = context().now()
        return _draft(drafts.restore(db, path.playbook_id, body.edition, header.revision, who(db), now))


@blueprint.get("/playbooks/<playbook_id>/compare", responses={200: Comparison, **documented(404, 422, 503)})
def compare_documents(path: PlaybookPath, query: CompareQuery) -> Response:
    """What changed between two editions, or an edition and the draft."""
    with context().database.reading() as db:
        return reply(reviewing.compared(db, path.playbook_id, query.before, query.after))


@blueprint.get("/steps", responses={200: StepList, **documented(503)})
def list_steps() -> Response:
    """The shared library: every step, and where it is used."""
    with context().database.reading() as db:
        return reply(StepList(steps=tuple(library.library_steps(db))))


@blueprint.post("/steps/<step_id>/merge", responses={200: StepList, **documented(403, 404, 409, 422, 503)})
def merge_steps(path: StepPath, body: MergeSteps) -> Response:
    """Count one step as another from now on."""
    with context().database.writing() as db:
        who(db)
        library.merge_steps(db, path.step_id, body.into, context().now())
        return reply(StepList(steps=tuple(library.library_steps(db))))


@blueprint.get("/playbooks/<playbook_id>/editions", responses={200: EditionList, **documented(404, 422, 503)})
def list_editions(path: PlaybookPath) -> Response:
    """Every edition of a playbook."""
    with context().database.reading() as db:
        return reply(EditionList(editions=tuple(drafts.edition_list(db, path.playbook_id))))


@blueprint.post("/playbooks/<playbook_id>/editions", responses={201: drafts.EditionView, **_WRITE})
def publish(path: PlaybookPath, header: IfMatch, body: Publish) -> Response:
    """Freeze the draft as the next edition."""
    with context().database.writing() as db:
        now = context().now()
        return reply(drafts.publish(db, path.playbook_id, body.note, header.revision, who(db), now), 201)


@blueprint.get("/playbooks/<playbook_id>/evidence", responses={200: measuring.Evidence, **documented(404, 422, 503)})
def get_evidence(path: PlaybookPath) -> Response:
    """What the logged cases show of each step."""
    with context().database.reading() as db:
        return reply(measuring.evidence(db, path.playbook_id, context().now().date()))


def _draft(view: drafts.DraftView) -> Response:
    context().workshop.moved_on(view.playbook.id, view.revision)
    return reply_document(view, view.revision)
