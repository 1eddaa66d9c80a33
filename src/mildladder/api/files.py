"""Routes by which playbooks begin and go: from a title, quick words or a file, with pictures, and out as a file."""

from datetime import datetime

from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag
from sqlalchemy.orm import Session

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import Working, reply, reply_answer
from mildladder.api.requests import FileQuery, NewPlaybook, PlaybookPath, PutFileQuery
from mildladder.core.errors import BadInput
from mildladder.core.model import Shape
from mildladder.desk.drafts import pictures, quick
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.publishing import clashes, files, first_ladders

__all__ = ["blueprint"]

blueprint = APIBlueprint("files", __name__, url_prefix="/api", abp_tags=[Tag(name="files")])
_YAML, _JSON, _ARCHIVE = "text/yaml", "application/json", "application/zip"
_FILE = {
    "description": "A playbook file, or an archive of it with its pictures",
    "content": {
        _YAML: {"schema": {}},
        _JSON: {"schema": {"type": "object"}},
        _ARCHIVE: {"schema": {"type": "string", "format": "binary"}},
    },
}


class Begun(Shape):
    """A playbook that was made, by id."""

    playbook: str


class Put(Shape):
    """What putting a file did, or, as a preview, would do."""

    preview: clashes.ImportPreview | None = None
    done: files.PlaybookImported | None = None


@blueprint.post("/playbooks", responses={201: Begun, **documented(403, 409, 422, 503)})
def new_playbook(body: NewPlaybook) -> Response:
    """Make a playbook with a title, to be written from there."""
    desk = context()
    name = desk.database.change(lambda db: files.new_playbook(db, body.title, who(db), desk.now()))
    return reply(Begun(playbook=name), 201)


class FromLog(Shape):
    """The symptoms of logged cases that have no playbook."""

    symptoms: tuple[first_ladders.SymptomWithout, ...]


@blueprint.get("/first-ladders", responses={200: FromLog, **documented(503)})
def list_without_playbook() -> Response:
    """The symptoms of logged cases that have no playbook, those with most cases first."""
    with context().database.reading() as db:
        return reply(FromLog(symptoms=first_ladders.without_playbook(db)))


@blueprint.get(
    "/first-ladders/<playbook_id>",
    responses={200: first_ladders.FirstLadder, 202: Working, **documented(404, 409, 422, 503)},
)
def get_first_ladder(path: PlaybookPath) -> Response:
    """The ladder that the log of a symptom proposes, in the best order."""
    desk = context()
    made = first_ladders.proposed(desk.database, desk.workers, path.playbook_id, desk.now())
    return reply_answer(made) if isinstance(made, jobs.Waiting) else reply(made)


@blueprint.post("/first-ladders/<playbook_id>", responses={201: Begun, **documented(403, 404, 409, 422, 503)})
def begin_from_log(path: PlaybookPath, body: first_ladders.BeginFromLog) -> Response:
    """Make the playbook of a symptom from what its log has proposed."""
    desk = context()
    name = desk.database.change(lambda db: first_ladders.begin(db, path.playbook_id, body, who(db), desk.now()))
    return reply(Begun(playbook=name), 201)


@blueprint.post("/quick-words", responses={200: quick.QuickWords, **documented(404, 422, 503)})
def read_quick_words(body: quick.QuickText) -> Response:
    """What lines of quick words say; nothing is changed."""
    with context().database.reading() as db:
        return reply(quick.read_quick(db, body))


@blueprint.post(
    "/playbooks/<playbook_id>/draft/pictures",
    responses={201: pictures.PictureKept, **documented(403, 404, 409, 422, 503)},
    openapi_extensions={"x-reads": ["image/png", "image/jpeg", "image/webp"]},
)
def keep_picture(path: PlaybookPath) -> Response:
    """Keep a picture for a draft, to be named by its texts; the bytes are the body."""
    desk = context()
    picture = pictures.read(request.get_data())
    made = desk.database.change(lambda db: pictures.keep_in_draft(db, path.playbook_id, picture, who(db), desk.now()))
    return reply(made, 201)


@blueprint.get("/playbooks/<playbook_id>/file", responses={200: _FILE, **documented(403, 404, 409, 422, 503)})
def get_file(path: PlaybookPath, query: FileQuery) -> Response:
    """The playbook's file, as the `Accept` header asks: the draft's, or the newest edition's."""
    desk = context()
    is_draft = query.of == "draft"
    if is_draft:
        files.draft_to_export(desk.database, path.playbook_id, who, desk.now())
    media = request.accept_mimetypes.best_match([_YAML, _JSON, _ARCHIVE], _YAML)
    with desk.database.reading() as db:
        if media == _ARCHIVE:
            body = files.export_archive(db, path.playbook_id, is_draft)
        else:
            body = files.playbook_text(files.export_playbook(db, path.playbook_id, is_draft), media == _JSON)
    ending = {_YAML: "yaml", _JSON: "json", _ARCHIVE: "zip"}[media]
    headers = {"Content-Disposition": f'attachment; filename="{path.playbook_id}.{ending}"', "Vary": "Accept"}
    return Response(body, mimetype=media, headers=headers)


@blueprint.put(
    "/playbooks/<playbook_id>/file",
    responses={200: Put, **documented(403, 404, 409, 422, 503)},
    openapi_extensions={"x-reads": [_YAML, _JSON, _ARCHIVE]},
)
def put_file(path: PlaybookPath, query: PutFileQuery) -> Response:
    """Make a file the draft, as one group of edits, and the playbook where there is none; or tell what it would do."""
    brought = files.read_brought(request.get_data())
    if brought.playbook.id != path.playbook_id:
        raise BadInput(f"the file is that of '{brought.playbook.id}'; put it there, for ids never change", path="id")
    return _put(brought, query)


@blueprint.post(
    "/playbooks/file",
    responses={200: Put, **documented(403, 409, 422, 503)},
    openapi_extensions={"x-reads": [_YAML, _JSON, _ARCHIVE]},
)
def bring_file(query: PutFileQuery) -> Response:
    """The same with the playbook whose file it is, whichever that is."""
    return _put(files.read_brought(request.get_data()), query)


def _put(brought: files.Brought, query: PutFileQuery) -> Response:
    desk = context()
    if query.preview:
        with desk.database.reading() as db:
            return reply(Put(preview=clashes.preview_import(db, brought.playbook)))
    now = desk.now()
    return reply(Put(done=desk.database.change(lambda db: _brought(db, brought, query, now))))


def _brought(db: Session, brought: files.Brought, query: PutFileQuery, now: datetime) -> files.PlaybookImported:
    return files.import_batch(db, [brought], who(db), now, query.steps, None, query.each)[0]
