"""What of a guided case is done, undone since, and how each step ended."""

from dataclasses import dataclass
from functools import cached_property

from mildladder.core.ladder.shared import undone_by, with_included
from mildladder.core.model import Attempt, HazardKind, Playbook, Step
from mildladder.core.model.outcomes import DO_NOT_ENTER, NOT_DONE

__all__ = ["Carried", "Done"]


@dataclass(frozen=True)
class Carried:
    """A rung of the trial under way that was carried out and waits for its test; `harmed`, `ways` as in an attempt;
    after: how many attempts there were before it."""

    path: str
    step: str
    minutes: float
    harmed: tuple[HazardKind, ...] | None
    after: int
    ways: tuple[str, ...] | None = None


class Done:
    """What was done, of whatever holds these.

    carried: rungs that wait for their test; findings: by step.
    """

    playbook: Playbook
    attempts: tuple[Attempt, ...]
    carried: tuple[Carried, ...]
    findings: dict[str, str]

    def carried_out(self) -> tuple[Step, ...]:
        """Every step that was carried out on this call, once, in order."""
        done = [
            attempt.step
            for attempt in self.attempts
            if attempt.by != "before"
            and attempt.outcome not in DO_NOT_ENTER
            and attempt.took != "no"
            and self.has_step(attempt.step)
        ]
        waiting = [*done, *(one.step for one in self.carried)]
        return tuple(self.playbook.step(step) for step in dict.fromkeys(waiting))

    def is_done(self, step_id: str) -> bool:
        """Whether the step was carried out on this case, by itself or within another, or there was nothing to do."""
        return step_id in self._done

    @cached_property
    def _done(self) -> set[str]:
        found: set[str] = set()
        for step, outcome in self._ends_of_done:
            undone = set() if outcome in DO_NOT_ENTER else undone_by(self.playbook, step)
            found = (found - undone) | with_included(self.playbook, step)
        return found

    @property
    def ever_done(self) -> set[str]:
        """The steps that were done at one time, whatever undid them since."""
        return {one for step, _ in self._ends_of_done for one in with_included(self.playbook, step)}

    @property
    def _ends_of_done(self) -> list[tuple[str, str | None]]:
        """The steps that were done, or that there was nothing to do for, with their ends, in order."""
        ended = [(one.step, one.outcome) for one in self.attempts if one.took != "no" and self.has_step(one.step)]
        done: list[tuple[str, str | None]] = [one for one in ended if one[1] not in NOT_DONE]
        return [*done, *((one.step, "done") for one in self.carried)]

    def without_undone(self, step_id: str) -> dict[str, str]:
        """What was found, but for what that step undoes: once it is carried out, nothing is known of it."""
        undone = undone_by(self.playbook, step_id) if self.has_step(step_id) else set()
        return {step: finding for step, finding in self.findings.items() if step not in undone}

    @cached_property
    def endings(self) -> dict[str, str]:
        """By step, how it ended last; what did not take could not be done."""
        ends = [(one.step, "could-not" if one.took == "no" else one.outcome) for one in self.attempts]
        last = {step: outcome for step, outcome in ends if outcome is not None}
        return {**last, **{one.step: "done" for one in self.carried}}

    def has_step(self, step_id: str) -> bool:
        return any(step.id == step_id for step in self.playbook.steps)
