"""Send a shape as JSON, the same way everywhere."""

from flask import Response

from mildladder.core.model import Shape

__all__ = ["reply"]


def reply(shape: Shape, status: int = 200, revision: int | None = None) -> Response:
    """The shape as its author wrote it: keys never set are left out. `revision`: becomes the entity tag."""
    body = shape.model_dump_json(by_alias=True, exclude_unset=True)
    response = Response(body, status=status, mimetype="application/json")
    if revision is not None:
        response.headers["ETag"] = f'"{revision}"'
    return response
