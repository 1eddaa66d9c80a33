"""Freeze drafts as editions."""

from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.draft.form import to_document
from mildladder.core.draft.publishing import drops, naming_operations
from mildladder.core.errors import Conflict, Unsound
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.content import content_hash
from mildladder.core.model import Playbook
from mildladder.desk.advice.following import ask_for_promise
from mildladder.desk.advice.side_by_side import refuse_publishing
from mildladder.desk.documents import newest_as
from mildladder.desk.drafts.author import flaws_at
from mildladder.desk.drafts.drafting import FOR_GOOD, Sender, drop, take
from mildladder.desk.drafts.editions import EditionView, edition_view
from mildladder.desk.drafts.reviewing import reviewed
from mildladder.desk.drafts.shared_steps import share_new
from mildladder.desk.library.facts import know_facts
from mildladder.store import drafts
from mildladder.store.documents import document_of
from mildladder.store.editions import add_edition, is_same, newest_edition
from mildladder.store.library import library_ids
from mildladder.store.tables import EditionRow, RevisionRow

__all__ = ["name_new", "publish", "refuse_flaws"]


def publish(session: Session, playbook_id: str, note: str, expected: int, who: int, now: datetime) -> EditionView:
    """Freeze the draft as the next edition. Raises Stale, Conflict when nothing changed, and Unsound, with the places,
    when a flaw or a blocker stands."""
    refuse_publishing(session, playbook_id)
    seen = _as_seen(session, playbook_id, expected)
    refuse_flaws(session, seen, "published")
    row = name_new(session, playbook_id, who, now)
    kept = document_of(row)
    _refuse_blockers(session, kept.playbook, row)
    last = newest_edition(session, playbook_id)
    if last is not None and is_same(last, kept):
        raise Conflict(f"nothing has changed since edition {last.number}")
    row = _shared(session, _dropped(session, row, last, who, now), kept.playbook, who, now)
    kept = document_of(row)
    know_facts(session, kept.playbook.facts, who, now)
    drafts.keep_form(session, playbook_id, row.number, drafts.form_at(session, playbook_id, row.number))
    figures, digest = forecast(kept.playbook), content_hash(kept.playbook)
    made = add_edition(session, kept, row.number, figures, digest, note, who, now)
    ask_for_promise(session, playbook_id, made.number, who, now)
    return edition_view(made)


def _as_seen(session: Session, playbook_id: str, expected: int) -> RevisionRow:
    """The newest revision, where nobody has changed anything since the expected one: the desk's own names of new things
    change nothing that anybody wrote. Raises Stale."""
    newest = drafts.newest_revision(session, playbook_id)
    if expected < newest.number and not drafts.is_changed_since(session, playbook_id, expected, FOR_GOOD):
        return newest
    return newest_as(session, playbook_id, expected)


def name_new(session: Session, playbook_id: str, who: int, now: datetime) -> RevisionRow:
    """Give each new thing of the draft the name that it has in files and editions from then on; the revision after."""
    newest = drafts.newest_revision(session, playbook_id)
    made = naming_operations(drafts.form_at(session, playbook_id, newest.number), library_ids(session))
    if not made:
        return newest
    sender = Sender("desk", newest.number + 1, f"desk-{newest.number + 1}", who)
    taken = take(session, playbook_id, sender, made, now, "New things named", FOR_GOOD, is_ours=True)
    return taken.row or newest


def _dropped(session: Session, row: RevisionRow, last: EditionRow | None, who: int, now: datetime) -> RevisionRow:
    """What was out already at the publishing before is dropped for good."""
    if last is None:
        return row
    root = drafts.form_at(session, row.playbook_id, row.number)
    done = drops(root, drafts.form_at(session, row.playbook_id, last.revision))
    return drop(session, row, done, who, now) if done else row


def _shared(session: Session, row: RevisionRow, playbook: Playbook, who: int, now: datetime) -> RevisionRow:
    """What was made in this draft is the library's from now on, so that other playbooks can have it too."""
    made = share_new(session, row.playbook_id, playbook, who, now)
    if not made:
        return row
    sender = Sender("desk", row.number + 1, f"desk-{row.number + 1}", who)
    taken = take(session, row.playbook_id, sender, made, now, "New steps shared", FOR_GOOD, is_ours=True)
    return taken.row or row


def refuse_flaws(session: Session, row: RevisionRow, what: str) -> None:
    """Raises Unsound for a draft that is no sound playbook. what: that it cannot be."""
    flaws = flaws_at(session, row.playbook_id, row.number)
    if flaws:
        more = f" and {len(flaws) - 1} more" if len(flaws) > 1 else ""
        raise Unsound(
            f"this draft cannot be {what}: {flaws[0].says}{more}",
            [(flaw.key, flaw.field, flaw.says) for flaw in flaws],
        )


def _refuse_blockers(session: Session, playbook: Playbook, row: RevisionRow) -> None:
    """Raises Unsound when review finds what agents could come to harm by, and Conflict when there is nothing to
    climb."""
    blockers = [finding for finding in reviewed(session, playbook) if finding.level == "blocker"]
    if blockers:
        out = to_document(drafts.form_at(session, row.playbook_id, row.number))
        places = [(*out.place(tuple(one.where.split("."))), one.says) for one in blockers]
        raise Unsound(
            f"this draft cannot be published: {blockers[0].says}",
            [(key, tuple(field), says) for key, field, says in places],
        )
    if not playbook.ladder:
        raise Conflict("this draft cannot be published: its ladder has no rung")
