"""What turns a working form into a document that came without keys: a file, an edition, an order, a mend.

Items are matched by id (also those that are out, which are then put back), else by equal content, else by order within
their list. The result is an edit like any other.
"""

from bisect import bisect_left
from collections import deque
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

from mildladder.core.draft.apply import Operation
from mildladder.core.draft.form import Keys, form_of, id_of
from mildladder.core.draft.shape import MARKS
from mildladder.core.draft.tree import Editor, Item, Path, Tree, Where, alike, nested_lists, value_at

__all__ = ["difference", "longest_increasing_run"]

# Of a working form alone; no document says them.
_UNSAID = ("key", "put", "out", "name")


def difference(root: Item, document: Mapping[str, Any], new_key: Keys) -> list[Operation]:
    """Operations that give the working form what the document says; none when it says so already.

    document: playbook, origins and pictures as plain data.
    """
    return _Difference(root, form_of(document, new_key), new_key).operations()


class _Difference:
    def __init__(self, root: Item, wanted: Item, new_key: Keys) -> None:
        self.root, self.wanted, self.new_key = root, wanted, new_key
        self.tree = Editor(root)
        self.known: dict[str, str] = {}
        self.found: list[Operation] = []

    def operations(self) -> list[Operation]:
        """In an order in which each can be done: things are put back and brought in before they are filled, and taken
        out at the end."""
        pairs = list(self._match(self.root, self.wanted))
        wanted = Tree(self._by_our_keys(self.wanted))
        ours = [old["key"] for old, _ in pairs]
        for key in ours:
            self._put_back(key)
        for key in ours:
            self._lists(key, wanted.items[key])
        for key in ours:
            self._fields(key, wanted)
        self._take_out(wanted)
        return self.found

    # Matching

    def _match(self, old: Item, new: Item) -> Iterator[tuple[Item, Item]]:
        """Pairs of items that are the same thing, parents first; the new ones are given the old ones' keys."""
        self.known[new["key"]] = old["key"]
        yield old, new
        ours = dict(nested_lists(old))
        for path, wanted in nested_lists(new):
            path = self._known_path(path)
            for one, other in self._pairs(ours.get(path, []), wanted):
                yield from self._match(one, other)

    def _known_path(self, path: Path) -> Path:
        return tuple(self.known.get(name, name) for name in path)

    def _pairs(self, ours: Sequence[Item], wanted: Sequence[Item]) -> list[tuple[Item, Item]]:
        shown = [one for one in ours if self.tree.is_shown(one["key"])]
        hidden = [one for one in ours if not self.tree.is_shown(one["key"])]
        has_ids = any("id" in one for one in wanted)
        by_id, rest = _paired([*shown, *hidden], wanted, id_of if has_ids else _id)
        by_content, rest = _paired(_left(shown, by_id), rest, self._content)
        by_step, rest = _paired(_left(shown, by_id + by_content), rest, lambda one: one.get("step"))
        nameless = [one for one in _left(shown, by_id + by_content + by_step) if not _is_called(one)]
        by_order = list(zip(nameless, [one for one in rest if not _is_called(one)], strict=False))
        return by_id + by_content + by_step + by_order

    def _content(self, item: Item) -> Any:
        """What an item says, comparable between both trees: no keys, nothing that is out."""

        def plain(value: Any) -> Any:
            if isinstance(value, list):
                return tuple(plain(one) for one in value if not one.get("out"))
            if isinstance(value, dict):
                said = {
                    self.known.get(name, name): plain(one)
                    for name, one in value.items()
                    if name not in _UNSAID and self._is_shown(name)
                }
                return tuple(sorted((name, one) for name, one in said.items() if one != ()))
            return (type(value) is bool, value)

        return plain(item)

    def _is_shown(self, name: str) -> bool:
        return name not in self.tree.items or self.tree.is_shown(name)

    def _by_our_keys(self, item: Item) -> Item:
        """The wanted tree with our keys for what is matched, names in maps and rails included."""

        def called(value: Any) -> Any:
            if isinstance(value, list):
                return [called(one) for one in value]
            if isinstance(value, dict):
                made = {self.known.get(name, name): called(one) for name, one in value.items()}
                return made | ({"key": self.known.get(value["key"], value["key"])} if "key" in value else {})
            return value

        made: Item = called(item)
        return made

    # Operations

    def _put_back(self, key: str) -> None:
        if self.tree.items[key].get("out"):
            self.found.append({"op": "restore", "key": key})
            self.tree.set_hidden(key, False)

    def _lists(self, key: str, new: Item) -> None:
        """Bring in what is new and put all into order, list by list."""
        for path, wanted in nested_lists(new):
            here = {child["key"]: number for number, child in enumerate(self.tree.children(key, path))}
            places = [here[one["key"]] for one in wanted if one["key"] in here]
            staying = set(longest_increasing_run(places))
            after: str | None = None
            for one in wanted:
                where = Where(key, path, after)
                if one["key"] not in here:
                    self._insert(where, one)
                elif here[one["key"]] not in staying:
                    self._move(where, one["key"])
                after = one["key"]

    def _insert(self, where: Where, item: Item) -> None:
        self.found.append({"op": "insert", **_told(where), "item": item})
        self.tree.insert(where, item)

    def _move(self, where: Where, key: str) -> None:
        was, put = self.tree.items[key].get("put"), self.new_key()
        self.found.append({"op": "move", "key": key, "was": was, **_told(where), "put": put})
        self.tree.move(key, where, put)

    def _fields(self, key: str, wanted: Tree) -> None:
        old, new = self.tree.items[key], wanted.items[key]
        for path in sorted({*_paths(old), *_paths(new)}):
            there, value = value_at(old, path), value_at(new, path)
            if path[0] in MARKS or alike(there, value) or self._is_named_after_hidden(path, wanted):
                continue
            self.found.append({"op": "set", "key": key, "path": list(path), "was": there, "value": value})
            self.tree.set(key, path, value)

    def _is_named_after_hidden(self, path: Path, wanted: Tree) -> bool:
        """Whether a field is named after something that is not wanted: out of sight with it, it is kept."""
        return any(name in self.tree.items and name not in wanted.items for name in path)

    def _take_out(self, wanted: Tree) -> None:
        for key, spot in list(self.tree.spots.items()):
            if key in wanted.items or spot.list == ("conflicts",) or not self.tree.is_shown(key):
                continue
            self.found.append({"op": "remove", "key": key, "was": self.tree.taken(key)})
            self.tree.set_hidden(key, True)


def _told(where: Where) -> Operation:
    return {"parent": where.parent, "list": list(where.list), "after": where.after, "before": None}


def _paths(item: Item, path: Path = ()) -> Iterator[Path]:
    """Every field of an item that holds a value."""
    for name, value in item.items():
        if isinstance(value, dict):
            yield from _paths(value, (*path, name))
        elif not isinstance(value, list):
            yield (*path, name)


def _id(item: Item) -> str | None:
    return id_of(item) if "name" in item or "id" in item else None


def _is_called(item: Item) -> bool:
    return _id(item) is not None or "step" in item


def _paired(
    ours: Sequence[Item], wanted: Sequence[Item], by: Callable[[Item], Any]
) -> tuple[list[tuple[Item, Item]], list[Item]]:
    """Pairs of what is alike by something, in order; and what is wanted still."""
    waiting: dict[Any, deque[Item]] = {}
    for one in ours:
        waiting.setdefault(by(one), deque()).append(one)
    pairs, rest = [], []
    for other in wanted:
        name = by(other)
        same = waiting.get(name) if name is not None else None
        if same:
            pairs.append((same.popleft(), other))
        else:
            rest.append(other)
    return pairs, rest


def _left(ours: Sequence[Item], pairs: Sequence[tuple[Item, Item]]) -> list[Item]:
    taken = {one["key"] for one, _ in pairs}
    return [one for one in ours if one["key"] not in taken]


def longest_increasing_run(numbers: Sequence[int]) -> list[int]:
    """A longest rising run of the numbers, in order: what need not be moved."""
    ends: list[int] = []  # the smallest end of a run of each length
    places: list[int] = []
    lengths: list[int] = []
    for number in numbers:
        length = bisect_left(ends, number)
        ends[length : length + 1] = [number]
        lengths.append(length)
    wanted = len(ends) - 1
    for number, length in zip(reversed(numbers), reversed(lengths), strict=True):
        if length == wanted and (not places or number < places[-1]):
            places.append(number)
            wanted -= 1
    return places
