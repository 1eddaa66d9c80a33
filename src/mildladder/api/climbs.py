"""Routes of the guided case."""

from typing import Any

from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import CasePath, ClimbPath, GoOn, PicturePath, RecordMove, SheetTicks, StartClimb
from mildladder.core.model import Shape
from mildladder.desk.guiding import climbs
from mildladder.desk.guiding.climb_shapes import ClimbSummary, ClimbView
from mildladder.desk.guiding.sheet import Sheet, enter_ticks, sheet

__all__ = ["blueprint"]

blueprint = APIBlueprint("climbs", __name__, url_prefix="/api", abp_tags=[Tag(name="guided cases")])


class ClimbList(Shape):
    """The guided cases that have not ended, the newest first."""

    climbs: tuple[ClimbSummary, ...]


@blueprint.get("/climbs", responses={200: ClimbList, **documented(503)})
def list_climbs() -> Response:
    """The guided cases that have not ended."""
    with context().database.reading() as db:
        return reply(ClimbList(climbs=tuple(climbs.open_cases(db))))


@blueprint.post("/climbs", responses={201: ClimbView, **documented(403, 404, 409, 422, 503)})
def start_climb(body: StartClimb) -> Response:
    """Open a case on the newest edition of a playbook."""
    with context().database.writing() as db:
        now = context().now()
        climbs.start(db, body.playbook, body.started, body.id, who(db), now)
    return _as_it_stands(body.id, 201)


@blueprint.post("/climbs/<climb_id>/go-on", responses={201: ClimbView, **documented(403, 404, 409, 422, 503)})
def go_on(path: ClimbPath, body: GoOn) -> Response:
    """Open the case in which one that was sent on to another playbook goes on."""
    with context().database.writing() as db:
        climbs.go_on(db, path.climb_id, body.id, who(db), context().now())
    return _as_it_stands(body.id, 201)


@blueprint.post("/cases/<case_id>/reopen", responses={201: ClimbView, **documented(403, 404, 409, 422, 503)})
def reopen(path: CasePath, body: GoOn) -> Response:
    """Open the case in which a closed one goes on whose fault came back."""
    with context().database.writing() as db:
        climbs.reopen(db, path.case_id, body.id, who(db), context().now())
    return _as_it_stands(body.id, 201)


@blueprint.get("/climbs/<climb_id>", responses={200: ClimbView, **documented(404, 422, 503)})
def get_climb(path: ClimbPath) -> Response:
    """A guided case as it stands."""
    return _as_it_stands(path.climb_id)


_PICTURE: dict[str | int, Any] = {
    200: {
        "description": "The picture",
        "content": {media: {} for media in ("image/png", "image/jpeg", "image/webp")},
    }
}


@blueprint.get("/pictures/<digest>", responses={**_PICTURE, **documented(404, 422, 503)})
def get_picture(path: PicturePath) -> Response:
    """A picture of an instruction; it never changes."""
    with context().database.reading() as db:
        found = climbs.picture(db, path.digest)
        response = Response(found.data, mimetype=found.media)
        response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
        return response


@blueprint.get("/climbs/<climb_id>/sheet", responses={200: Sheet, **documented(404, 409, 422, 503)})
def get_sheet(path: ClimbPath) -> Response:
    """What is left of the ladder for a case, on one sheet."""
    with context().database.reading() as db:
        return reply(sheet(db, path.climb_id, context().now()))


@blueprint.post("/climbs/<climb_id>/sheet", responses={200: ClimbView, **documented(403, 404, 409, 412, 422, 503)})
def enter_sheet(path: ClimbPath, body: SheetTicks) -> Response:
    """Enter what was ticked on the sheet of a guided case, in one go."""
    with context().database.writing() as db:
        enter_ticks(db, path.climb_id, body.ticks, body.key, body.after, who(db), context().now())
    return _as_it_stands(path.climb_id)


_CALENDAR: dict[str | int, Any] = {200: {"description": "When to take it up again", "content": {"text/calendar": {}}}}


@blueprint.get("/climbs/<climb_id>/follow-up.ics", responses={**_CALENDAR, **documented(404, 409, 422, 503)})
def get_follow_up(path: ClimbPath) -> Response:
    """When a case that waits is to be taken up again, as an iCalendar file."""
    with context().database.reading() as db:
        file = climbs.follow_up(db, path.climb_id, request.url_root)
    headers = {"Content-Disposition": f'attachment; filename="{path.climb_id}.ics"', "Cache-Control": "no-store"}
    return Response(file, mimetype="text/calendar", headers=headers)


@blueprint.get("/due.ics", responses={**_CALENDAR, **documented(503)})
def get_due() -> Response:
    """Every guided case that waits until a set time, as an iCalendar file to follow."""
    with context().database.reading() as db:
        file = climbs.all_due(db, request.url_root)
    return Response(file, mimetype="text/calendar", headers={"Cache-Control": "no-store"})


@blueprint.post("/climbs/<climb_id>/moves", responses={200: ClimbView, **documented(403, 404, 409, 412, 422, 503)})
def record_move(path: ClimbPath, body: RecordMove) -> Response:
    """Record one move: an answer, a fact, a note, an end."""
    with context().database.writing() as db:
        now = context().now()
        climbs.record(db, path.climb_id, body.move, body.key, body.after, who(db), now)
    return _as_it_stands(path.climb_id)


def _as_it_stands(climb_id: str, status: int = 200) -> Response:
    """The guided case, looked at once the database is let go of."""
    with context().database.reading() as db:
        return reply(climbs.look(db, climb_id, context().now()), status)
