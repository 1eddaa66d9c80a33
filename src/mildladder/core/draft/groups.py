"""What undo and redo take back: groups of edits that belong to one person, each a deed or the undoing of another."""

from collections.abc import Sequence
from typing import NamedTuple

__all__ = ["Group", "redoable", "undoable", "undone_of"]


class Group(NamedTuple):
    """One group: its name, what it undoes (None: it is a deed), and its label."""

    name: str
    undoes: str | None
    label: str


def undoable(groups: Sequence[Group]) -> Group | None:
    """Of one person's groups, oldest first: the newest deed that stands."""
    undone = undone_of(groups)
    return next((one for one in reversed(groups) if one.undoes is None and one.name not in undone), None)


def redoable(groups: Sequence[Group]) -> Group | None:
    """The newest undoing of a deed that stands, if no deed has come since: undoing that is redoing."""
    undone = undone_of(groups)
    by_name = {one.name: one for one in groups}
    for one in reversed(groups):
        if one.undoes is None:
            return None
        taken_back = by_name.get(one.undoes)
        if one.name not in undone and taken_back is not None and taken_back.undoes is None:
            return one
    return None


def undone_of(groups: Sequence[Group]) -> set[str]:
    """Names of groups whose undoing stands: looked at from the newest, for an undoing may be undone itself."""
    undone: set[str] = set()
    for one in reversed(groups):
        if one.undoes is not None and one.name not in undone:
            undone.add(one.undoes)
    return undone
