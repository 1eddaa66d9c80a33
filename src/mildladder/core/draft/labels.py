"""What an edit did, in a few words that a person reads in a list: made from what was done, never typed."""

from collections.abc import Sequence
from typing import Any

from mildladder.core.draft.apply import Operation
from mildladder.core.draft.shape import ROOT
from mildladder.core.draft.tree import Tree
from mildladder.core.ladder.diff import field_called
from mildladder.core.texts import shortened

__all__ = ["label_of", "place_of", "title_of"]

_MOST, _MOST_TITLE, _MOST_VALUE = 300, 80, 40
# What an item without a title of its own is called by.
_SAYS = ("title", "ask", "says", "text", "what", "sign", "over", "when", "kind")

# Fields whose values are ids, or are made of ids: no person reads those.
_SPEAKS_OF_OTHERS = frozenset(
    {"when", "compute", "step", "footing", "eased_by", "finding", "within", "hand_off", "playbook", "keep", "trial"}
)


def label_of(before: Tree, after: Tree, done: Sequence[Operation]) -> str:
    """One line for what was done: the first thing, and how many more there are."""
    told = list(dict.fromkeys(_says(before, after, one) for one in done if not _is_of_conflict(before, after, one)))
    if not told:
        settled = any(one["op"] == "remove" for one in done)
        return "A conflict settled" if settled else "A wish kept as a conflict" if done else "Nothing changed"
    more = f" and {len(told) - 1} more" if len(told) > 1 else ""
    return shortened(told[0], _MOST - len(more)) + more


def place_of(tree: Tree, key: str) -> str:
    """What the nearest thing with a title around an item is called: a step, a rung by its step, a cause; else the
    playbook."""
    here: str | None = key
    while here is not None and here != ROOT:
        item = tree.items[here]
        if "step" in item and isinstance(item["step"], str):
            return _step_title(tree, item["step"])
        if any(name in item for name in ("title", "ask")):
            return title_of(tree, here)
        spot = tree.spots.get(here)
        here = spot.parent if spot else None
    return shortened(str(tree.root.get("title") or "The playbook"), _MOST_TITLE)


def title_of(tree: Tree, key: str) -> str:
    """What an item is called on screen."""
    item = tree.items[key]
    if isinstance(item.get("step"), str):
        return _step_title(tree, item["step"])
    if "again" in item:
        return "Offer it once more"
    if tree.spots.get(key) is not None and isinstance(item.get("text"), str):
        other = next((one for one in tree.items.values() if item["text"] in (one.get("id"), one.get("name"))), None)
        if other is not None and other is not item:
            return title_of(tree, other["key"])
    said = next((item[name] for name in _SAYS if isinstance(item.get(name), str) and item[name]), "")
    return shortened(said, _MOST_TITLE) or "Something without a title"


def _step_title(tree: Tree, step: str) -> str:
    for one in tree.children(ROOT, ("steps",)):
        if step in (one.get("id"), one["key"]):
            return shortened(str(one.get("title") or "A step without a title"), _MOST_TITLE)
    return "A step that is not here"


def _says(before: Tree, after: Tree, one: Operation) -> str:
    op = one["op"]
    if op == "set":
        return _set(before, after, one)
    key = one["item"]["key"] if op == "insert" else one["key"]
    tree = after if key in after.items else before
    title = f"“{title_of(tree, key)}”"
    inside = _inside(tree, key)
    if op == "insert":
        return f"{title} added{inside}"
    if op == "move":
        return f"{title} moved{_from_to(before, after, key)}"
    return f"{title} taken out{inside}" if op in ("remove", "drop") else f"{title} put back{inside}"


def _inside(tree: Tree, key: str) -> str:
    spot = tree.spots.get(key)
    if spot is None or spot.parent == ROOT:
        return ""
    return f" in “{place_of(tree, spot.parent)}”"


def _from_to(before: Tree, after: Tree, key: str) -> str:
    if before.spots.get(key) != after.spots.get(key) or key not in before.items:
        return _inside(after, key)
    old, new = (_number(tree, key) for tree in (before, after))
    return f" from {old} to {new}" if old != new else ""


def _number(tree: Tree, key: str) -> int:
    shown = [one["key"] for one in tree.children(*tree.spots[key]) if tree.is_shown(one["key"]) or one["key"] == key]
    return shown.index(key) + 1


def _set(before: Tree, after: Tree, one: Operation) -> str:
    key, path = one["key"], tuple(one["path"])
    where = "" if key == ROOT else f"“{place_of(before if key in before.items else after, key)}”: "
    was = before.value(key, path) if key in before.items else None
    value = one.get("value")
    field = _field(after, path)
    tells = not _speaks_of_others(after if key in after.items else before, key, path)
    if tells and _is_short(was) and _is_short(value):
        return f"{where}{field} {_shown(was)} to {_shown(value)}"
    did = "added" if was is None else "taken away" if value is None else "changed"
    return f"{where}{field} {did}"


def _speaks_of_others(tree: Tree, key: str, path: Sequence[str]) -> bool:
    """Whether its value is an id, or made of ids; what is fetched from somewhere says that in words."""
    return path[-1] in _SPEAKS_OF_OTHERS or (path[-1] == "from" and "playbook" in tree.items[key])


def _field(tree: Tree, path: Sequence[str]) -> str:
    words = [f"“{title_of(tree, name)}”" if name in tree.items else field_called(name) for name in path]
    return " ".join(words[-2:]) if len(words) > 1 and words[0] not in ("effort", "symptom") else words[-1]


def _is_short(value: Any) -> bool:
    return isinstance(value, int | float | bool) or (isinstance(value, str) and len(value) <= _MOST_VALUE)


def _shown(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, int | float) else f"“{value}”"


def _is_of_conflict(before: Tree, after: Tree, one: Operation) -> bool:
    key = one["item"]["key"] if one["op"] == "insert" else one["key"]
    spot = after.spots.get(key) or before.spots.get(key)
    return spot is not None and spot.list == ("conflicts",)
