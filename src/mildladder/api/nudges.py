"""Routes of what to change next."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.core.model import Shape
from mildladder.desk import nudging

__all__ = ["blueprint"]

blueprint = APIBlueprint("nudges", __name__, url_prefix="/api", abp_tags=[Tag(name="desk")])


class WhatToChange(Shape):
    """What to change next, by symptom. waiting: symptoms whose answer is being worked out anew."""

    symptoms: tuple[nudging.SymptomNudges, ...]
    waiting: int


@blueprint.get("/nudges", responses={200: WhatToChange, **documented(503)})
def list_nudges() -> Response:
    """What to change next, of every symptom with enough cases; an older answer until a newer one is there."""
    desk = context()
    found, waiting = nudging.nudges(desk.database, desk.workers, desk.now())
    return reply(WhatToChange(symptoms=tuple(found), waiting=waiting))
