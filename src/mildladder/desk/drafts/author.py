"""See a draft in working form, and take the edits that pages send."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy.orm import Session

from mildladder.core.draft.flaws import Flaw
from mildladder.core.draft.groups import redoable, undoable
from mildladder.core.draft.labels import place_of
from mildladder.core.draft.shape import ROOT
from mildladder.core.draft.tree import Item, Tree
from mildladder.core.errors import BadInput, Conflict, NotFound, Outrun
from mildladder.core.model import Shape
from mildladder.core.model.sending import SendEdit
from mildladder.desk.drafts.deeds import label_of_deed, operations_of
from mildladder.desk.drafts.drafting import Sender, Taken, next_of, take, undo_operations
from mildladder.store import drafts as store
from mildladder.store.database import Database
from mildladder.store.documents import read_at
from mildladder.store.tables import RevisionRow

__all__ = ["DraftForm", "Since", "draft_form", "flaws_at", "send", "since"]

# Beyond so many edits, or when they are longer than the draft is, the whole form is sent instead.
_MOST_SINCE = 200


class Change(Shape):
    """A group of one's own that undo or redo would take back, and what it did."""

    group: str
    label: str


class SavedBy(Shape):
    """Who saved last, when, and what they did."""

    who: str
    at: datetime
    label: str


class EditView(Shape):
    """One edit that was kept. done: what it did, to be replayed; None for the one that is answered, where it was done
    as it was sent. place: what the thing that it changed is called."""

    revision: int
    client: str
    sent: int
    group: str
    label: str
    who: str
    person: int
    at: datetime
    place: str
    key: str
    done: list[dict[str, Any]] | None


class FlawChanges(Shape):
    """Flaws that have come, and gone, since the revision that the page had."""

    come: tuple[Flaw, ...]
    gone: tuple[Flaw, ...]


class DraftForm(Shape):
    """A draft in working form. next: of those clients that were asked for, the number that is taken from each."""

    revision: int
    form: dict[str, Any]
    flaws: tuple[Flaw, ...]
    next: dict[str, int]
    saved: SavedBy
    undo: Change | None
    redo: Change | None


class Since(Shape):
    """What has come since a revision. next: the number that is taken from this client; conflicts: keys of those that
    this edit opened; form: the whole of it, where what came since would be too much. here: who else looks at it."""

    revision: int
    next: int
    since: tuple[EditView, ...]
    form: dict[str, Any] | None
    conflicts: tuple[str, ...]
    flaws: FlawChanges
    undo: Change | None
    redo: Change | None
    here: tuple[str, ...]


def draft_form(session: Session, playbook_id: str, who: int | None, clients: Sequence[str] = ()) -> DraftForm:
    """The draft as it stands. Raises NotFound."""
    row = store.newest_revision(session, playbook_id)
    undo, redo = _could(session, playbook_id, who)
    known = {client: store.client_of(session, playbook_id, client) for client in clients}
    return DraftForm(
        revision=row.number,
        form=store.form_at(session, playbook_id, row.number),
        flaws=flaws_at(session, playbook_id, row.number),
        next={name: client.next for name, client in known.items() if client is not None and client.who == who},
        saved=SavedBy(who=row.person.name, at=row.at, label=row.label),
        undo=undo,
        redo=redo,
    )


def flaws_at(session: Session, playbook_id: str, number: int) -> tuple[Flaw, ...]:
    """What keeps a revision from being a sound playbook."""
    return read_at(session, playbook_id, number).flaws


class Sent(NamedTuple):
    """What became of an edit: the revision that it made, None where there was nothing to do, and the keys of conflicts
    that it opened."""

    revision: int | None
    conflicts: tuple[str, ...]


def send(database: Database, playbook_id: str, body: SendEdit, who: int, now: datetime) -> Sent:
    """Take an edit. What was taken before changes nothing.

    Raises NotTheirs for another person's page and Outrun for a number that does not follow. What cannot be taken uses
    up its number, so that what follows it goes on: BadInput for what no draft can hold, Conflict and NotFound for a
    deed that is not to be done any more.
    """
    try:
        taken = database.change(lambda session: _taken(session, playbook_id, body, who, now))
    except (BadInput, Conflict, NotFound):
        database.change(lambda session: _use_up(session, playbook_id, body, who))
        raise
    if taken is None:
        return Sent(None, ())
    if taken.row is None:
        return Sent(None, taken.conflicts)
    store.remember(database, playbook_id, taken.row.number, taken.tree)
    return Sent(taken.row.number, taken.conflicts)


def _taken(session: Session, playbook_id: str, body: SendEdit, who: int, now: datetime) -> Taken | None:
    store.newest_revision(session, playbook_id)
    page = store.client_of(session, playbook_id, body.client)
    expected = next_of(page, who)
    if body.number < expected:
        return None
    if body.number > expected:
        raise Outrun(f"the next change of this page is number {expected}, not {body.number}", expected)
    if body.untaken is not None:
        raise BadInput(body.untaken.says, path=body.untaken.path)
    sender = Sender(body.client, body.number, body.group, who)
    taken = _done(session, playbook_id, body, sender, now)
    store.took(session, page, playbook_id, body.client, body.number, who)
    return taken


def _done(session: Session, playbook_id: str, body: SendEdit, sender: Sender, now: datetime) -> Taken:
    if body.undo is not None:
        operations, label = undo_operations(session, playbook_id, body.undo, sender.who)
        return take(session, playbook_id, sender, operations, now, label, undoes=body.undo, is_ours=True)
    if body.deed is not None:
        deed = body.deed
        made = operations_of(session, playbook_id, deed, sender.who, now)
        return take(session, playbook_id, sender, made, now, label_of_deed(session, playbook_id, deed), is_ours=True)
    sent = [one.model_dump(mode="json") for one in body.operations or ()]
    return take(session, playbook_id, sender, sent, now)


def _use_up(session: Session, playbook_id: str, body: SendEdit, who: int) -> None:
    store.newest_revision(session, playbook_id)
    page = store.client_of(session, playbook_id, body.client)
    if next_of(page, who) == body.number:
        store.took(session, page, playbook_id, body.client, body.number, who)


def since(
    session: Session,
    playbook_id: str,
    base: int,
    who: int | None,
    client: str | None = None,
    answered: SendEdit | None = None,
    conflicts: tuple[str, ...] = (),
    here: tuple[str, ...] = (),
) -> Since:
    """What has come after a revision. answered: the edit that this answers. Raises NotFound."""
    newest = store.newest_revision(session, playbook_id)
    is_known = 1 <= base <= newest.number
    rows = store.edits_since(session, playbook_id, base, _MOST_SINCE) if is_known else ()
    is_whole = not is_known or len(rows) > _MOST_SINCE
    undo, redo = _could(session, playbook_id, who)
    now = flaws_at(session, playbook_id, newest.number)
    before = () if is_whole or not is_known else flaws_at(session, playbook_id, base)
    page = store.client_of(session, playbook_id, client) if client else None
    tree = store.tree_at(session, playbook_id, newest.number)
    return Since(
        revision=newest.number,
        next=page.next if page is not None else 1,
        since=() if is_whole else tuple(_edit_view(row, tree, answered) for row in rows),
        form=tree.root if is_whole else None,
        conflicts=conflicts,
        flaws=_changes(before, now),
        undo=undo,
        redo=redo,
        here=here,
    )


def _changes(before: tuple[Flaw, ...], now: tuple[Flaw, ...]) -> FlawChanges:
    return FlawChanges(
        come=tuple(flaw for flaw in now if flaw not in before),
        gone=tuple(flaw for flaw in before if flaw not in now),
    )


def _edit_view(row: RevisionRow, tree: Tree, answered: SendEdit | None) -> EditView:
    is_answered = answered is not None and (row.client, row.sent) == (answered.client, answered.number)
    done = row.operations
    is_as_sent = is_answered and answered is not None and answered.operations is not None and not _opens(done)
    key = _key_of(done)
    return EditView(
        revision=row.number,
        client=row.client,
        sent=row.sent,
        group=row.group,
        label=row.label,
        who=row.person.name,
        person=row.who,
        at=row.at,
        place=place_of(tree, key) if key in tree.items else "",
        key=key,
        done=None if is_as_sent else done,
    )


def _opens(done: Sequence[Item]) -> bool:
    """Whether an edit opened or renewed a conflict: by whom it is opened, and when, the server alone knows."""
    return any(one.get("list") == ["conflicts"] or one.get("path") in (["mine"], ["at"]) for one in done)


def _key_of(done: Sequence[Item]) -> str:
    """The item that an edit changed first; of a wish that was kept, the one that it is about."""
    first: Item = done[0] if done else {"op": "set", "key": ROOT}
    if first["op"] != "insert":
        return str(first["key"])
    return str(first["item"].get("item", first["item"]["key"]))


def _could(session: Session, playbook_id: str, who: int | None) -> tuple[Change | None, Change | None]:
    if who is None:
        return None, None
    groups = store.groups_of(session, playbook_id, who)
    undo, redo = undoable(groups), redoable(groups)
    return (
        Change(group=undo.name, label=undo.label) if undo else None,
        Change(group=redo.name, label=redo.label.removeprefix("Undid: ")) if redo else None,
    )
