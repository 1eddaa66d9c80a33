"""Read drafts as a careful colleague would, and mend what can be mended in one press."""

from collections import deque

from sqlalchemy.orm import Session

from mildladder.core.model import Playbook
from mildladder.core.review import Link, Mend, ReviewFinding, links_of, mends, review
from mildladder.desk.editions import document
from mildladder.store import drafts as store

__all__ = ["Mend", "known_links", "mends_of", "reviewed"]


def known_links(session: Session, playbook: Playbook) -> Link:
    """Every playbook of the desk; with those that it leads on to, for all that can be come to from this one."""
    known = dict.fromkeys(store.playbook_ids(session), frozenset[str]())
    waiting = deque(links_of(playbook))
    seen: set[str] = set()
    while waiting:
        name = waiting.popleft()
        if name in known and name not in seen and name != playbook.id:
            seen.add(name)
            known[name] = links_of(document(session, name, "draft"))
            waiting.extend(known[name])
    return known


def reviewed(session: Session, playbook: Playbook) -> list[ReviewFinding]:
    """What review says of a playbook on this desk."""
    return review(playbook, known_links(session, playbook))


def mends_of(playbook: Playbook, known: Link) -> tuple[Mend, ...]:
    """What can be mended in one press."""
    return tuple(mends(playbook, known))
