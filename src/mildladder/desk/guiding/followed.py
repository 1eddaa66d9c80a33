"""What is new on a ladder since somebody last followed it, said once."""

from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import Playbook, Rung
from mildladder.desk.guiding.climb_shapes import NewOnRung

__all__ = ["new_since"]

_MOST = 8


def new_since(before: Playbook, after: Playbook, edition: int) -> tuple[NewOnRung, ...]:
    """Rungs that are new, stand elsewhere, or read otherwise than in that edition, in the order of the ladder."""
    stood = {row.entry.step: row.label for row in reversed(rows_of(before)) if isinstance(row.entry, Rung)}
    steps = {step.id: step for step in before.steps}
    said: dict[str, str] = {}
    for row in rows_of(after):
        if not isinstance(row.entry, Rung) or row.entry.step in said:
            continue
        step = after.step(row.entry.step)
        if step.id not in stood:
            said[step.id] = f"{row.label} is new: {step.title}"
        elif step != steps[step.id]:
            said[step.id] = f"{row.label} reads otherwise: {step.title}"
        elif stood[step.id] != row.label:
            said[step.id] = f"{row.label} stood at {stood[step.id]} in edition {edition}: {step.title}"
    return tuple(NewOnRung(step=step, says=says) for step, says in said.items())[:_MOST]
