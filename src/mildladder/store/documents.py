"""Documents as they lie in the store: written with the number of their shape, brought up to today's when read."""

from collections.abc import Hashable
from typing import Any

from pydantic import ValidationError
from sqlalchemy.orm import object_session

from mildladder.core.errors import Unavailable
from mildladder.core.figures.forecast import Forecast
from mildladder.core.model import Document
from mildladder.core.model.versions import brought_up, stamped
from mildladder.store.kept import kept
from mildladder.store.tables import EditionRow, RevisionRow

__all__ = ["document_of", "forecast_of", "stored_document", "stored_forecast"]


def document_of(row: RevisionRow | EditionRow) -> Document:
    """The self-contained document of a revision or an edition. Raises Unavailable for one that cannot be read."""
    return kept(object_session(row), _key("document", row), lambda: _read(row))


def _key(what: str, row: RevisionRow | EditionRow) -> tuple[Hashable, ...]:
    return what, row.__tablename__, row.playbook_id, row.number


def _read(row: RevisionRow | EditionRow) -> Document:
    try:
        return Document.model_validate(brought_up("document", row.document))
    except ValidationError as error:
        what = f"edition {row.number}" if isinstance(row, EditionRow) else f"revision {row.number} of the draft"
        raise Unavailable(
            f"{what} of '{row.playbook_id}' is stored in a shape that this program cannot read"
        ) from error


def stored_document(document: Document) -> dict[str, Any]:
    """Inverse of `document_of`: keys that its author never set are left out."""
    return stamped("document", document.model_dump(mode="json", by_alias=True, exclude_unset=True))


def forecast_of(row: EditionRow) -> Forecast:
    """The forecast made when an edition was published; a figure that this program no longer knows is passed over."""
    return kept(
        object_session(row),
        _key("forecast", row),
        lambda: Forecast.model_validate(brought_up("forecast", row.forecast), extra="ignore"),
    )


def stored_forecast(figures: Forecast) -> dict[str, Any]:
    """Inverse of `forecast_of`."""
    return stamped("forecast", figures.model_dump(mode="json"))
