"""Queries for drafts: each a line of small edits, with the working form as it stood now and then."""

import json
import zlib
from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from typing import TYPE_CHECKING, Any, NamedTuple

from sqlalchemy import or_, select, update
from sqlalchemy.orm import Session, joinedload, undefer

from mildladder.core.draft.apply import Operation, replayed
from mildladder.core.draft.groups import Group
from mildladder.core.draft.tree import Item, Path, Tree
from mildladder.core.errors import NotFound
from mildladder.core.model.versions import stamped, upgraded
from mildladder.store.cache import Needs, cached, key_of, peek_cached
from mildladder.store.sizes import size_of_plain
from mildladder.store.tables import DraftClientRow, FormRow, PlaybookRow, RevisionRow

if TYPE_CHECKING:
    from mildladder.store.database import Database

__all__ = [
    "Edit",
    "State",
    "add_edit",
    "begin",
    "changed_last",
    "client_of",
    "earlier_values",
    "edits_since",
    "form_at",
    "group_edits",
    "groups_of",
    "is_changed_since",
    "keep_form",
    "kept_forms",
    "newest_revision",
    "playbook_ids",
    "playbooks_using",
    "remember",
    "revision",
    "states",
    "took",
    "tree_at",
    "uses",
]

# Every so many edits the whole form is kept, so that making any revision again takes few.
_EVERY = 200
# What an item takes in the index of a tree.
_ITEM_BYTES = 500


def playbook_ids(session: Session) -> Sequence[str]:
    """Every playbook's id, in alphabetical order."""
    return session.scalars(select(PlaybookRow.id).order_by(PlaybookRow.id)).all()


class State(NamedTuple):
    """How a playbook stands: its draft's revision, its newest edition, the version of its tallies."""

    playbook: str
    draft: int
    edition: int | None
    tallies: int


def states(session: Session) -> list[State]:
    """How every playbook stands. Whoever reads sees one state of the database throughout, so it is read once."""
    found: list[State] | None = session.info.get(_ALL_STATES)
    if found is None or session.info.get("is_writing", True):
        found = session.info[_ALL_STATES] = [State(*row) for row in session.connection().exec_driver_sql(_STATES)]
    return found


_ALL_STATES = "states"


_STATES = """
SELECT id, draft, (SELECT max(number) FROM editions WHERE playbook_id = id), coalesce(version, 0)
FROM playbooks LEFT JOIN tally_versions ON symptom = id
"""


def newest_revision(session: Session, playbook_id: str) -> RevisionRow:
    """The draft as it stands. Raises NotFound."""
    newest = select(RevisionRow).join(PlaybookRow, PlaybookRow.id == RevisionRow.playbook_id)
    row = session.scalar(newest.where(PlaybookRow.id == playbook_id, RevisionRow.number == PlaybookRow.draft))
    if row is None:
        raise NotFound(f"there is no playbook '{playbook_id}'")
    return row


def is_changed_since(session: Session, playbook_id: str, number: int, but: str) -> bool:
    """Whether any revision after that one is anything but the undoing of `but`."""
    others = select(RevisionRow.number).where(
        RevisionRow.playbook_id == playbook_id,
        RevisionRow.number > number,
        or_(RevisionRow.undoes.is_(None), RevisionRow.undoes != but),
    )
    return session.scalar(others.limit(1)) is not None


def revision(session: Session, playbook_id: str, number: int) -> RevisionRow:
    """One revision. Raises NotFound."""
    row = session.get(RevisionRow, (playbook_id, number))
    if row is None:
        raise NotFound(f"'{playbook_id}' has no revision {number}")
    return row


# Forms


def form_at(session: Session, playbook_id: str, number: int) -> Item:
    """The working form as it stood at a revision. Raises NotFound."""
    needs = Needs(draft=(playbook_id, number))
    return cached(session, "form", needs, lambda: _made_again(session, playbook_id, number), size_of_plain)


def tree_at(session: Session, playbook_id: str, number: int) -> Tree:
    """The same, to be read by the keys of its items; nobody may change it. Raises NotFound."""
    needs = Needs(draft=(playbook_id, number))
    return Tree(cached(session, "tree", needs, lambda: Tree(form_at(session, playbook_id, number)), _tree_size))


def _tree_size(tree: Tree) -> int:
    """Beside the form that it is of: what tells where each item stands."""
    return _ITEM_BYTES * len(tree.items)


def remember(database: "Database", playbook_id: str, number: int, tree: Tree) -> None:
    """What a revision that is committed now came to, for whoever asks next."""
    needs = Needs(draft=(playbook_id, number))
    with database.reading() as session:
        form_key, tree_key = key_of(session, "form", needs), key_of(session, "tree", needs)
    database.cache.put(form_key, tree.root, size_of_plain(tree.root))
    database.cache.put(tree_key, tree, _tree_size(tree))


def _made_again(session: Session, playbook_id: str, number: int) -> Item:
    start, root = _nearest(session, playbook_id, number)
    query = select(RevisionRow.number, RevisionRow.done).where(
        RevisionRow.playbook_id == playbook_id, RevisionRow.number > start, RevisionRow.number <= number
    )
    rows = session.execute(query.order_by(RevisionRow.number)).all()
    # All of them on one index of the tree: to make it anew for each takes longer than everything else.
    root = replayed(root, (one for row in rows for one in json.loads(row.done)))
    if start + len(rows) != number:
        raise NotFound(f"'{playbook_id}' has no revision {number}")
    return root


def _nearest(session: Session, playbook_id: str, number: int) -> tuple[int, Item]:
    """The newest form up to a revision that need not be made, and its number."""
    row = session.execute(
        select(FormRow.number)
        .where(FormRow.playbook_id == playbook_id, FormRow.number <= number)
        .order_by(FormRow.number.desc())
    ).first()
    if row is None:
        raise NotFound(f"'{playbook_id}' has no revision {number}")
    for nearer in range(number, row.number, -1):
        there = peek_cached(session, "form", Needs(draft=(playbook_id, nearer)))
        if there is not None:
            return nearer, there
    stored = session.get_one(FormRow, (playbook_id, row.number))
    return row.number, upgraded("form", json.loads(zlib.decompress(stored.form)))


def kept_forms(session: Session, playbook_id: str, number: int) -> Sequence[int]:
    """The revisions up to one of which the whole form is kept, the newest first."""
    query = select(FormRow.number).where(FormRow.playbook_id == playbook_id, FormRow.number <= number)
    return session.scalars(query.order_by(FormRow.number.desc())).all()


def keep_form(session: Session, playbook_id: str, number: int, root: Item) -> None:
    """Keep the whole form of a revision, where it is not kept yet."""
    if session.get(FormRow, (playbook_id, number)) is None:
        packed = zlib.compress(_text(stamped("form", root)).encode())
        session.add(FormRow(playbook_id=playbook_id, number=number, form=packed))
        session.flush()


# Edits


class Edit(NamedTuple):
    """One edit that is to be kept. client, sent: who sends it and as which of theirs; undoes: the group that it takes
    back."""

    client: str
    sent: int
    group: str
    undoes: str | None
    label: str
    done: Sequence[Operation]
    inverse: Sequence[Operation]


def begin(session: Session, playbook_id: str, root: Item, label: str, who: int, at: datetime) -> RevisionRow:
    """Make a playbook with its first revision."""
    session.add(PlaybookRow(id=playbook_id, draft=1, since=at))
    session.flush()
    keep_form(session, playbook_id, 1, root)
    return _add(session, playbook_id, 1, Edit("desk", 1, "desk-1", None, label, (), ()), who, at)


def add_edit(session: Session, playbook_id: str, root: Item, edit: Edit, who: int, at: datetime) -> RevisionRow:
    """Append an edit, after which the form is `root`."""
    grown = update(PlaybookRow).where(PlaybookRow.id == playbook_id).values(draft=PlaybookRow.draft + 1)
    number = session.execute(grown.returning(PlaybookRow.draft)).scalar_one()
    if number % _EVERY == 0:
        keep_form(session, playbook_id, number, root)
    return _add(session, playbook_id, number, edit, who, at)


def _add(session: Session, playbook_id: str, number: int, edit: Edit, who: int, at: datetime) -> RevisionRow:
    row = RevisionRow(
        playbook_id=playbook_id,
        number=number,
        client=edit.client,
        sent=edit.sent,
        group=edit.group,
        undoes=edit.undoes,
        label=edit.label,
        at=at,
        done=_text(edit.done),
        inverse=_text(edit.inverse),
        who=who,
    )
    session.add(row)
    session.flush()
    return row


def edits_since(session: Session, playbook_id: str, base: int, most: int) -> Sequence[RevisionRow]:
    """The edits after a revision, in order; at most so many and one more."""
    query = select(RevisionRow).where(RevisionRow.playbook_id == playbook_id, RevisionRow.number > base)
    return session.scalars(query.order_by(RevisionRow.number).limit(most + 1).options(*_WHOLE)).all()


_WHOLE = (undefer(RevisionRow.done), joinedload(RevisionRow.person))


def group_edits(session: Session, playbook_id: str, group: str, who: int) -> Sequence[RevisionRow]:
    """The edits of one person's group, the last first."""
    query = select(RevisionRow).where(
        RevisionRow.playbook_id == playbook_id, RevisionRow.who == who, RevisionRow.group == group
    )
    return session.scalars(query.order_by(RevisionRow.number.desc())).all()


def groups_of(session: Session, playbook_id: str, who: int) -> list[Group]:
    """One person's groups, by when they ended."""
    rows = session.connection().exec_driver_sql(_GROUPS, (playbook_id, who))
    return [Group(name, undoes, label) for name, undoes, label, _ in rows]


# Of the row with the highest number of each group the other columns are taken, as SQLite does beside max().
_GROUPS = """
SELECT "group", undoes, label, max(number) FROM revisions
WHERE playbook_id = ? AND who = ? AND number > 1 GROUP BY "group" ORDER BY max(number)
"""


def earlier_values(session: Session, playbook_id: str, number: int, key: str, path: Path) -> Iterator[Any]:
    """Values that a field of an item had before a revision, the newest first."""
    for inverse in _naming(session, playbook_id, number, key, "inverse"):
        for one in json.loads(inverse):
            if one["op"] == "set" and one["key"] == key and tuple(one["path"]) == path:
                yield one.get("value")


def changed_last(session: Session, playbook_id: str, number: int, key: str) -> int | None:
    """Who changed an item, or put or took it, last up to a revision."""
    found_one: int | None = session.scalar(_named(RevisionRow.who, playbook_id, number, key, "done").limit(1))
    return found_one


def _naming(session: Session, playbook_id: str, number: int, key: str, column: str) -> Iterator[str]:
    yield from session.scalars(_named(getattr(RevisionRow, column), playbook_id, number, key, column))


def _named(what: Any, playbook_id: str, number: int, key: str, column: str) -> Any:
    spoken = getattr(RevisionRow, column).contains(f'"{key}"', autoescape=True)
    query = select(what).where(RevisionRow.playbook_id == playbook_id, RevisionRow.number <= number, spoken)
    return query.order_by(RevisionRow.number.desc())


# Clients


def client_of(session: Session, playbook_id: str, client: str) -> DraftClientRow | None:
    """A page that has changed a draft; None for one that has not."""
    return session.get(DraftClientRow, (playbook_id, client))


def took(session: Session, row: DraftClientRow | None, playbook_id: str, client: str, sent: int, who: int) -> None:
    """A client's edit of that number is used up. row: of that client, None for one that has not changed the draft."""
    if row is None:
        session.add(DraftClientRow(playbook_id=playbook_id, client=client, who=who, next=sent + 1))
    else:
        row.next = sent + 1
    session.flush()


# Across drafts


def uses(session: Session) -> dict[str, set[str]]:
    """For each library step, the playbooks whose drafts have it."""
    used: dict[str, set[str]] = {}
    for state in states(session):
        for origin in _origins(session, state):
            used.setdefault(origin, set()).add(state.playbook)
    return used


def _origins(session: Session, state: State) -> Mapping[str, None]:
    def read() -> Mapping[str, None]:
        steps = form_at(session, state.playbook, state.draft).get("steps", ())
        return {step["origin"]["step"]: None for step in steps if "origin" in step and not step.get("out")}

    return cached(session, "origins", Needs(draft=(state.playbook, state.draft)), read)


def playbooks_using(session: Session, step_id: str) -> list[str]:
    """The playbooks whose drafts have a library step, by id."""
    return sorted(uses(session).get(step_id, ()))


def _text(data: Any) -> str:
    return json.dumps(data, ensure_ascii=False, separators=(",", ":"))
