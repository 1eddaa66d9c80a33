"""Author a playbook: see the draft, change it, mend it, undo and redo."""

from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput, Conflict, Stale
from mildladder.core.figures.work import check_work
from mildladder.core.ladder.moves import move_rung
from mildladder.core.ladder.soundness import check
from mildladder.core.model import Document, Playbook
from mildladder.desk.draft_view import DraftView, view_of
from mildladder.desk.facts import know_facts
from mildladder.desk.reviewing import mend_document
from mildladder.exchange.pictures import picture_paths
from mildladder.store import drafts as store
from mildladder.store.documents import document_of
from mildladder.store.tables import RevisionRow

__all__ = ["draft", "mend", "move", "newest", "newest_as", "redo", "revise", "revision_of", "save", "undo"]


def draft(session: Session, playbook_id: str) -> DraftView:
    """The draft as it stands. Raises NotFound."""
    return view_of(session, store.newest_revision(session, playbook_id))


def save(session: Session, playbook: Playbook, label: str, expected: int, who: int, now: datetime) -> RevisionRow:
    """Make a changed document the draft. Raises Stale when `expected` is not the newest, BadInput when unsound.

    Origins of steps that the document still has are kept.
    """
    row = newest_as(session, playbook.id, expected)
    check(playbook)
    check_work(playbook)
    was = document_of(row)
    if was.playbook == playbook:
        return row
    kept = {step.id: was.origins[step.id] for step in playbook.steps if step.id in was.origins}
    know_facts(session, playbook.facts, who, now)
    shown = picture_paths(playbook)
    pictures = {path: digest for path, digest in was.pictures.items() if path in shown}
    for path in shown:
        if path not in pictures:
            raise BadInput(
                f"the picture '{path}' is not on this desk; bring it in with the playbook file", path="playbook"
            )
    document = Document(playbook=playbook, origins=kept, **({"pictures": pictures} if pictures else {}))
    return store.add_revision(session, document, label, who, now)


def revise(session: Session, document: Document, label: str, expected: int, who: int, now: datetime) -> RevisionRow:
    """Make a document, origins included, the draft. Raises Stale, and BadInput when it is unsound."""
    newest_as(session, document.playbook.id, expected)
    check(document.playbook)
    check_work(document.playbook)
    return store.add_revision(session, document, label, who, now)


def move(
    session: Session, playbook_id: str, source: int, target: int, both: bool, expected: int, who: int, now: datetime
) -> RevisionRow:
    """Move one rung, by index. Raises Stale, BadInput for an index that is not there, Held for a binding rule."""
    row = newest_as(session, playbook_id, expected)
    was = document_of(row).playbook
    moved = move_rung(was, source, target, both)
    title = moved.step(was.ladder[source].step).title
    return save(session, moved, f"{title} moved from {source + 1} to {target + 1}", expected, who, now)


def undo(session: Session, playbook_id: str, expected: int, even_others: bool, who: int, now: datetime) -> RevisionRow:
    """Bring back the state before the last change. Raises Conflict when there is none, or when it is another's."""
    row = newest_as(session, playbook_id, expected)
    target = store.undo_target(session, row)
    if target is None:
        raise Conflict("there is nothing to undo")
    taken_away, brought_back = target
    _check_whose(taken_away, even_others, who, "undone")
    label = f"Undid: {taken_away.label}"
    document = document_of(brought_back)
    return store.add_revision(session, document, label, who, now, brought_back)


def redo(session: Session, playbook_id: str, expected: int, even_others: bool, who: int, now: datetime) -> RevisionRow:
    """Bring back what undo took away. Raises Conflict when there is nothing, or when it is another's."""
    row = newest_as(session, playbook_id, expected)
    target = store.redo_target(session, row)
    if target is None:
        raise Conflict("there is nothing to redo")
    _check_whose(target, even_others, who, "redone")
    document = document_of(target)
    return store.add_revision(session, document, f"Redid: {target.label}", who, now, target)


def _check_whose(change: RevisionRow, even_others: bool, who: int, done: str) -> None:
    if change.who != who and not even_others:
        raise Conflict(f"“{change.label}” is {change.person.name}'s change; say that it may be {done} all the same")


def mend(
    session: Session, playbook_id: str, code: str, finding: str, expected: int, who: int, now: datetime
) -> RevisionRow:
    """Mend one finding of review, as one change. Raises Stale, and Conflict when it is gone or has no mend."""
    newest_as(session, playbook_id, expected)
    playbook, says = mend_document(session, playbook_id, code, finding)
    return save(session, playbook, says, expected, who, now)


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
            f"look at revision {newest.number}, then make your change again",
            newest.number,
        )
    return newest
