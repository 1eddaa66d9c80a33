"""Look at editions: list them, read one, and compare two of them or one with the draft."""

from datetime import datetime
from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.ladder.diff import Difference, differences
from mildladder.core.model import Document, Playbook, Shape
from mildladder.store.documents import document_of, forecast_of
from mildladder.store.drafts import newest_revision, states
from mildladder.store.editions import edition, editions
from mildladder.store.tables import EditionRow

__all__ = [
    "Comparison", "EditionView", "compare", "compared", "document", "edition_list", "edition_view", "newest_editions",
    "version_named",
]  # fmt: skip

Version = int | Literal["draft"]


class EditionView(Shape):
    """One published edition, its document left out."""

    number: int
    note: str
    who: str
    at: datetime
    forecast: Forecast


class Comparison(Shape):
    """What changed, and the figures of both."""

    sentences: tuple[Difference, ...]
    before: Forecast
    after: Forecast


def edition_view(row: EditionRow) -> EditionView:
    """An edition as it is shown."""
    return EditionView(number=row.number, note=row.note, who=row.person.name, at=row.at, forecast=forecast_of(row))


def edition_list(session: Session, playbook_id: str) -> list[EditionView]:
    """Every edition, newest first. Raises NotFound when there is no such playbook."""
    newest_revision(session, playbook_id)
    return [edition_view(row) for row in editions(session, playbook_id)]


def document(session: Session, playbook_id: str, version: Version) -> Playbook:
    """The draft or an edition. Raises NotFound."""
    return _whole(session, playbook_id, version).playbook


def newest_editions(session: Session) -> dict[str, Playbook]:
    """The newest edition of every symptom that has one."""
    found = states(session)
    return {one.playbook: document(session, one.playbook, one.edition) for one in found if one.edition}


def _whole(session: Session, playbook_id: str, version: Version) -> Document:
    if version == "draft":
        return document_of(newest_revision(session, playbook_id))
    return document_of(edition(session, playbook_id, version))


def compare(before: Playbook, after: Playbook) -> Comparison:
    """What changed, with the figures of both. Raises BadInput for what the forecast refuses."""
    return Comparison(sentences=tuple(differences(before, after)), before=forecast(before), after=forecast(after))


def compared(session: Session, playbook_id: str, before: str, after: str) -> Comparison:
    """What changed between two editions, by number, or an edition and `draft`, with the figures of both. Raises
    NotFound."""
    one, other = (_whole(session, playbook_id, version_named(name)) for name in (before, after))
    made = compare(one.playbook, other.playbook)
    pictures = tuple(
        Difference(group="text", says=f"The picture “{path}” is another one")
        for path, digest in other.pictures.items()
        if one.pictures.get(path, digest) != digest
    )
    return made.model_copy(update={"sentences": made.sentences + pictures})


def version_named(name: str) -> Version:
    """A draft or an edition, as an address names it."""
    return "draft" if name == "draft" else int(name)
