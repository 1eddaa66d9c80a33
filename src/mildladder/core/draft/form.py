"""Read a document into working form, and read it out again: the tree without keys is the file's."""

import re
from collections.abc import Callable, Iterator, Mapping
from itertools import count
from typing import Any, NamedTuple

from mildladder.core.draft.shape import ROOT, Field, Kind, kind
from mildladder.core.draft.tree import Item, Path, Tree

__all__ = ["Keys", "Place", "called_by_name", "form_of", "id_of", "plain_playbook", "random_keys", "to_document"]

# Gives a short random key that was never used.
Keys = Callable[[], str]
_LETTERS = "abcdefghijklmnopqrstuvwxyz0123456789"
_LONG = 9
# Maps whose names are causes.
_BY_CAUSE = ("fixes", "given", "points_to")


def random_keys(number_below: Callable[[int], int]) -> Keys:
    """Keys made of random numbers: a letter first, so that none is ever read as a number or an id of a file."""

    def key() -> str:
        return "k" + "".join(_LETTERS[number_below(len(_LETTERS))] for _ in range(_LONG))

    return key


def id_of(item: Item) -> str:
    """What an item is called in files and editions: the id that it came with, its name, or else its key."""
    return str(item.get("name") or item.get("id") or item["key"])


# In


def form_of(document: Mapping[str, Any], new_key: Keys) -> Item:
    """A stored document (playbook, origins, pictures) in working form, with new keys.

    What is empty or null is left out, as if its author had not written it.
    """
    root = _item(document["playbook"], kind(ROOT), lambda: ROOT, new_key)
    for step in root.get("steps", ()):
        origin = document.get("origins", {}).get(step.get("id"))
        if origin is not None:
            step["origin"] = {"step": origin[0], "version": origin[1]}
    if document.get("pictures"):
        root["pictures"] = dict(document["pictures"])
    _name_by_key(root)
    return root


def _item(data: Any, of: Kind, key: Keys, new_key: Keys) -> Item:
    item: Item = {"key": key()}
    if of.name == "Text":
        return {**item, "text": data}
    if of.name == "Way":
        data = {"do": data}
    elif of.name == "Map" or of.name.endswith(" list"):
        data = {"of": data}
    return item | _fields(data, of, new_key)


def _fields(data: Mapping[str, Any], of: Kind, new_key: Keys) -> Item:
    found: Item = {}
    for name, value in data.items():
        made = _value(value, of.fields.get(name, Field("value")), new_key)
        if made is not None and made != {} and made != []:
            found[name] = made
    return found


def _value(value: Any, field: Field, new_key: Keys) -> Any:
    if value is None:
        return None
    match field.sort:
        case "items":
            return [_item(one, kind(field.kind), new_key, new_key) for one in value]
        case "one" | "of":
            return [_item(value, kind(field.kind), new_key, new_key)]
        case "rails":
            return {name: made for name, rail in value.items() if (made := _rail(rail, field, new_key))}
        case "object":
            return _fields(value, kind(field.kind), new_key)
        case "value" if field.kind:
            return _fields(value, kind(field.kind), new_key) or field.empty
    return value


def _rail(rail: list[Any], field: Field, new_key: Keys) -> list[Item]:
    return [_item(one, kind(field.kind), new_key, new_key) for one in rail]


def _name_by_key(root: Item) -> None:
    """Call maps and rails after the keys of causes and findings instead of their ids."""
    causes = {cause.get("id"): cause["key"] for cause in root.get("causes", ())}
    findings = {
        step.get("id"): {one.get("id"): one["key"] for one in step.get("findings", ())}
        for step in root.get("steps", ())
    }
    for item in list(Tree(root).items.values()):
        for name in _BY_CAUSE:
            if isinstance(item.get(name), dict):
                item[name] = {causes.get(cause, cause): value for cause, value in item[name].items()}
        for holder in item["fixes"] if isinstance(item.get("fixes"), list) else ():
            if "of" in holder:
                holder["of"] = {causes.get(cause, cause): value for cause, value in holder["of"].items()}
        if "on" in item:
            known = findings.get(item.get("step"), {})
            item["on"] = {known.get(name, name): rail for name, rail in item["on"].items()}


# Out

# Where a thing stands in a document: names and numbers, such as ("ladder", 3).
Place = tuple[str | int, ...]


class ReadOut(NamedTuple):
    """document: playbook, origins and pictures as plain data. keys: of each item by its place in the playbook, such
    as ("steps", 2)."""

    document: dict[str, Any]
    keys: dict[Place, str]

    def place(self, path: Path) -> tuple[str, list[str]]:
        """The item and field that a place in the playbook, such as ``steps.2.effort.wait``, belongs to; what a model
        says of its own about a place is passed over."""
        here: Any = self.document["playbook"]
        trail: list[str | int] = []
        best, rest = ROOT, list[str]()
        for number, name in enumerate(path, start=1):
            if isinstance(here, dict) and name in here:
                here = here[name]
                trail.append(name)
                rest.append(name)
            elif isinstance(here, list) and str(name).isdecimal() and int(name) < len(here):
                here = here[int(name)]
                trail.append(int(name))
                best, rest = self.keys.get(tuple(trail), best), []
            elif isinstance(here, dict) and number == len(path):
                rest.append(name)
        return best, rest


def to_document(form: Item | Tree) -> ReadOut:
    """What is in sight, as a document; new things go by their name where they have one, else by their key."""
    tree = Tree(form)
    root, reader = tree.root, _Reader(tree)
    playbook = reader.object(root, kind(ROOT), ())
    origins = {
        id_of(step): (step["origin"]["step"], step["origin"]["version"])
        for step in root.get("steps", ())
        if tree.is_shown(step["key"]) and "origin" in step
    }
    document = {"playbook": playbook, "origins": origins}
    if root.get("pictures"):
        document["pictures"] = dict(root["pictures"])
    return ReadOut(called_by_name(tree, document), reader.keys)


def called_by_name(tree: Tree, data: Any) -> Any:
    """Texts, and whatever holds some, with every new thing called by its name where it has one."""
    names = {key: item["name"] for key, item in tree.items.items() if "name" in item}
    return _called(data, names) if names else data


def plain_playbook(playbook: Mapping[str, Any]) -> dict[str, Any]:
    """A playbook as plain data in the one way in which it is read out of a draft: without what is empty or null."""
    said: dict[str, Any] = to_document(form_of({"playbook": playbook}, _counted())).document["playbook"]
    return said


def _counted() -> Keys:
    numbers = count()
    return lambda: f"k{next(numbers)}"


class _Reader:
    def __init__(self, tree: Tree) -> None:
        self.tree = tree
        self.keys: dict[Place, str] = {}

    def object(self, data: Item, of: Kind, place: tuple[str | int, ...]) -> dict[str, Any]:
        made = dict(self._fields(data, of, place))
        if "id" in of.fields and place:
            made = {"id": id_of(data), **made}
        return made

    def _fields(self, data: Item, of: Kind, place: tuple[str | int, ...]) -> Iterator[tuple[str, Any]]:
        for name, field in of.fields.items():
            if name in ("origin", "pictures", "conflicts") or (name == "id" and place):
                continue
            value = self._value(data.get(name), field, (*place, name))
            if value is None and field.is_required and field.sort in ("items", "object"):
                value = [] if field.sort == "items" else {}
            if value is not None:
                yield name, value

    def _value(self, value: Any, field: Field, place: tuple[str | int, ...]) -> Any:
        if value is None:
            return None
        match field.sort:
            case "items":
                return self._list(value, field, place) or None
            case "one" | "of":
                return self._one(value, field, place)
            case "rails":
                rails = (
                    (self._named(name), self._list(rail, field, (*place, self._named(name))))
                    for name, rail in value.items()
                    if self._is_shown(name)
                )
                return {name: rail for name, rail in rails if rail} or None
            case "map":
                return {self._named(name): said for name, said in value.items() if self._is_shown(name)} or None
            case "object":
                return self.object(value, kind(field.kind), place) or None
        return value

    def _list(self, items: list[Item], field: Field, place: tuple[str | int, ...]) -> list[Any]:
        made: list[Any] = []
        for item in items:
            if self.tree.is_shown(item["key"]):
                here = (*place, len(made))
                self.keys[here] = item["key"]
                made.append(self._item(item, field, here))
        return made

    def _one(self, items: list[Item], field: Field, place: tuple[str | int, ...]) -> Any:
        item = next((one for one in items if self.tree.is_shown(one["key"])), None)
        if item is None:
            return None
        self.keys[place] = item["key"]
        return self._item(item, field, place)

    def _item(self, item: Item, field: Field, place: tuple[str | int, ...]) -> Any:
        of = kind(field.kind)
        if of.name == "Text":
            return item.get("text", "")
        if of.name == "Map":
            return self._value(item.get("of"), of.fields["of"], place) or {}
        if of.name == "Way" or of.name.endswith(" list"):
            (inner,) = of.fields.values()
            return self._list(item.get("do" if of.name == "Way" else "of") or [], inner, place)
        return self.object(item, of, place)

    def _is_shown(self, name: str) -> bool:
        return name not in self.tree.items or self.tree.is_shown(name)

    def _named(self, name: str) -> str:
        return id_of(self.tree.items[name]) if name in self.tree.items else name


def _called(data: Any, names: Mapping[str, str]) -> Any:
    """The document with every new thing called by its name, in conditions and texts too."""
    pattern = re.compile("|".join(rf"\b{re.escape(key)}\b" for key in names))

    def said(value: Any) -> Any:
        if isinstance(value, str):
            return pattern.sub(lambda found: names[found.group()], value)
        if isinstance(value, dict):
            return {said(name): said(one) for name, one in value.items()}
        return [said(one) for one in value] if isinstance(value, list | tuple) else value

    return said(data)
