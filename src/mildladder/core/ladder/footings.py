"""Footings within one another: how deep one lies, and what is left and entered on the way from one to another."""

from collections.abc import Mapping

from mildladder.core.model import Footing, Playbook

__all__ = ["chain", "footings_of", "way"]


def footings_of(playbook: Playbook) -> dict[str, Footing]:
    """The playbook's footings by id."""
    return {footing.id: footing for footing in playbook.footings}


def chain(footings: Mapping[str, Footing], footing: str | None) -> list[Footing]:
    """The footings that a unit stands in when it stands in that one, the outermost first; None: normal, none at all."""
    found: list[Footing] = []
    while footing is not None:
        found.insert(0, footings[footing])
        footing = footings[footing].within
    return found


def way(footings: Mapping[str, Footing], origin: str | None, target: str | None) -> tuple[list[Footing], list[Footing]]:
    """What is left, innermost first, then what is entered, outermost first, past the nearest that both lie within."""
    leaving, entering = chain(footings, origin), chain(footings, target)
    while leaving and entering and leaving[0].id == entering[0].id:
        leaving, entering = leaving[1:], entering[1:]
    return leaving[::-1], entering
