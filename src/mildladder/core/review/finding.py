"""What review says of a draft, and what every rule of it may look at."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property
from typing import Literal

from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.figures.judgement import risk_grade
from mildladder.core.ladder.causes import all_causes
from mildladder.core.ladder.moves import reordered
from mildladder.core.ladder.units import UnitGroup, fact_types, on_unit, unit_groups
from mildladder.core.ladder.walk import RowOfLadder, rows_of
from mildladder.core.model import Cause, Playbook, Rung, Shape, Step
from mildladder.core.ordering.blocks import Ladder

__all__ = ["Found", "LinksByPlaybook", "Mend", "Place", "ReviewFinding", "Subject"]

Level = Literal["blocker", "warning", "hint"]
LinksByPlaybook = Mapping[str, frozenset[str]]


class ReviewFinding(Shape):
    """One finding. where: the place in the document, such as ``ladder.3`` or ``steps.2.do``. rung: path of the row of
    the ladder that shows it, if one does."""

    level: Level
    code: str
    where: str
    rung: str | None
    says: str


class Mend(Shape):
    """What can be done in one press about the finding of that code and sentence; it brings no other finding about."""

    code: str
    finding: str
    says: str


@dataclass(frozen=True)
class Found:
    """A finding with a way that may mend it, in words and as it would be."""

    level: Level
    code: str
    where: str
    says: str
    rung: str | None = None
    mend: str | None = None
    mended: Callable[[], Playbook] | None = None


@dataclass(frozen=True)
class Place:
    """A rung where it stands: the row, its step, and the main-line rung that it is or hangs on."""

    row: RowOfLadder
    rung: Rung
    step: Step
    index: int


@dataclass(frozen=True)
class Subject:
    """A playbook under review. known: every playbook of the desk with those it leads on to; None: nobody knows. today:
    by which advice is old; None: none is. helped: steps that ended the fault of a logged case."""

    playbook: Playbook
    known: LinksByPlaybook | None = None
    figures: Forecast | None = field(default=None, compare=False)
    today: date | None = None
    helped: frozenset[str] = frozenset()

    @cached_property
    def steps(self) -> dict[str, Step]:
        """Steps by id."""
        return {step.id: step for step in self.playbook.steps}

    @cached_property
    def places(self) -> list[Place]:
        """Every rung of the ladder, rails included, from top to bottom."""
        return [
            Place(row, row.entry, self.steps[row.entry.step], int(row.path.split(".")[1]))
            for row in rows_of(self.playbook)
            if isinstance(row.entry, Rung)
        ]

    @cached_property
    def main(self) -> list[Place]:
        """The rungs of the main line."""
        return [place for place in self.places if place.row.depth == 0]

    @cached_property
    def groups(self) -> list[UnitGroup]:
        """Sorts of units."""
        return unit_groups(self.playbook)

    @cached_property
    def causes(self) -> tuple[Cause, ...]:
        """Every cause, something-else included."""
        return all_causes(self.playbook)

    @cached_property
    def forecast(self) -> Forecast:
        """Figures of the ladder."""
        return self.figures or forecast(self.playbook)

    @cached_property
    def ladder(self) -> Ladder:
        """Blocks and rules in the playbook's own mode."""
        return Ladder(self.playbook, self.playbook.policy.mode)

    @cached_property
    def number_of(self) -> dict[str, int]:
        """The place of each step among the document's steps."""
        return {step.id: number for number, step in enumerate(self.playbook.steps)}

    def where(self, step: Step, key: str = "") -> str:
        """The place of a step in the document."""
        return f"steps.{self.number_of[step.id]}{key}"

    def bare_grade(self, step: Step) -> int:
        """Risk grade with nothing eased, on the sort of unit where it is worst."""
        return self._bare[step.id]

    @cached_property
    def _bare(self) -> dict[str, int]:
        types = fact_types(self.playbook)
        return {
            step.id: max(
                risk_grade(on_unit(step, group.facts, types) if step.varies else step)
                for group in (self.groups if step.varies else self.groups[:1])
            )
            if step.hazards or step.varies
            else 0
            for step in self.playbook.steps
        }

    def rungs_of(self, step: Step) -> Iterator[Place]:
        """The places where a step stands."""
        return (place for place in self.places if place.step.id == step.id)

    def used(self) -> list[tuple[Step, str | None]]:
        """Every step that an agent may come to, with the path of the first row that shows it."""
        first: dict[str, str | None] = {}
        for place in self.places:
            first.setdefault(place.step.id, place.row.path)
        for after in self.playbook.after_fix:
            first.setdefault(after.step, None)
        return [(step, first[step.id]) for step in self.playbook.steps if step.id in first]

    def moved(self, source: int, target: int) -> Playbook | None:
        """The playbook with one block of the main line put elsewhere, both by rung index; None where that newly breaks
        a rule."""
        blocks = self.ladder.blocks
        block = next(n for n, one in enumerate(blocks) if source in one.rungs)
        goal = next(n for n, one in enumerate(blocks) if target in one.rungs)
        order = [n for n in range(len(blocks)) if n != block]
        order.insert(goal, block)
        now = set(self.ladder.broken(range(len(blocks))))
        if set(self.ladder.broken(order)) - now:
            return None
        return reordered(self.playbook, self.ladder.rungs(order))

    def without(self, index: int) -> Playbook:
        """The playbook without one rung of the main line."""
        return reordered(self.playbook, [n for n in range(len(self.playbook.ladder)) if n != index])
