"""Documents as they lie in the store: written with the number of their shape, brought up to today's when read."""

from typing import Any

from pydantic import ValidationError
from sqlalchemy.orm import Session, object_session

from mildladder.core.draft.flaws import AsRead, Sound, as_read, sound_tree
from mildladder.core.draft.tree import Item
from mildladder.core.errors import Unavailable
from mildladder.core.figures.forecast import Forecast
from mildladder.core.model import Document
from mildladder.core.model.versions import stamped, upgraded
from mildladder.store.cache import Needs, cached
from mildladder.store.drafts import earlier_values, form_at, kept_forms, tree_at
from mildladder.store.sizes import size_of_plain
from mildladder.store.tables import EditionRow, RevisionRow

__all__ = ["document_of", "forecast_of", "read_at", "sound_of", "stored_document", "stored_forecast"]


def document_of(row: RevisionRow | EditionRow) -> Document:
    """The self-contained document of a revision or an edition. Raises Unavailable for one that cannot be read.

    Of a draft with flaws: the one that figures are made of; where there is none, that of the newest revision before.
    """
    if isinstance(row, EditionRow):
        return cached(object_session(row), "document", _of(row), lambda: _read(row))
    session = object_session(row)
    assert session is not None, "a row is read within a session"
    return _sound_document(session, row.playbook_id, row.number)


def sound_of(session: Session, playbook_id: str, number: int) -> Sound:
    """What figures of a draft's revision are made of."""
    return cached(
        session,
        "sound",
        Needs(draft=(playbook_id, number)),
        lambda: sound_tree(
            form_at(session, playbook_id, number),
            lambda key, path: earlier_values(session, playbook_id, number, key, path),
            read_at(session, playbook_id, number),
        ),
        lambda made: _bytes_of(made.root) if made.instead else _SHARED_BYTES,
    )


def read_at(session: Session, playbook_id: str, number: int) -> AsRead:
    """What a draft's revision is read as, with every flaw."""
    needs = Needs(draft=(playbook_id, number))

    def size(_read: AsRead) -> int:
        return _bytes_of(tree_at(session, playbook_id, number).root)

    return cached(session, "read", needs, lambda: as_read(tree_at(session, playbook_id, number)), size)


def _bytes_of(form: Item) -> int:
    """Of a form with what is read of it, which is about three times as large; to look at all of that takes longer."""
    return 3 * size_of_plain(form)


def _sound_document(session: Session, playbook_id: str, number: int) -> Document:
    """Of a draft of which no figures can be made: the newest revision before that is kept whole and has no flaw. What
    was published has none."""
    document = sound_of(session, playbook_id, number).document
    if document is not None:
        return document
    for earlier in kept_forms(session, playbook_id, number):
        read = read_at(session, playbook_id, earlier)
        if read.document is not None and not read.flaws:
            return read.document
    raise Unavailable(f"no revision of '{playbook_id}' can be read as a playbook")


# What a sound draft adds to the draft as it is read.
_SHARED_BYTES = 2_000


def _of(row: EditionRow) -> Needs:
    return Needs(editions=((row.playbook_id, row.number),))


def _read(row: EditionRow) -> Document:
    try:
        return Document.model_validate(upgraded("document", row.document))
    except ValidationError as error:
        raise Unavailable(
            f"edition {row.number} of '{row.playbook_id}' is stored in a shape that this program cannot read"
        ) from error


def stored_document(document: Document) -> dict[str, Any]:
    """Inverse of `document_of`: keys that its author never set are left out."""
    return stamped("document", document.model_dump(mode="json", by_alias=True, exclude_unset=True))


def forecast_of(row: EditionRow) -> Forecast:
    """The forecast made when an edition was published; a figure that this program no longer knows is passed over."""
    return cached(
        object_session(row),
        "forecast",
        _of(row),
        lambda: Forecast.model_validate(upgraded("forecast", row.forecast), extra="ignore"),
    )


def stored_forecast(figures: Forecast) -> dict[str, Any]:
    """Inverse of `forecast_of`."""
    return stamped("forecast", figures.model_dump(mode="json"))
