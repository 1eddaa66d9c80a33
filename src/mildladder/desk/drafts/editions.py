"""Look at editions: list them, read one, and compare two of them or one with the draft."""

from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.ladder.diff import Difference, differences
from mildladder.core.model import Playbook, Shape
from mildladder.desk.documents import version_named, whole
from mildladder.store.documents import forecast_of
from mildladder.store.drafts import newest_revision
from mildladder.store.editions import editions
from mildladder.store.tables import EditionRow

__all__ = ["Comparison", "EditionView", "compare", "compared", "edition_list", "edition_view"]


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


def compare(before: Playbook, after: Playbook) -> Comparison:
    """What changed, with the figures of both. Raises BadInput for what the forecast refuses."""
    return Comparison(sentences=tuple(differences(before, after)), before=forecast(before), after=forecast(after))


def compared(session: Session, playbook_id: str, before: str, after: str) -> Comparison:
    """What changed between two editions, by number, or an edition and `draft`, with the figures of both. Raises
    NotFound."""
    one, other = (whole(session, playbook_id, version_named(name)) for name in (before, after))
    made = compare(one.playbook, other.playbook)
    pictures = tuple(
        Difference(group="text", says=f"The picture “{path}” is another one")
        for path, digest in other.pictures.items()
        if one.pictures.get(path, digest) != digest
    )
    return made.model_copy(update={"sentences": made.sentences + pictures})
