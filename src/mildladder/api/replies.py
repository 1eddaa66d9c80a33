"""Send a shape as JSON, the same way everywhere."""

from flask import Response

from mildladder.core.model import Shape

__all__ = ["reply", "reply_document"]


def reply(shape: Shape, status: int = 200) -> Response:
    """The shape with all its keys."""
    return Response(shape.model_dump_json(by_alias=True), status=status, mimetype="application/json")


def reply_document(shape: Shape, revision: int) -> Response:
    """A shape that holds a document, as its author wrote it: keys never set are left out, so that a browser can
    send the document back unchanged. `revision` becomes the entity tag."""
    body = shape.model_dump_json(by_alias=True, exclude_unset=True)
    response = Response(body, mimetype="application/json")
    response.headers["ETag"] = f'"{revision}"'
    return response
