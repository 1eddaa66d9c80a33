"""Refuse an edit that cannot be taken: fields that no item has, lists that hold other things, sizes beyond all use.

What a person may well have typed is never refused here: half a condition is a flaw, not an error.
"""

import json
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from mildladder.core.draft.apply import Operation
from mildladder.core.draft.shape import MARKS, ROOT, Field, kind, kind_at
from mildladder.core.draft.tree import Item, Path, Tree, items_in, nested_lists
from mildladder.core.errors import BadInput
from mildladder.core.model.edits import KEY
from mildladder.core.model.step import SEARCH_FINDS, Finding

__all__ = ["check_operations", "check_size", "kind_of"]

MOST_TEXT, MOST_ITEMS, _MOST_BYTES = 20_000, 20_000, 2_000_000
# Fields that only the desk itself sets.
_OURS = frozenset({"origin", "pictures"})
_NOT_READ = "send the change again from a page that was loaded anew"


def kind_of(tree: Tree, key: str) -> str:
    """What sort of item stands there."""
    trail: list[Path] = []
    here = key
    while here != ROOT:
        spot = tree.spots[here]
        trail.append(spot.list)
        here = spot.parent
    name = ROOT
    for path in reversed(trail):
        name = kind_at(name, path) or name
    return name


def check_operations(tree: Tree, operations: Sequence[Operation]) -> None:
    """Raises BadInput, with the number of the operation, for what no draft can hold."""
    brought: dict[str, str] = {}
    for number, operation in enumerate(operations):
        for says in _faults(tree, operation, brought):
            raise BadInput(f"{says}; {_NOT_READ}", path=f"operations.{number}")


def check_size(root: Item) -> None:
    """Raises BadInput for a working form that has grown past its limits."""
    count = sum(1 for _ in items_in(root))
    if count > MOST_ITEMS:
        raise BadInput(
            f"the draft would hold {count:,} items; at most {MOST_ITEMS:,} fit: part it, or publish it first"
        )
    size = len(json.dumps(root, ensure_ascii=False))
    if size > _MOST_BYTES:
        raise BadInput(f"the draft would hold {size:,} characters; at most {_MOST_BYTES:,} fit: part it into several")


def _faults(tree: Tree, operation: Operation, brought: dict[str, str]) -> Iterator[str]:
    op = operation["op"]

    def kind_there(key: str) -> str | None:
        return brought.get(key) or (kind_of(tree, key) if key in tree.items else None)

    if op == "insert":
        parent = kind_there(operation["parent"])
        if parent is None:
            yield from _sizes(operation["item"])
            if "key" not in operation["item"]:
                yield "an item has no key"
            return
        path = tuple(operation["list"])
        found = kind_at(parent, path)
        if found is None or found == "Conflict":
            yield f"there is no list {'.'.join(path)} in this"
            return
        new: dict[str, str] = {}
        yield from _item_faults(operation["item"], found, new)
        # What has a key that is there already is not put in, nor anything that hangs on it.
        if not any(key in tree.items or key in brought for key in new):
            brought |= new
        return
    key = operation["key"]
    name = kind_there(key)
    if key == ROOT and op != "set":
        yield "the playbook itself is neither moved nor taken out"
    elif op == "set":
        yield from _sizes(operation.get("value"))
        if name is not None:
            yield from _value_faults(name, tuple(operation["path"]), operation.get("value"))
    elif op == "move" and name is not None:
        yield from _move_faults(name, kind_there(operation["parent"]), tuple(operation["list"]))


def _move_faults(name: str, parent: str | None, path: Path) -> Iterator[str]:
    if (parent is not None and kind_at(parent, path) != name) or name == "Conflict":
        yield "this does not belong into that list"


def _value_faults(name: str, path: Path, value: Any) -> Iterator[str]:
    field = _field_at(name, path)
    if path[0] in MARKS | _OURS or name == "Conflict" or field is None:
        yield f"there is no field {'.'.join(path)} that can be set"
    elif isinstance(value, list) or (isinstance(value, dict) and not (field.kind or path[-1] == "else")):
        yield f"the field {'.'.join(path)} holds one value"
    elif isinstance(value, dict) and field.kind:
        yield from _object_faults(field.kind, value)


def _object_faults(name: str, value: Mapping[str, Any]) -> Iterator[str]:
    """What is wrong with an object that is set as a whole, with the objects within it."""
    for inner, said in value.items():
        field = kind(name).fields.get(inner)
        if field is not None and field.sort == "object" and isinstance(said, dict):
            yield from _object_faults(field.kind, said)
        else:
            yield from _value_faults(name, (inner,), said)


def _field_at(name: str, path: Path) -> Field | None:
    """The field that a path leads to, which holds a value; None where there is none."""
    here = kind(name)
    for number, part in enumerate(path):
        found = here.fields.get(part)
        rest = path[number + 1 :]
        if found is None or found.sort in ("items", "one", "of", "rails"):
            return None
        if found.sort == "map":
            return Field("value") if len(rest) == 1 else None
        if not rest:
            return found if found.sort == "value" else None
        if not found.kind:
            return None
        here = kind(found.kind)
    return None


def _item_faults(item: Any, name: str, brought: dict[str, str]) -> Iterator[str]:
    """What is wrong with a new item and all that hangs on it."""
    waiting: list[tuple[Any, str]] = [(item, name)]
    keys: set[str] = set()
    while waiting:
        here, what = waiting.pop()
        key = here.get("key") if isinstance(here, dict) else None
        if not isinstance(key, str) or not KEY.fullmatch(key) or key in keys:
            yield "a new item has no key of its own"
            return
        keys.add(key)
        brought[key] = what
        yield from _content_faults({k: v for k, v in here.items() if k not in ("key", "put")}, what, ())
        for path, children in nested_lists(here):
            inner = kind_at(what, path)
            if inner is None:
                yield f"there is no list {'.'.join(path)} in this"
                return
            waiting += [(child, inner) for child in children]


def _content_faults(data: Item, name: str, path: Path) -> Iterator[str]:
    for field, value in data.items():
        here = (*path, field)
        if isinstance(value, list):
            continue
        if isinstance(value, dict) and _field_at(name, here) is None:
            yield from _content_faults(value, name, here)
            continue
        yield from _sizes(value)
        if value is not None and not _is_of_a_search(name, here, value):
            yield from _value_faults(name, here, value)


def _is_of_a_search(name: str, path: Path, value: Any) -> bool:
    """Whether it is the id of one of a search's two findings: the only ids that come with what is made in a page."""
    return name == Finding.__name__ and path == ("id",) and value in SEARCH_FINDS


def _sizes(value: Any) -> Iterator[str]:
    waiting = [value]
    while waiting:
        here = waiting.pop()
        if isinstance(here, str) and len(here) > MOST_TEXT:
            yield f"a text has {len(here):,} characters; at most {MOST_TEXT:,} fit into one field"
            return
        waiting += here.values() if isinstance(here, dict) else here if isinstance(here, list) else ()
