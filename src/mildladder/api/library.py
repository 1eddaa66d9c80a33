"""Routes of the shared library of steps."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import FindSteps, MergeSteps, StepPath
from mildladder.core.model import Shape
from mildladder.desk.drafts.step_search import FoundSteps, find_steps
from mildladder.desk.library import steps as library

__all__ = ["blueprint"]

blueprint = APIBlueprint("library", __name__, url_prefix="/api", abp_tags=[Tag(name="library")])
_WRITE = documented(403, 404, 409, 412, 422, 428, 503)


class StepList(Shape):
    """Every step of the library, by title."""

    steps: tuple[library.LibraryStep, ...]


@blueprint.get("/steps", responses={200: StepList, **documented(503)})
def list_steps() -> Response:
    """The shared library: every step, and where it is used."""
    with context().database.reading() as db:
        return reply(StepList(steps=tuple(library.library_steps(db))))


@blueprint.get("/found-steps", responses={200: FoundSteps, **documented(422, 503)})
def get_found_steps(query: FindSteps) -> Response:
    """Steps of the library for a line that is typed, where each is used, and how it does there."""
    with context().database.reading() as db:
        return reply(find_steps(db, query.text, query.playbook, context().now().date()))


@blueprint.get("/steps/<step_id>/merge", responses={200: library.MergePreview, **documented(404, 409, 422, 503)})
def preview_merge(path: StepPath, query: MergeSteps) -> Response:
    """What merging two steps would change."""
    with context().database.reading() as db:
        return reply(library.preview_merge(db, path.step_id, query.into))


@blueprint.delete("/steps/<step_id>/merge", responses={200: StepList, **documented(403, 404, 422, 503)})
def undo_merge(path: StepPath) -> Response:
    """Count a merged step as itself again."""
    with context().database.writing() as db:
        library.undo_merge(db, path.step_id, who(db), context().now())
        return reply(StepList(steps=tuple(library.library_steps(db))))


@blueprint.post("/steps/<step_id>/merge", responses={200: StepList, **documented(403, 404, 409, 422, 503)})
def merge_steps(path: StepPath, body: MergeSteps) -> Response:
    """Count one step as another from now on."""
    with context().database.writing() as db:
        library.merge_steps(db, path.step_id, body.into, who(db), context().now())
        return reply(StepList(steps=tuple(library.library_steps(db))))
