"""Routes of what was brought in."""

from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import BroughtIn
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.jobs.queue import JobView
from mildladder.desk.log import batches, intake

__all__ = ["blueprint"]

blueprint = APIBlueprint("intake", __name__, url_prefix="/api", abp_tags=[Tag(name="intake")])


@blueprint.get("/left-out", responses={200: intake.LeftOut, **documented(422, 503)})
def get_left_out() -> Response:
    """Lines of brought-in case files that could not be read, and why."""
    with context().database.reading() as db:
        return reply(intake.left_out(db))


@blueprint.post(
    "/imports",
    responses={202: JobView, **documented(403, 422, 503)},
    openapi_extensions={"requestBody": None},
)
def bring_in(query: BroughtIn) -> Response:
    """Log the cases of a JSON Lines file, the body, as a job; the same file that waits already is not brought twice."""
    desk = context()
    with desk.database.reading() as db:
        by = who(db)
    number = batches.queue_import(desk.database, request.stream, query.source, query.leave_out, by, desk.now())
    desk.workers.notify(batches.IMPORTING.name)
    with desk.database.reading() as db:
        return reply(jobs.job(db, number), 202)
