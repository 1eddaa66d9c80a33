"""What a page sends to change a draft: operations, the undoing of a group, or a deed that the desk carries out."""

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, WrapValidator, field_validator, model_validator

from mildladder.core.model.base import FactValue, Id, Line, Shape
from mildladder.core.model.edits import Key, Operations
from mildladder.core.model.playbook import RailEntry
from mildladder.core.model.step import Step

__all__ = [
    "BringBack",
    "Deed",
    "Everywhere",
    "Mending",
    "Ordering",
    "PutIn",
    "RenameValue",
    "SendEdit",
    "Suggesting",
    "TakeNewer",
]

_Client = Annotated[str, Field(pattern=r"^[a-z0-9]{8,32}$")]
_Group = Annotated[str, Field(pattern=r"^[a-z0-9-]{1,80}$")]
_Number = Annotated[int, Field(ge=0, le=2**31, strict=True)]


class RejectedEdit:
    """What stands where something was sent that cannot be read: it uses up its number all the same."""

    def __init__(self, says: str, path: str) -> None:
        self.says, self.path = says, path


class Ordering(Shape):
    """Bring the main line into an order, by keys of its rungs, and take out those left out."""

    kind: Literal["order"]
    order: Annotated[tuple[Key, ...], Field(max_length=1000)]
    left_out: Annotated[tuple[Key, ...], Field(max_length=1000)] = ()


class Mending(Shape):
    """Mend a finding of review, by its code and its sentence."""

    kind: Literal["mend"]
    code: Annotated[str, Field(max_length=40)]
    finding: Annotated[str, Field(max_length=2000)]


class Suggesting(Shape):
    """Take a suggestion: the ladder that it was worked out to be, of a revision, and the sentence that it says. adds:
    steps that it needs, in place of the draft's of the same id, as a file says them."""

    kind: Literal["suggestion"]
    revision: Annotated[int, Field(ge=1, le=2**31, strict=True)]
    ladder: Annotated[tuple[RailEntry, ...], Field(max_length=1000)]
    says: Annotated[str, Field(min_length=1, max_length=2000)]
    adds: Annotated[tuple[dict[str, Any], ...], Field(max_length=20)] = ()

    @field_validator("adds")
    @classmethod
    def _are_steps(cls, adds: tuple[dict[str, Any], ...]) -> tuple[dict[str, Any], ...]:
        for one in adds:
            Step.model_validate(one)
        return adds

    @property
    def steps(self) -> dict[str, Step]:
        """What it adds, by id."""
        return {step.id: step for step in map(Step.model_validate, self.adds)}


class TakeNewer(Shape):
    """Take the library's newest text of a step."""

    kind: Literal["newer-text"]
    step: Id


class BringBack(Shape):
    """Make an edition the draft again."""

    kind: Literal["edition"]
    edition: Annotated[int, Field(ge=1, le=1_000_000, strict=True)]


class PutIn(Shape):
    """Put a step of the library onto a new rung. rung: the key that it is to have; parent, list, after: where it
    stands."""

    kind: Literal["library-step"]
    step: Id
    rung: Key
    parent: Key
    list: Annotated[tuple[Line, ...], Field(min_length=1, max_length=3)]
    after: Key | None = None


class Everywhere(Shape):
    """Make the text of a step of the draft, by its key, the library's."""

    kind: Literal["everywhere"]
    step: Key


class RenameValue(Shape):
    """Call an answer to a question about the unit otherwise, in its shares and in every condition. fact: its key."""

    kind: Literal["rename-value"]
    fact: Key
    was: FactValue
    to: FactValue


Deed = Annotated[
    Ordering | Mending | Suggesting | TakeNewer | BringBack | PutIn | Everywhere | RenameValue,
    Field(discriminator="kind"),
]


def _or_untaken(value: Any, read: Callable[[Any], Any]) -> Any:
    try:
        return read(value)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        return RejectedEdit(first["msg"], ".".join(str(part) for part in first["loc"]))


class SendEdit(Shape):
    """One edit of one page. client, number: which page, and as which of its edits; base: the revision that it has;
    group: what is undone as one. It is made of operations, or undoes a group, or has the desk do a deed."""

    client: _Client
    number: _Number
    base: _Number
    group: _Group
    operations: Annotated[Operations | None, WrapValidator(_or_untaken)] = None
    undo: Annotated[_Group | None, WrapValidator(_or_untaken)] = None
    deed: Annotated[Deed | None, WrapValidator(_or_untaken)] = None

    @model_validator(mode="after")
    def _is_one_thing(self) -> "SendEdit":
        if sum(one is not None for one in (self.operations, self.undo, self.deed)) != 1:
            raise ValueError("an edit is made of operations, or undoes a group, or is a deed")
        return self

    @property
    def untaken(self) -> RejectedEdit | None:
        """What cannot be read of it."""
        sent: tuple[object, ...] = (self.operations, self.undo, self.deed)
        return next((one for one in sent if isinstance(one, RejectedEdit)), None)
