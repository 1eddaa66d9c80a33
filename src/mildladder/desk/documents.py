"""A draft's newest revision, a named one, or an edition, as a playbook."""

from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.errors import Stale
from mildladder.core.model import Document, Playbook
from mildladder.store import drafts as store
from mildladder.store.documents import document_of
from mildladder.store.editions import edition
from mildladder.store.tables import RevisionRow

__all__ = ["Version", "document", "newest", "newest_as", "newest_editions", "revision_of", "version_named", "whole"]

Version = int | Literal["draft"]


def document(session: Session, playbook_id: str, version: Version) -> Playbook:
    """The draft or an edition. Raises NotFound."""
    return whole(session, playbook_id, version).playbook


def newest_editions(session: Session) -> dict[str, Playbook]:
    """The newest edition of every symptom that has one."""
    found = store.states(session)
    return {one.playbook: document(session, one.playbook, one.edition) for one in found if one.edition}


def whole(session: Session, playbook_id: str, version: Version) -> Document:
    """The self-contained document of the draft or of an edition. Raises NotFound."""
    if version == "draft":
        return document_of(store.newest_revision(session, playbook_id))
    return document_of(edition(session, playbook_id, version))


def version_named(name: str) -> Version:
    """A draft or an edition, as an address names it."""
    return "draft" if name == "draft" else int(name)


def revision_of(session: Session, playbook_id: str) -> int:
    """The number of the draft's newest revision. Raises NotFound."""
    return store.newest_revision(session, playbook_id).number


def newest(session: Session, playbook_id: str) -> tuple[Playbook, int]:
    """The document of a draft, and its revision. Raises NotFound."""
    row = store.newest_revision(session, playbook_id)
    return document_of(row).playbook, row.number


def newest_as(session: Session, playbook_id: str, expected: int) -> RevisionRow:
    """The newest revision of a draft. Raises NotFound, and Stale when it is not the expected one."""
    newest = store.newest_revision(session, playbook_id)
    if newest.number != expected:
        raise Stale(
            f"{newest.person.name} has changed this draft since you read it (“{newest.label}”); "
            f"look at revision {newest.number} first",
            newest.number,
        )
    return newest
