"""What a guided case has left on the unit: what is to be put back, left, and closed, on the way and at its end."""

from functools import cached_property

from mildladder.core.climb.agenda import Task, TrialTask
from mildladder.core.climb.between import ways_out
from mildladder.core.climb.done import Done
from mildladder.core.climb.loose_ends import LooseEnd, Traces, loose_ends, put_on
from mildladder.core.ladder.footings import footings_of
from mildladder.core.model import Step
from mildladder.core.model.events import Started

__all__ = ["Leaving"]


class Leaving(Done):
    """What is to be left, of whatever holds these; what each is, `Climb` says."""

    started: Started
    agenda: tuple[Task, ...]
    footing: str | None
    route: tuple[str | None, ...]
    leaves_for_test: bool
    to_put_back: tuple[str, ...]
    tied: dict[str, str | None]
    stuck: tuple[LooseEnd, ...]
    fixed_by: str | None
    fixed_step: str | None
    is_restored: bool
    to_take_off: str | None
    taken_off: tuple[str, ...]

    @property
    def place(self) -> str:
        """What the agent is asked for now."""
        raise NotImplementedError

    @property
    def stands(self) -> str | None:
        """The footing that the unit stands in."""
        raise NotImplementedError

    @property
    def step(self) -> Step:
        """The step of the current rung, as it is on this unit."""
        raise NotImplementedError

    def on_unit(self, step: Step) -> Step:
        """A step as it is on this unit."""
        raise NotImplementedError

    def _is_asked(self, end: LooseEnd) -> bool:
        """What is to be done once a step has fixed the fault is not asked of one that did not help."""
        if self.started.rules < 5 or end.only_if != "fixed":
            return True
        tried = [one.outcome for one in self.attempts if end.id.startswith(f"after:{one.step}:")]
        return not tried or "fixed" in tried or not self.playbook.step(end.id.split(":")[1]).is_tested

    @property
    def _to_put_on(self) -> tuple[LooseEnd, ...]:
        """Workarounds that were taken off for a lasting repair that did not help."""
        is_mended = self.fixed_by is not None and self.fixed_step not in self.taken_off
        steps = [] if is_mended or self.is_restored else [self.playbook.step(one) for one in self.taken_off]
        return tuple(put_on(step) for step in steps)

    @cached_property
    def ways_out(self) -> tuple[LooseEnd, ...]:
        """What is done by itself before the next step, or test: putting back, then leaving."""
        return self._to_put_back_first or self._to_leave_first

    @cached_property
    def _to_put_back_first(self) -> tuple[LooseEnd, ...]:
        changed = self.puts_back
        if self.to_take_off and self.carried and isinstance(self.agenda[0], TrialTask):
            step = self.on_unit(self.playbook.step(self.to_take_off))
            where = (step.undo and step.undo.footing) or step.footing
            changed = (*changed, (step, self.footing if where == "any" else where))
        if self.started.rules < 2 or not changed:
            return ()
        left = loose_ends(Traces(self.playbook, (), changed, self.footing, False))
        return tuple(end for end in left if end.kind == "put-back")

    @cached_property
    def _to_leave_first(self) -> tuple[LooseEnd, ...]:
        if self.started.rules < 2:
            return ()
        is_test = isinstance(self.agenda[0], TrialTask)
        stays = self.leaves_for_test is False if is_test else self.step.footing == "any"
        target = () if stays else (None if is_test else self.step.footing,)
        return ways_out(footings_of(self.playbook), self.footing, (*self.route, *target))

    @property
    def to_close(self) -> LooseEnd:
        """The one thing to leave, put back or close now."""
        return self.ways_out[0] if self.place == "way-out" else self.open_ends[0]

    @property
    def open_ends(self) -> tuple[LooseEnd, ...]:
        """Those that are neither closed nor left open with a reason, the one to close next first."""
        return tuple(end for end in self.loose_ends if end.id not in self.tied)

    @cached_property
    def puts_back(self) -> tuple[tuple[Step, str | None], ...]:
        """What is still to be put back, in order, each with the footing in which that is done."""
        found: list[tuple[Step, str | None]] = []
        at = self.footing
        for name in self.to_put_back:
            step = self.on_unit(self.playbook.step(name))
            where = (step.undo and step.undo.footing) or step.footing
            at = at if where == "any" else where
            found.append((step, at))
        return tuple(found)

    @property
    def bound_for(self) -> str | None:
        """The footing that the unit stands in once all is put back and it has been brought along its route."""
        at = self.puts_back[-1][1] if self.puts_back else self.footing
        return self.route[-1] if self.route else at

    @cached_property
    def loose_ends(self) -> tuple[LooseEnd, ...]:
        """What would have to be closed if the case ended now, in order, closed ones and those left open included."""
        is_fixed = self.fixed_by is not None
        open_ones = frozenset(end for end, why in self.tied.items() if why) if self.started.rules >= 5 else frozenset()
        left = loose_ends(Traces(self.playbook, self.carried_out(), self.puts_back, self.stands, is_fixed, open_ones))
        return (*self.stuck, *(end for end in left if self._is_asked(end)), *self._to_put_on)
