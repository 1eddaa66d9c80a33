"""Routes of what to change next."""

from datetime import timedelta

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import MonthQuery, NudgePath
from mildladder.desk.advice import nudging
from mildladder.desk.advice.month import Month, month

__all__ = ["blueprint"]

blueprint = APIBlueprint("nudges", __name__, url_prefix="/api", abp_tags=[Tag(name="desk")])


def _all() -> nudging.WhatToChange:
    desk = context()
    return nudging.nudges(desk.database, desk.workers, desk.now())


@blueprint.get("/nudges", responses={200: nudging.WhatToChange, **documented(503)})
def list_nudges() -> Response:
    """What to change next, of every symptom with enough cases; an older answer until a newer one is there."""
    return reply(_all())


@blueprint.post(
    "/nudges/<playbook_id>/<key>/declined", responses={200: nudging.WhatToChange, **documented(403, 404, 409, 422, 503)}
)
def decline_nudge(path: NudgePath, body: nudging.Declined) -> Response:
    """Not now, or never; kept with who and why."""
    with context().database.writing() as db:
        nudging.decline(db, path.playbook_id, path.key, body, who(db), context().now())
    return reply(_all())


@blueprint.get("/month", responses={200: Month, **documented(422, 503)})
def get_month(query: MonthQuery) -> Response:
    """What took the desk's time in a month, and what was changed in it; left out, the last whole month."""
    last = context().now().date().replace(day=1) - timedelta(days=1)
    with context().database.reading() as db:
        return reply(month(db, query.month or f"{last:%Y-%m}"))
