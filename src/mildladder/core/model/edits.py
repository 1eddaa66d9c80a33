"""The operations of which an edit of a draft is made."""

import re
from typing import Annotated, Any, Literal

from pydantic import Field, JsonValue

from mildladder.core.model.base import Shape

__all__ = ["KEY", "Key", "Operations"]

MOST_OPERATIONS = 500

KEY = re.compile(r"[a-z0-9][a-z0-9-]{0,79}")
Key = Annotated[str, Field(pattern=f"^{KEY.pattern}$")]
Name = Annotated[str, Field(min_length=1, max_length=200)]
ListPath = Annotated[tuple[Name, ...], Field(min_length=1, max_length=6)]


class SetField(Shape):
    """Give one field of one item a value. was: what the person had before them; null: no value."""

    op: Literal["set"]
    key: Key
    path: ListPath
    was: JsonValue = None
    value: JsonValue = None


class Insert(Shape):
    """Put a new item into a list, with its keys and all that hangs on it. after: null: at the head."""

    op: Literal["insert"]
    parent: Key
    list: ListPath
    after: Key | None = None
    before: Key | None = None
    item: dict[str, Any]


class MoveItem(Shape):
    """Put an item to another place. was: its mark of place; put: the mark that it has from now on."""

    op: Literal["move"]
    key: Key
    was: Key | None = None
    parent: Key
    list: ListPath
    after: Key | None = None
    before: Key | None = None
    put: Key


class Remove(Shape):
    """Take an item out. was: all that this takes out of sight, as the sender saw it."""

    op: Literal["remove"]
    key: Key
    was: dict[str, Any] = {}


class Restore(Shape):
    """Bring back what was taken out, in its old place."""

    op: Literal["restore"]
    key: Key


Operation = Annotated[SetField | Insert | MoveItem | Remove | Restore, Field(discriminator="op")]
Operations = Annotated[tuple[Operation, ...], Field(min_length=1, max_length=MOST_OPERATIONS)]
