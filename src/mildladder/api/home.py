"""Routes of the Desk."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.core.model import Shape
from mildladder.desk import home

__all__ = ["blueprint"]

blueprint = APIBlueprint("home", __name__, url_prefix="/api", abp_tags=[Tag(name="desk")])


class SymptomList(Shape):
    """Every symptom, the one that took most minutes first."""

    symptoms: tuple[home.SymptomCard, ...]


@blueprint.get("/symptoms", responses={200: SymptomList, **documented(503)})
def list_symptoms() -> Response:
    """Every symptom with its figures and counts."""
    with context().database.reading() as db:
        return reply(SymptomList(symptoms=tuple(home.symptoms(db, context().now().date()))))
