"""What a working form is made of, read off the models: which fields are values, objects, maps, or lists of items.

There is no second definition of any shape: this module only asks the Pydantic models what they hold.
"""

import types
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from mildladder.core.model import Again, Cause, HandOffRef, Playbook, PlaybookRef, Rung, Step
from mildladder.core.model.step import Finding

__all__ = ["MARKS", "NAMED", "ROOT", "Field", "Kind", "kind", "kind_at"]

ROOT = "playbook"
# Fields of the working form that no file has, and that no edit sets.
MARKS = frozenset({"key", "put", "out", "id", "name", "format"})

FieldSort = Literal["value", "object", "map", "items", "one", "rails", "of"]
# Lists of these stand in the form as items of one kind, whatever the model calls the shapes.
_ENTRY = "Entry"
_TEXT = "Text"


@dataclass(frozen=True)
class Field:
    """One field of an item.

    value: set as a whole. object: fields of its own, reached by a path. map: values by name. items: a list of items.
    rails: a map of such lists. one: at most one item, for what may be left out although it holds lists. of: the same
    for a list or map that says something by being empty; it lies in the item's field `of`. kind: of items and objects.
    """

    sort: FieldSort
    kind: str = ""
    is_required: bool = False
    empty: Any = None


@dataclass(frozen=True)
class Kind:
    """What one sort of item holds, by the name that the field has in files."""

    name: str
    fields: Mapping[str, Field] = field(default_factory=dict)


def kind(name: str) -> Kind:
    """The kind of that name. Raises KeyError."""
    return _kinds()[name]


def kind_at(parent: str, path: tuple[str, ...]) -> str | None:
    """The kind of the items in a list of a kind of item; None where there is no such list."""
    here = kind(parent)
    for number, name in enumerate(path):
        found = here.fields.get(name)
        rest = path[number + 1 :]
        if found is None:
            return None
        if found.sort in ("items", "one", "of") and not rest:
            return found.kind
        if found.sort == "rails" and len(rest) == 1:
            return found.kind
        if found.sort != "object":
            return None
        here = kind(found.kind)
    return None


@cache
def _kinds() -> dict[str, Kind]:
    made: dict[str, Kind] = {}
    _of_model(Playbook, made)
    made[_TEXT] = Kind(_TEXT, {"text": Field("value", is_required=True)})
    entry: dict[str, Field] = {}
    for model in (Rung, Again, HandOffRef, PlaybookRef):
        entry |= {name: Field(one.sort, one.kind) for name, one in _fields(model, made).items()}
    made[_ENTRY] = Kind(_ENTRY, entry)
    made["Conflict"] = Kind("Conflict", {name: Field("value") for name in _CONFLICT})
    root, step = made[Playbook.__name__], made[Step.__name__]
    made[ROOT] = Kind(ROOT, {**root.fields, "pictures": Field("map"), "conflicts": Field("items", "Conflict")})
    made[Step.__name__] = Kind(step.name, {**step.fields, "origin": Field("value")})
    return made


_CONFLICT = ("item", "path", "mine", "why", "who", "at", "by")


def _of_model(model: type[BaseModel], made: dict[str, Kind]) -> str:
    name = model.__name__
    if name not in made:
        made[name] = Kind(name)
        made[name] = Kind(name, _fields(model, made))
    return name


def _fields(model: type[BaseModel], made: dict[str, Kind]) -> dict[str, Field]:
    return {info.alias or name: _field(info, made) for name, info in model.model_fields.items()}


def _field(info: FieldInfo, made: dict[str, Kind]) -> Field:
    annotation, is_optional = _bare(info.annotation)
    is_required = info.is_required()
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        name = _of_model(annotation, made)
        if is_optional and _holds_lists(annotation):
            return Field("one", name)
        empty = annotation.model_construct().model_dump(mode="json", by_alias=True, exclude_none=True)
        return Field("object" if not is_optional else "value", name, is_required, empty or None)
    origin = get_origin(annotation)
    if origin is tuple:
        return _list(get_args(annotation)[0], info, is_optional, made)
    if origin is dict:
        values, _ = _bare(get_args(annotation)[1])
        if get_origin(values) is tuple:
            return Field("rails", _ENTRY)
        return Field("of", _map_kind(made)) if is_optional and not _has_least(info) else Field("map")
    return Field("value", is_required=is_required)


def _list(element: Any, info: FieldInfo, is_optional: bool, made: dict[str, Kind]) -> Field:
    inner, _ = _bare(element)
    if get_origin(inner) is tuple:
        way = "Way"
        item, _ = _bare(get_args(inner)[0])
        made.setdefault(way, Kind(way, {"do": Field("items", item.__name__)}))
        return Field("items", way)
    if isinstance(inner, type) and issubclass(inner, BaseModel):
        name = _ENTRY if inner is Rung else _of_model(inner, made)
    elif get_origin(inner) in (Union, types.UnionType):
        name = _ENTRY
    else:
        name = _TEXT
    if is_optional and not _has_least(info):
        holder = f"{name} list"
        made.setdefault(holder, Kind(holder, {"of": Field("items", name)}))
        return Field("of", holder)
    return Field("items", name, is_required=info.is_required())


def _map_kind(made: dict[str, Kind]) -> str:
    return made.setdefault("Map", Kind("Map", {"of": Field("map")})).name


def _bare(annotation: Any) -> tuple[Any, bool]:
    """The annotation without what is said about it, and whether it may be left out."""
    is_optional = False
    while True:
        origin = get_origin(annotation)
        if origin is Annotated:
            annotation = get_args(annotation)[0]
        elif origin in (Union, types.UnionType) and type(None) in get_args(annotation):
            rest = [one for one in get_args(annotation) if one is not type(None)]
            is_optional = True
            if len(rest) != 1:
                return annotation, True
            annotation = rest[0]
        elif isinstance(annotation, str) or hasattr(annotation, "__forward_arg__"):
            raise TypeError(f"the model that holds {annotation!r} is not rebuilt")
        else:
            return annotation, is_optional


def _has_least(info: FieldInfo) -> bool:
    """Whether an empty one is refused, so that empty and left out mean the same; what is asked of its parts is not
    asked of it."""
    said: list[Any] = list(info.metadata)
    annotation: Any = info.annotation
    while (origin := get_origin(annotation)) in (Annotated, Union, types.UnionType):
        first, *more = get_args(annotation)
        said += more if origin is Annotated else ()
        annotation = first if origin is Annotated else next(one for one in (first, *more) if one is not type(None))
    return "MinLen" in repr(said)


def _holds_lists(model: type[BaseModel]) -> bool:
    for info in model.model_fields.values():
        annotation, _ = _bare(info.annotation)
        if get_origin(annotation) in (tuple, dict):
            return True
        if isinstance(annotation, type) and issubclass(annotation, BaseModel) and _holds_lists(annotation):
            return True
    return False


# Kinds whose items are spoken of by id elsewhere in the document.
NAMED = frozenset({Cause.__name__, Finding.__name__, Step.__name__, "Fact", "Footing", "Input", "HandOff"})
