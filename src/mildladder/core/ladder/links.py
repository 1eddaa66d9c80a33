"""The other playbooks that a playbook names: look-alikes of its symptom, and ends of rails."""

from typing import NamedTuple

from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import Playbook, PlaybookRef

__all__ = ["look_alikes", "rail_ends"]


class NamedPlaybook(NamedTuple):
    """Where another playbook is named, and its id."""

    path: str
    playbook: str


def look_alikes(playbook: Playbook) -> list[NamedPlaybook]:
    """Those that its symptom is easily taken for."""
    return [NamedPlaybook(f"symptom.see_also.{n}", one.playbook) for n, one in enumerate(playbook.symptom.see_also)]


def rail_ends(playbook: Playbook) -> list[NamedPlaybook]:
    """Those that its rails lead on to."""
    return [
        NamedPlaybook(row.path, row.entry.playbook) for row in rows_of(playbook) if isinstance(row.entry, PlaybookRef)
    ]
