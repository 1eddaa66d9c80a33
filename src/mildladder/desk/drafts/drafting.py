"""Change a draft: one way for all, from a keystroke to a file that is brought in (docs/drafts.md)."""

import json
import secrets
from collections.abc import Callable, Mapping, Sequence
from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy.orm import Session

from mildladder.core.draft.apply import Applied, Operation, Stamp, apply, replayed
from mildladder.core.draft.check import check_operations, check_size
from mildladder.core.draft.difference import difference
from mildladder.core.draft.form import form_of, random_keys
from mildladder.core.draft.groups import undone_of
from mildladder.core.draft.labels import label_of
from mildladder.core.draft.tree import Item, Tree
from mildladder.core.errors import Conflict, NotTheirs
from mildladder.core.model import Document
from mildladder.desk.drafts.questions import ORDERING
from mildladder.store import drafts as store
from mildladder.store.jobs import cancel_older
from mildladder.store.moments import as_stored
from mildladder.store.tables import DraftClientRow, RevisionRow

__all__ = ["FOR_GOOD", "Sender", "Taken", "become", "drop", "new_key", "next_of", "plain", "take", "undo_operations"]

new_key = random_keys(secrets.randbelow)
# The desk's own edits: their number is that of the revision which they make.
_DESK = "desk"
# What no undo takes back is marked as the undoing of nothing.
FOR_GOOD = "desk-nothing"


class Sender(NamedTuple):
    """Who sends an edit, from which page and as which of its edits; group: what it belongs to."""

    client: str
    number: int
    group: str
    who: int


class Taken(NamedTuple):
    """row: the edit as it was kept; None where nothing was there to do. tree: what the draft has come to; conflicts:
    keys of those that it opened."""

    row: RevisionRow | None
    tree: Tree
    conflicts: tuple[str, ...]


def next_of(row: DraftClientRow | None, who: int) -> int:
    """The number that is taken from a client next; None: one that has not changed the draft. Raises NotTheirs when the
    client is somebody else's."""
    if row is not None and row.who != who:
        raise NotTheirs("these changes were made by somebody else on this computer; they are sent when they sit down")
    return row.next if row is not None else 1


def take(
    session: Session,
    playbook_id: str,
    sender: Sender,
    operations: Sequence[Operation],
    now: datetime,
    label: str | None = None,
    undoes: str | None = None,
    is_ours: bool = False,
) -> Taken:
    """Do one edit on the newest tree and keep it. label: where it is not made of what was done; is_ours: the desk made
    the operations itself.

    Raises BadInput for what no draft can hold; the number is not used up by that.
    """
    newest = store.newest_revision(session, playbook_id)
    before = store.tree_at(session, playbook_id, newest.number)
    if not is_ours:
        check_operations(before, operations)
    stamp = Stamp(sender.client, sender.number, sender.who, as_stored(now))
    made = apply(before, operations, stamp, undoes is not None, _blame(session, newest))
    if made.done:
        check_size(made.root)
    row = _kept(session, newest, sender, made, before, label, undoes, now)
    return Taken(row, made.tree, made.conflicts)


def _blame(session: Session, newest: RevisionRow) -> Callable[[str], int | None]:
    return lambda key: store.changed_last(session, newest.playbook_id, newest.number, key)


def _kept(
    session: Session,
    newest: RevisionRow,
    sender: Sender,
    made: Applied,
    before: Tree,
    label: str | None,
    undoes: str | None,
    now: datetime,
) -> RevisionRow | None:
    if not made.done:
        return None
    label = label or label_of(before, made.tree, made.done)
    edit = store.Edit(sender.client, sender.number, sender.group, undoes, label, made.done, made.inverse)
    return _added(session, newest.playbook_id, made.root, edit, sender.who, now)


def _added(session: Session, playbook_id: str, root: Item, edit: store.Edit, who: int, now: datetime) -> RevisionRow:
    """The new revision; what is being worked out of older ones is wanted no more."""
    row = store.add_edit(session, playbook_id, root, edit, who, now)
    cancel_older(session, ORDERING.name, playbook_id, row.number)
    return row


def undo_operations(session: Session, playbook_id: str, group: str, who: int) -> tuple[list[Operation], str]:
    """What takes one's own group back, and its label; nothing where it is undone already. Raises Conflict for a group
    that is not one's own, or cannot be undone."""
    groups = store.groups_of(session, playbook_id, who)
    known = next((one for one in groups if one.name == group), None)
    if known is None:
        raise Conflict("there is no such change of yours to undo")
    if group in undone_of(groups):
        return [], known.label
    rows = [row for row in store.group_edits(session, playbook_id, group, who) if row.undoes != FOR_GOOD]
    if not rows:
        raise Conflict("this cannot be undone: names of what was published, and what was dropped, stay")
    operations = [one for row in rows for one in json.loads(row.inverse)]
    if known.undoes is None:
        return operations, f"Undid: {known.label}"
    return operations, f"Redid: {known.label.removeprefix('Undid: ')}"


def become(session: Session, document: Document, label: str | None, who: int, now: datetime) -> RevisionRow:
    """Make a document the draft, as one group of edits on the newest tree; the playbook too, where there is none.

    label: what was done; None: made of what was done.
    """
    playbook_id = document.playbook.id
    data = plain(document)
    if playbook_id not in store.playbook_ids(session):
        return store.begin(session, playbook_id, form_of(data, new_key), label or "Begun", who, now)
    newest = store.newest_revision(session, playbook_id)
    number = newest.number + 1
    made = difference(store.form_at(session, playbook_id, newest.number), data, new_key)
    sender = Sender(_DESK, number, f"{_DESK}-{number}", who)
    taken = take(session, playbook_id, sender, made, now, label, is_ours=True)
    return taken.row or newest


def drop(session: Session, row: RevisionRow, done: Sequence[Operation], who: int, now: datetime) -> RevisionRow:
    """Take away for good, as one edit of the desk; nothing brings it back."""
    root = replayed(store.form_at(session, row.playbook_id, row.number), done)
    number = row.number + 1
    edit = store.Edit(_DESK, number, f"{_DESK}-{number}", FOR_GOOD, "What was long out dropped", done, ())
    return _added(session, row.playbook_id, root, edit, who, now)


def plain(document: Document) -> Mapping[str, Any]:
    """A document as plain data, keys that its author never set left out."""
    return document.model_dump(mode="json", by_alias=True, exclude_unset=True)
