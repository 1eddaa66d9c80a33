"""Put the application together from its routes, its error translator and an open database."""

from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from flask import Response, request
from flask.json.provider import DefaultJSONProvider
from flask_compress import Compress
from flask_openapi3 import Info, OpenAPI
from pydantic_core import from_json

import mildladder
from mildladder.api import (
    author,
    climbs,
    defences,
    evidence,
    files,
    home,
    intake,
    jobs,
    lanes,
    library,
    log,
    notices,
    nudges,
    ordering,
    people,
    problems,
    publish,
    request_log,
)
from mildladder.api.context import NAME, Context
from mildladder.api.pages import WEB, pages
from mildladder.clock import utc_now
from mildladder.desk.jobs.queue import Workers
from mildladder.desk.work.kinds import InlineWorkers
from mildladder.diagnostics.events import log_event, place_of
from mildladder.store.database import Database

__all__ = ["create_app", "openapi_document"]

NAME_OF_COOKIE = "mild-ladder"
_MOST_BYTES = 8_000_000


class _Api(OpenAPI):
    """The application, whose document keeps every keyword of its schemas."""

    def log_exception(self, exc_info: Any) -> None:
        """Note a fault of our own: its kind and place, not its message."""
        kind, error, _ = exc_info
        log_event("fault", is_bad=True, error=kind.__name__, at=place_of(error))

    def generate_spec_json(self) -> None:
        """Make the document once, when it is first asked for."""
        super().generate_spec_json()  # type: ignore[no-untyped-call]
        whole = {
            name: schema.model_dump(mode="json", by_alias=True, exclude_unset=True, exclude={"$defs"})
            for name, schema in self.components_schemas.items()
        }
        self.spec_json["components"]["schemas"] = whole


class _Json(DefaultJSONProvider):
    """Reads bodies with a reader that no depth can exhaust."""

    def loads(self, s: str | bytes, **_kwargs: Any) -> Any:
        """Raises ValueError, which is answered as a bad request, for what is no JSON."""
        return from_json(s, allow_inf_nan=False)


def create_app(
    database: Database, now: Callable[[], datetime] = utc_now, web: Path = WEB, workers: Workers | None = None
) -> OpenAPI:
    """The application over one open database. `now` gives the time of every write; `web`: the built front end; workers:
    who carries out long work, else it is done where it is asked for."""
    app = _bare_app()
    app.secret_key = database.cookie_key()
    app.extensions[NAME] = Context(database=database, now=now, workers=workers or InlineWorkers(database))
    app.register_blueprint(pages(web))
    return app


def openapi_document() -> dict[str, object]:
    """The OpenAPI 3.1 document, made without a database."""
    return dict(_bare_app().api_doc)


def _bare_app() -> OpenAPI:
    app = _Api(
        NAME,
        info=Info(title="Mild Ladder", version=mildladder.__version__),
        security_schemes={"person": {"type": "apiKey", "in": "cookie", "name": NAME_OF_COOKIE}},
        validation_error_model=problems.Problem,
        validation_error_callback=problems.validation_failed,
        doc_ui=False,
    )
    app.json = _Json(app)
    app.config.update(
        MAX_CONTENT_LENGTH=_MOST_BYTES,
        SESSION_COOKIE_NAME=NAME_OF_COOKIE,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        PERMANENT_SESSION_LIFETIME=timedelta(days=365),
        # A cookie for a year need not be made anew with every answer.
        SESSION_REFRESH_EACH_REQUEST=False,
        # Answers go no further than this machine, so pressing them together takes longer than sending them.
        COMPRESS_MIMETYPES=["text/html", "text/css", "text/javascript", "application/javascript", "image/svg+xml"],
        COMPRESS_ALGORITHM=["br", "gzip"],
        COMPRESS_BR_LEVEL=4,
    )
    request_log.install(app)
    problems.install(app)
    for module in (
        people,
        home,
        author,
        files,
        ordering,
        publish,
        library,
        evidence,
        climbs,
        notices,
        nudges,
        log,
        intake,
        jobs,
    ):
        app.register_api(module.blueprint)
    app.add_url_rule("/api/openapi.json", "openapi", lambda: app.api_doc)
    defences.install(app)
    lanes.install(app)
    app.after_request(_never_cache_answers)
    Compress(app)
    return app


def _never_cache_answers(response: Response) -> Response:
    if request.path.startswith("/api/"):
        response.headers.setdefault("Cache-Control", "no-store")
    return response
