"""Routes of who sits at this browser."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, person, remember
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import NewPerson, SetPerson
from mildladder.core.model import Shape
from mildladder.desk import people

__all__ = ["blueprint"]

blueprint = APIBlueprint("people", __name__, url_prefix="/api", abp_tags=[Tag(name="people")])


class Me(Shape):
    """Who sits at this browser, None while nobody has said, and whom one may choose from."""

    person: people.PersonView | None
    people: tuple[people.PersonView, ...]


@blueprint.get("/me", responses={200: Me, **documented(503)})
def get_me() -> Response:
    """Who sits at this browser."""
    with context().database.reading() as db:
        return reply(Me(person=person(db), people=tuple(people.everybody(db))))


@blueprint.put("/me", responses={200: Me, **documented(404, 422, 503)})
def set_me(body: SetPerson) -> Response:
    """Choose who sits at this browser; kept in a signed cookie."""
    with context().database.reading() as db:
        chosen = people.person_of(db, body.person)
        remember(chosen.id)
        return reply(Me(person=chosen, people=tuple(people.everybody(db))))


@blueprint.post("/people", responses={201: people.PersonView, **documented(409, 422, 503)})
def add_person(body: NewPerson) -> Response:
    """Take somebody on at the desk."""
    with context().database.writing() as db:
        by = person(db)
        return reply(people.add_person(db, body.name, body.role, by.id if by else None, context().now()), 201)
