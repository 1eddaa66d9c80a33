"""What things are called, for screens that know their ids."""

from mildladder.core.model import Shape

__all__ = ["StepTitle"]


class StepTitle(Shape):
    """A step's id and what it is called."""

    id: str
    title: str
