"""A step as it is said in one line of quick words, and what of the line was not understood."""

from typing import Annotated

from pydantic import Field

from mildladder.core.model.base import Chance, Shape, Share, StepKind
from mildladder.core.model.step import Effort, Hazard

__all__ = ["QuickEnd", "QuickStep", "Unread"]


class QuickEnd(Shape):
    """A cause that the step ends, by its title, and how often."""

    cause: str
    chance: Chance


class Unread(Shape):
    """Words of the line that mean nothing here: from and to which character (from 0)."""

    start: Annotated[int, Field(ge=0)]
    end: Annotated[int, Field(ge=0)]
    text: str


class QuickStep(Shape):
    """What a line of quick words says. do: what is done, one thing after the other; says: the same; footing: the title
    of the state that it is done in; doubts: what may have been meant otherwise, each a short sentence; wrong: why
    nothing can be made of it."""

    title: str
    kind: StepKind = "fix"
    effort: Effort = Effort()
    hazards: tuple[Hazard, ...] = ()
    ends: tuple[QuickEnd, ...] = ()
    finds: tuple[str, ...] = ()
    do: tuple[str, ...] = ()
    footing: str | None = None
    done: Share | None = None
    unread: tuple[Unread, ...] = ()
    doubts: tuple[str, ...] = ()
    says: str = ""
    wrong: str | None = None
