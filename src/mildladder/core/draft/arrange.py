"""Bring the rungs of a list into another order, whatever has come into the list since somebody asked for it."""

from collections.abc import Collection, Sequence

from mildladder.core.draft.apply import Operation
from mildladder.core.draft.difference import longest_increasing_run
from mildladder.core.draft.form import Keys
from mildladder.core.draft.tree import Item, Path, Tree

__all__ = ["arranged"]


def arranged(
    root: Item, parent: str, path: Path, order: Sequence[str], left_out: Collection[str], new_key: Keys
) -> list[Operation]:
    """Operations that put the items into the order given by key, and take out those that are left out.

    What the order does not name stays behind whatever it stands behind now; what it names and is gone is passed over.
    """
    tree = Tree(root)
    shown = [one["key"] for one in tree.children(parent, path) if tree.is_shown(one["key"])]
    gone = [key for key in shown if key in left_out]
    rest = [key for key in shown if key not in left_out]
    wanted = _with_others(rest, [key for key in dict.fromkeys(order) if key in rest])
    places = {key: number for number, key in enumerate(rest)}
    staying = set(longest_increasing_run([places[key] for key in wanted]))
    found: list[Operation] = []
    after: str | None = None
    for key in wanted:
        if places[key] not in staying:
            was = tree.items[key].get("put")
            place = {"parent": parent, "list": list(path), "after": after, "before": None}
            found.append({"op": "move", "key": key, "was": was, **place, "put": new_key()})
        after = key
    return found + [{"op": "remove", "key": key, "was": tree.taken(key)} for key in gone]


def _with_others(now: Sequence[str], order: Sequence[str]) -> list[str]:
    """The order, with what it does not name behind its present neighbour."""
    wanted = list(order)
    for number, key in enumerate(now):
        if key not in order:
            wanted.insert(wanted.index(now[number - 1]) + 1 if number else 0, key)
    return wanted
