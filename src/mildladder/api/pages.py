"""Serve the built front end: every path that is not the API's is the one page, and assets never change; they were
compressed when they were built, harder than there is time for while somebody waits."""

from mimetypes import guess_type
from pathlib import Path

from flask import Blueprint, Response, request, send_from_directory
from werkzeug.exceptions import NotFound

__all__ = ["WEB", "pages"]

WEB = Path(__file__).parent.parent / "web"
_YEAR = 365 * 24 * 3600
_SECURITY = {
    "Content-Security-Policy": "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
}


def pages(web: Path) -> Blueprint:
    """Routes of the built front end in the folder `web`."""
    blueprint = Blueprint("pages", __name__)

    @blueprint.get("/assets/<path:name>")
    def asset(name: str) -> Response:
        is_small = request.accept_encodings["br"] > 0 and (web / "assets" / f"{name}.br").is_file()
        kind = guess_type(name)[0] if is_small else None
        response = send_from_directory(web / "assets", f"{name}.br" if is_small else name, mimetype=kind, max_age=_YEAR)
        if is_small:
            response.content_encoding = "br"
        response.vary.add("Accept-Encoding")
        response.cache_control.immutable = True
        return response

    @blueprint.get("/", defaults={"path": ""})
    @blueprint.get("/<path:path>")
    def page(path: str) -> Response:
        if path == "api" or path.startswith("api/"):
            raise NotFound(f"there is no /{path}; see /api/openapi.json")
        if path == "mark.svg":
            return send_from_directory(web, path, max_age=_YEAR)
        if not (web / "index.html").is_file():
            raise NotFound("the front end is not built; run 'make build'")
        response = send_from_directory(web, "index.html")
        response.headers["Cache-Control"] = "no-cache"
        return response

    @blueprint.after_app_request
    def secure(response: Response) -> Response:
        response.headers.extend(_SECURITY)
        return response

    return blueprint
