"""The working form as a tree of items: where each stands, what is in sight, and the five ways to change it.

A tree is plain data and never changed: `Editor` copies what it touches and shares the rest.
"""

from collections.abc import Iterator
from collections.abc import Set as AbstractSet
from typing import Any, NamedTuple

from mildladder.core.draft.shape import ROOT

__all__ = ["Editor", "Item", "Tree", "Where", "alike", "items_in"]

Item = dict[str, Any]
Path = tuple[str, ...]
# What a conflict holds is kept as it is: no item of the tree stands in it.
_SEALED = frozenset({"mine", "path"})


class Spot(NamedTuple):
    """In which list an item stands, by the parent's key and the list's path."""

    parent: str
    list: Path


class Where(NamedTuple):
    """In which list, and after which item (None: at the head)."""

    parent: str
    list: Path
    after: str | None


def alike(one: Any, other: Any) -> bool:
    """Whether two values are the same as JSON: 4 is 4.0, true is not 1, the order of an object's keys is nothing."""
    if isinstance(one, bool) or isinstance(other, bool):
        return one is other
    if isinstance(one, int | float) and isinstance(other, int | float):
        return one == other
    if isinstance(one, dict) and isinstance(other, dict):
        return one.keys() == other.keys() and all(alike(value, other[name]) for name, value in one.items())
    if isinstance(one, list | tuple) and isinstance(other, list | tuple):
        return len(one) == len(other) and all(map(alike, one, other))
    return type(one) is type(other) and one == other


def nested_lists(item: Item, path: Path = ()) -> Iterator[tuple[Path, list[Item]]]:
    """Every list of items that lies in an item itself, with its path."""
    for name, value in item.items():
        if name in _SEALED:
            continue
        if isinstance(value, list):
            yield (*path, name), value
        elif isinstance(value, dict):
            yield from nested_lists(value, (*path, name))


def items_in(item: Item) -> Iterator[Item]:
    """The item and every item below it, parents first."""
    waiting = [item]
    while waiting:
        here = waiting.pop()
        yield here
        waiting += [child for _, children in nested_lists(here) for child in children]


def value_at(item: Item, path: Path) -> Any:
    """The value of a field; None for none."""
    here: Any = item
    for name in path:
        here = here.get(name) if isinstance(here, dict) else None
    return here


class Tree:
    """A working form to be read. items: by key; spots: where each but the root stands.

    Made of another tree it is read from the same items, without walking through them again; what each finds out on the
    way is its own, so that two threads may read one form.
    """

    def __init__(self, form: "Item | Tree") -> None:
        self._seen: dict[str, bool] = {}
        self._named: dict[str, list[tuple[str, Path]]] | None = None
        there = form if isinstance(form, Tree) else None
        self.root: Item = form.root if isinstance(form, Tree) else form
        self.items: dict[str, Item] = there.items if there else {}
        self.spots: dict[str, Spot] = there.spots if there else {}
        if there is None:
            self._enter(self.root)

    def _enter(self, item: Item) -> None:
        waiting = [item]
        while waiting:
            here = waiting.pop()
            key = here["key"]
            self.items[key] = here
            for path, children in nested_lists(here):
                for child in children:
                    self.spots[child["key"]] = Spot(key, path)
                    waiting.append(child)

    def value(self, key: str, path: Path) -> Any:
        """The value of an item's field; None for none. Raises KeyError for an item that is not there."""
        return value_at(self.items[key], path)

    def children(self, parent: str, path: Path) -> list[Item]:
        """The items of a list; none where there is no list."""
        found = self.value(parent, path)
        return found if isinstance(found, list) else []

    def is_shown(self, key: str, path: Path = (), back: AbstractSet[str] = frozenset()) -> bool:
        """Whether an item, or its field, is shown: nothing above it, and nothing that it is named after, is out.
        back: items that count as put back already."""
        return self._are_seen((key, *path), back, {} if back else self._seen)

    def _are_seen(self, names: Path, back: AbstractSet[str], seen: dict[str, bool]) -> bool:
        return all(self._is_seen(name, back, seen) for name in names if name in self.items)

    def _is_seen(self, key: str, back: AbstractSet[str], seen: dict[str, bool]) -> bool:
        known = seen.get(key)
        if known is None:
            seen[key] = True  # what leads back to itself hides nothing
            spot = self.spots.get(key)
            is_out = self.items[key].get("out") and key not in back
            known = not is_out and (spot is None or self._are_seen((spot.parent, *spot.list), back, seen))
            seen[key] = known
        return known

    def is_below(self, key: str, above: str) -> bool:
        """Whether an item is another one, or stands somewhere below it."""
        here: str | None = key
        while here is not None:
            if here == above:
                return True
            spot = self.spots.get(here)
            here = spot.parent if spot else None
        return False

    def taken(self, key: str) -> dict[str, Any]:
        """All that would go out of sight with an item: the item, what is below it and what is named after any of
        those, each by its place with what it says now."""
        found: dict[str, Any] = {}
        waiting = [key]
        while waiting:
            here = waiting.pop()
            if here in found or not self.is_shown(here):
                continue
            spot = self.spots.get(here)
            found[here] = {"at": [spot.parent, *spot.list] if spot else [], **self._own(self.items[here])}
            waiting += [child["key"] for _, children in nested_lists(self.items[here]) for child in children]
            for owner, path in self._named_after().get(here, ()):
                value = self.value(owner, path)
                if isinstance(value, list):
                    waiting += [child["key"] for child in value]
                elif self.is_shown(owner):
                    found[" ".join((owner, *path))] = value
        return found

    def _named_after(self) -> dict[str, list[tuple[str, Path]]]:
        """For each item, the fields and lists that are named after it, with their owner."""
        if self._named is None:
            self._named = {}
            for key, item in self.items.items():
                for path in _named_paths(item):
                    if path[-1] in self.items:
                        self._named.setdefault(path[-1], []).append((key, path))
        return self._named

    def _own(self, item: Item) -> Item:
        """What an item itself says: no lists, no marks, nothing under the name of what is out of sight."""
        return {name: value for name, value in _flat(item).items() if name != "key"} | self._maps(item)

    def _maps(self, item: Item, path: Path = ()) -> Item:
        found: Item = {}
        for name, value in item.items():
            if name in _SEALED or not isinstance(value, dict):
                continue
            for inner, said in value.items():
                if isinstance(said, list) or (inner in self.items and not self.is_shown(inner)):
                    continue
                if isinstance(said, dict):
                    found |= self._maps({inner: said}, (*path, name))
                else:
                    found[" ".join((*path, name, inner))] = said
        return found


def _flat(item: Item) -> Item:
    return {name: value for name, value in item.items() if name in _SEALED or not isinstance(value, dict | list)}


def _named_paths(item: Item, path: Path = ()) -> Iterator[Path]:
    for name, value in item.items():
        if name in _SEALED:
            continue
        if path:
            yield (*path, name)
        if isinstance(value, dict):
            yield from _named_paths(value, (*path, name))


class Editor(Tree):
    """A tree under change; the one that it began with stays as it was. `root` is the new one."""

    def __init__(self, before: Item | Tree) -> None:
        super().__init__(before)
        self.items, self.spots = dict(self.items), dict(self.spots)
        self._ours: set[str] = set()

    def set(self, key: str, path: Path, value: Any) -> None:
        """Give a field a value; None takes it away, with objects that are empty then."""
        item = self._own_copy(key)
        trail = [item]
        for name in path[:-1]:
            below = trail[-1].get(name)
            trail[-1][name] = dict(below) if isinstance(below, dict) else {}
            trail.append(trail[-1][name])
        if value is not None:
            trail[-1][path[-1]] = value
        else:
            trail[-1].pop(path[-1], None)
        for above, name in zip(reversed(trail[:-1]), reversed(path[:-1]), strict=True):
            if above[name] == {}:
                del above[name]
        self._forget()

    def insert(self, where: Where, item: Item) -> None:
        """Put a new item, with all that hangs on it, into a list."""
        children = self._own_list(where.parent, where.list)
        children.insert(_place(children, where.after), item)
        self.spots[item["key"]] = Spot(where.parent, where.list)
        self._enter(item)
        self._forget()

    def move(self, key: str, where: Where, put: str | None) -> None:
        """Put an item to another place; put: the mark of that, None where undo brings it to its first."""
        item = self._own_copy(key)
        spot = self.spots[key]
        old = self._own_list(spot.parent, spot.list)
        old.pop(_index(old, key))
        item.pop("put", None)
        if put is not None:
            item["put"] = put
        children = self._own_list(where.parent, where.list)
        children.insert(_place(children, where.after), item)
        self.spots[key] = Spot(where.parent, where.list)
        self._forget()

    def set_hidden(self, key: str, is_out: bool) -> None:
        """Take an item out of sight, or bring it back."""
        item = self._own_copy(key)
        item.pop("out", None)
        if is_out:
            item["out"] = True
        self._forget()

    def drop(self, key: str) -> None:
        """Take an item away for good, with all that is below it."""
        spot = self.spots[key]
        children = self._own_list(spot.parent, spot.list)
        children.pop(_index(children, key))
        for below in list(items_in(self.items[key])):
            del self.items[below["key"]], self.spots[below["key"]]
        self._forget()

    def after(self, key: str) -> Where:
        """Where an item stands."""
        spot = self.spots[key]
        children = self.children(*spot)
        number = _index(children, key)
        return Where(spot.parent, spot.list, children[number - 1]["key"] if number else None)

    def before(self, key: str) -> str | None:
        """The item behind this one in its list."""
        children = self.children(*self.spots[key])
        number = _index(children, key) + 1
        return children[number]["key"] if number < len(children) else None

    def _forget(self) -> None:
        self._seen.clear()
        self._named = None

    def _own_copy(self, key: str) -> Item:
        """The item as a copy that may be changed; everything above it too."""
        if key in self._ours:
            return self.items[key]
        copy = dict(self.items[key])
        self.items[key] = copy
        self._ours.add(key)
        if key == ROOT:
            self.root = copy
        else:
            children = self._own_list(*self.spots[key])
            children[_index(children, key)] = copy
        return copy

    def _own_list(self, parent: str, path: Path) -> list[Item]:
        here = self._own_copy(parent)
        for name in path[:-1]:
            below = here.get(name)
            here[name] = dict(below) if isinstance(below, dict) else {}
            here = here[name]
        found = here.get(path[-1])
        here[path[-1]] = list(found) if isinstance(found, list) else []
        children: list[Item] = here[path[-1]]
        return children


def _index(children: list[Item], key: str) -> int:
    return next(number for number, child in enumerate(children) if child["key"] == key)


def _place(children: list[Item], after: str | None) -> int:
    return 0 if after is None else _index(children, after) + 1
