"""Routes of what was brought in."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.desk import intake

__all__ = ["blueprint"]

blueprint = APIBlueprint("intake", __name__, url_prefix="/api", abp_tags=[Tag(name="intake")])


@blueprint.get("/left-out", responses={200: intake.LeftOut, **documented(422, 503)})
def get_left_out() -> Response:
    """Lines of brought-in case files that could not be read, and why."""
    with context().database.reading() as db:
        return reply(intake.left_out(db))
