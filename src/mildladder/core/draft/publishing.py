"""What an edit by the desk does to a working form before it is read out for good: new things are named, and what has
long been out is dropped."""

import re
import unicodedata
from collections.abc import Collection, Iterable

from mildladder.core.draft.apply import Operation
from mildladder.core.draft.check import kind_of
from mildladder.core.draft.labels import title_of
from mildladder.core.draft.shape import NAMED
from mildladder.core.draft.tree import Item, Tree
from mildladder.core.ladder.rename import free_id
from mildladder.core.model.outcomes import OUTCOMES, RESTORED

__all__ = ["drops", "free_name", "naming_operations"]

_LONGEST = 60
_RESERVED = frozenset({*OUTCOMES, RESTORED, "any"})


def naming_operations(root: Item, elsewhere: Iterable[str] = ()) -> list[Operation]:
    """What gives each new thing in sight a name from its title, unlike every id and name that the draft ever had and
    those that are in use elsewhere."""
    tree = Tree(root)
    used = {*_RESERVED, *elsewhere, *root.get("gone", {})}
    used |= {str(item[name]) for item in tree.items.values() for name in ("id", "name") if name in item}
    found: list[Operation] = []
    for key, item in tree.items.items():
        if "id" in item or "name" in item or key not in tree.spots or not tree.is_shown(key):
            continue
        if kind_of(tree, key) not in NAMED:
            continue
        name = free_name(title_of(tree, key), used)
        used.add(name)
        found.append({"op": "set", "key": key, "path": ["name"], "was": None, "value": name})
    return found


def free_name(title: str, used: Collection[str]) -> str:
    """An id made of a title that nothing has yet."""
    name = _slug(title)
    return free_id(name, set(used)) if name in used else name


def drops(root: Item, before: Item | None) -> list[Operation]:
    """What was out already at the publishing before, and is touched by no open conflict, as things done: dropped for
    good, its ids and names remembered."""
    if before is None:
        return []
    tree, then = Tree(root), Tree(before)
    touched = {one["item"] for one in tree.children("playbook", ("conflicts",)) if not one.get("out")}
    held = {above for key in touched if key in tree.items for above in _trail(tree, key)}
    done: list[Operation] = []
    dropped: set[str] = set()
    for key, item in tree.items.items():
        is_out = item.get("out") and then.items.get(key, {}).get("out")
        if not is_out or key in held or _has_held(item, touched) or dropped & set(_trail(tree, key)):
            continue
        dropped.add(key)
        done += [{"op": "set", "key": "playbook", "path": ["gone", name], "value": True} for name in _names_below(item)]
        done.append({"op": "drop", "key": key})
    return done


def _trail(tree: Tree, key: str) -> list[str]:
    trail = [key]
    while trail[-1] in tree.spots:
        trail.append(tree.spots[trail[-1]].parent)
    return trail


def _has_held(item: Item, touched: set[str]) -> bool:
    return any(one["key"] in touched for one in _below(item))


def _names_below(item: Item) -> list[str]:
    return [str(one[name]) for one in _below(item) for name in ("id", "name") if name in one]


def _below(item: Item) -> list[Item]:
    return list(Tree({**item}).items.values())


def _slug(title: str) -> str:
    plain = unicodedata.normalize("NFKD", title).encode("ascii", "ignore").decode().lower()
    words = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:_LONGEST].strip("-")
    return words or "new-thing"
