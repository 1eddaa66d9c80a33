"""Read drafts as a careful colleague would, and mend what can be mended in one press."""

from collections import deque
from collections.abc import Iterable

from sqlalchemy.orm import Session

from mildladder.core.model import Playbook
from mildladder.core.review import LinksByPlaybook, Mend, ReviewFinding, links_of, mends, review
from mildladder.store import drafts as store
from mildladder.store.cache import Needs, cached
from mildladder.store.documents import document_of

__all__ = ["Mend", "known_links", "mends_of", "reviewed"]


def known_links(session: Session, playbook: Playbook) -> LinksByPlaybook:
    """Every playbook of the desk; with those that it leads on to, for all that can be come to from this one."""
    return links_from(session, playbook.id, links_of(playbook))


def links_from(session: Session, playbook_id: str, links: Iterable[str]) -> LinksByPlaybook:
    """The same, of a playbook that leads on to these."""
    drafts = {state.playbook: state.draft for state in store.states(session)}
    known = dict.fromkeys(drafts, frozenset[str]())
    waiting = deque(links)
    seen: set[str] = set()
    while waiting:
        name = waiting.popleft()
        if name in known and name not in seen and name != playbook_id:
            seen.add(name)
            known[name] = draft_links(session, name, drafts[name])
            waiting.extend(known[name])
    return known


def links_of_draft(session: Session, playbook_id: str, number: int) -> LinksByPlaybook:
    """The same, of a revision of a draft."""
    return links_from(session, playbook_id, draft_links(session, playbook_id, number))


def draft_links(session: Session, playbook_id: str, number: int) -> frozenset[str]:
    """The playbooks that a revision of a draft leads on to."""

    def read() -> frozenset[str]:
        return links_of(document_of(store.revision(session, playbook_id, number)).playbook)

    return cached(session, "links", Needs(draft=(playbook_id, number)), read)


def reviewed(session: Session, playbook: Playbook) -> list[ReviewFinding]:
    """What review says of a playbook on this desk."""
    return review(playbook, known_links(session, playbook))


def mends_of(playbook: Playbook, known: LinksByPlaybook) -> tuple[Mend, ...]:
    """What can be mended in one press."""
    return tuple(mends(playbook, known))
