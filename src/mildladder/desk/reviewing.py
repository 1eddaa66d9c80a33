"""Read drafts as a careful colleague would, mend them, compare editions, and bring an edition back as the draft."""

from collections import deque
from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput
from mildladder.core.ladder.diff import Comparison, compare
from mildladder.core.model import Playbook
from mildladder.core.review import Link, Mend, ReviewFinding, links_of, mended, mends, review
from mildladder.store import documents as store

__all__ = ["compared", "document", "known_links", "mend_document", "mends_of", "reviewed"]

Version = int | Literal["draft"]


def known_links(session: Session, playbook: Playbook) -> Link:
    """Every playbook of the desk; with those that it leads on to, for all that can be come to from this one."""
    known = dict.fromkeys(store.playbook_ids(session), frozenset[str]())
    waiting = deque(links_of(playbook))
    seen: set[str] = set()
    while waiting:
        name = waiting.popleft()
        if name in known and name not in seen and name != playbook.id:
            seen.add(name)
            known[name] = links_of(store.document_of(store.newest_revision(session, name)).playbook)
            waiting.extend(known[name])
    return known


def reviewed(session: Session, playbook: Playbook) -> list[ReviewFinding]:
    """What review says of a playbook on this desk."""
    return review(playbook, known_links(session, playbook))


def mends_of(playbook: Playbook, known: Link) -> tuple[Mend, ...]:
    """What can be mended in one press."""
    return tuple(mends(playbook, known))


def mend_document(session: Session, playbook_id: str, code: str, finding: str) -> tuple[Playbook, str]:
    """The draft with one finding mended, and what was done. Raises NotFound, Conflict."""
    playbook = document(session, playbook_id, "draft")
    return mended(playbook, code, finding, known_links(session, playbook))


def document(session: Session, playbook_id: str, version: Version) -> Playbook:
    """The draft or an edition. Raises NotFound."""
    row = (
        store.newest_revision(session, playbook_id)
        if version == "draft"
        else store.edition(session, playbook_id, version)
    )
    return store.document_of(row).playbook


def compared(session: Session, playbook_id: str, before: str, after: str) -> Comparison:
    """What changed between two editions, or an edition and the draft, with the figures of both. Raises NotFound, and
    BadInput for what names neither."""
    return compare(
        document(session, playbook_id, _version(before, "before")),
        document(session, playbook_id, _version(after, "after")),
    )


def _version(text: str, field: str) -> Version:
    if text == "draft":
        return "draft"
    if not text.isdigit() or len(text) > 9:
        raise BadInput("name an edition by its number, or the draft", path=field)
    return int(text)
