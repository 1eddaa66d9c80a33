"""Routes of long work: what is being done, how far it is, and that it is wanted no more."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import JobPath, JobQuery
from mildladder.core.model import Shape
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.jobs.queue import JobView
from mildladder.desk.work import kinds

__all__ = ["blueprint"]

blueprint = APIBlueprint("jobs", __name__, url_prefix="/api", abp_tags=[Tag(name="jobs")])


class JobList(Shape):
    """The last jobs of a kind, the newest first."""

    jobs: tuple[JobView, ...]


@blueprint.get("/jobs", responses={200: JobList, **documented(422, 503)})
def list_jobs(query: JobQuery) -> Response:
    """The last jobs of a kind."""
    with context().database.reading() as db:
        return reply(JobList(jobs=tuple(jobs.recent(db, query.kind))))


@blueprint.get("/jobs/<int:number>", responses={200: JobView, **documented(404, 422, 503)})
def get_job(path: JobPath) -> Response:
    """One job, and how far it is."""
    with context().database.reading() as db:
        return reply(jobs.job(db, path.number))


@blueprint.post("/jobs/<int:number>/cancel", responses={200: JobView, **documented(403, 404, 409, 422, 503)})
def cancel_job(path: JobPath) -> Response:
    """A job is wanted no more; what it has begun is undone."""
    desk = context()
    with desk.database.reading() as db:
        person = who(db)
    cancelled = kinds.cancel(desk.database, path.number, person, desk.now())
    desk.workers.notify(cancelled.kind)
    return reply(cancelled)
