"""Turn every error into an RFC 9457 problem document: a plain sentence, the field, and what to do."""

from typing import Any

from flask import Flask, Response, g
from pydantic import Field, ValidationError
from werkzeug.exceptions import HTTPException

from mildladder.core.errors import (
    BadInput,
    Conflict,
    LadderError,
    NoPerson,
    NotFound,
    NotTheirs,
    OtherPerson,
    Outrun,
    Several,
    Stale,
    Unavailable,
    Unconditional,
    Unsound,
)
from mildladder.core.model import Shape
from mildladder.core.texts import shortened

__all__ = ["Problem", "documented", "install", "status_of", "validation_failed"]

_STATUS: dict[type[LadderError], tuple[int, str]] = {
    NotFound: (404, "Not found"),
    BadInput: (422, "That cannot be read"),
    Several: (422, "That cannot be read"),
    Stale: (412, "Somebody has changed this since"),
    Unconditional: (428, "Say what you saw"),
    Conflict: (409, "That does not fit here"),
    Outrun: (409, "Out of turn"),
    Unsound: (409, "Not to be published yet"),
    NoPerson: (403, "Nobody has said who they are"),
    OtherPerson: (403, "Somebody else sits here now"),
    NotTheirs: (403, "That is the lead's"),
    Unavailable: (503, "Not available just now"),
}
_LONGEST = 500
_TITLES = dict([*_STATUS.values(), _STATUS[Conflict]])


class ProblemPlace(Shape):
    """Where a draft is not sound: the key of an item, the field of it, and what is wrong there."""

    key: str
    field: tuple[str, ...]
    says: str


class Problem(Shape):
    """What went wrong (RFC 9457). `type`: a stable word; `field`: the place in the request; `current`: the newest
    revision after a stale save; `next`: the number that is taken from a page; `places`: what keeps a draft from being
    published; `problems`: each of several things that are wrong, in a sentence."""

    type: str
    title: str
    status: int
    detail: str
    field: str | None = Field(default=None)
    current: int | None = Field(default=None)
    next: int | None = Field(default=None)
    places: tuple[ProblemPlace, ...] | None = Field(default=None)
    problems: tuple[str, ...] | None = Field(default=None)


def documented(*statuses: int) -> dict[str | int, Any]:
    """The OpenAPI responses of these problem statuses."""
    return {
        status: {
            "description": _TITLES[status],
            "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
        }
        for status in statuses
    }


def install(app: Flask) -> None:
    """Answer every error of ours and of HTTP with a problem document."""
    app.register_error_handler(LadderError, _ladder_problem)
    app.register_error_handler(HTTPException, _http_problem)


def validation_failed(error: ValidationError) -> Response:
    """The one way in which a request that does not fit its shape is refused: with its first bad field."""
    first = error.errors(include_url=False, include_context=False)[0]
    field = ".".join(str(part) for part in first["loc"])
    if field == "If-Match" and first["type"] == "missing":
        raise Unconditional("say which revision you saw: send its ETag as If-Match")
    says = first["msg"].removeprefix("Value error, ")
    where = f"'{field}': " if field else ""
    raise BadInput(f"{where}{says[:1].lower()}{says[1:]}", path=field)


def status_of(kind: type[LadderError]) -> tuple[int, str]:
    """The status of a kind of error, and the title of its problem document; a kind without its own has its base's."""
    return next(_STATUS[base] for base in kind.__mro__ if base in _STATUS)


def _ladder_problem(error: LadderError) -> Response:
    status, title = status_of(type(error))
    problem = Problem(
        type=error.code,
        title=title,
        status=status,
        detail=error.says if isinstance(error, BadInput) else str(error),
        field=error.path or None if isinstance(error, BadInput) else None,
        current=error.current if isinstance(error, Stale) else None,
        next=error.next if isinstance(error, Outrun) else None,
        places=tuple(ProblemPlace(key=key, field=field, says=says) for key, field, says in error.places)
        if isinstance(error, Unsound)
        else None,
        problems=tuple(str(one) for one in error.problems) if isinstance(error, Several) else None,
    )
    return _reply(problem)


def _http_problem(error: HTTPException) -> Response:
    status = error.code or 500
    detail = shortened(error.description or error.name, _LONGEST)
    response = _reply(Problem(type="http", title=error.name, status=status, detail=detail))
    for name, value in error.get_headers():
        if name.lower() == "allow":
            response.headers[name] = value
    return response


def _reply(problem: Problem) -> Response:
    g.problem = problem.type
    return Response(
        problem.model_dump_json(exclude_none=True), status=problem.status, mimetype="application/problem+json"
    )
