"""The forecast over many sets of chances at once, as the cases leave them open (evidence, sections 3 and 6)."""

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from mildladder.core.figures.flow import FOOT, Flow
from mildladder.core.figures.plan import Cost, Known, Node, Plan, plan_for
from mildladder.core.ladder.causes import FloatArray, all_causes
from mildladder.core.ladder.units import UnitGroup, fact_types
from mildladder.core.model import Playbook

__all__ = ["DrawnForecast", "OnUnit", "Paid", "cost_by_cause", "drawn_forecast"]


@dataclass(frozen=True)
class OnUnit:
    """What holds on one sort of unit, over D sets. mass: (K, D) of all cases; cures: by step, (K, D); findings: by step
    and finding, (K, D). What is left out is as the playbook says."""

    group: UnitGroup
    mass: FloatArray
    cures: Mapping[str, FloatArray]
    findings: Mapping[str, Mapping[str, FloatArray]]


@dataclass(frozen=True)
class DrawnForecast:
    """Figures a case, each (D,); of every rung, rails included and by path: those of itself alone, (D,)."""

    effort: FloatArray
    harm: FloatArray
    elapsed: FloatArray
    resolved: FloatArray
    worked_around: FloatArray
    handed_off: FloatArray
    steps: Mapping[str, str]
    arriving: Mapping[str, FloatArray]
    reach: Mapping[str, FloatArray]
    ended: Mapping[str, FloatArray]


@dataclass(frozen=True)
class Paid:
    """What a case of each cause comes to on one sort of unit, each (K, D). handed_off: its chance to be."""

    effort: FloatArray
    harm: FloatArray
    handed_off: FloatArray


class _ByCause:
    """Adds up by cause and set what a flow notes of the whole ladder; its columns are causes by sets."""

    def __init__(self, columns: int) -> None:
        self.totals: dict[str, FloatArray] = defaultdict(lambda: np.zeros(columns))

    def note(self, name: str, _node: Node | None, mass: FloatArray, amount: float = 1.0) -> None:
        """So much of this figure for each of the mass."""
        self.totals[name] += amount * mass

    def pay(self, _node: Node | None, mass: FloatArray, cost: Cost) -> None:
        """A cost that this mass pays."""
        self.totals["effort"] += cost.effort * mass

    def hurt(self, _node: Node | None, mass: FloatArray, points: float) -> None:
        """Harm that this mass suffers."""
        self.totals["harm"] += points * mass


class _DrawnLedger:
    """Adds up by set what a flow notes; its columns are causes by sets."""

    def __init__(self, sets: int) -> None:
        self.sets = sets
        self.rows: dict[tuple[str, int], FloatArray] = defaultdict(lambda: np.zeros(sets))

    def note(self, name: str, node: Node | None, mass: FloatArray, amount: float = 1.0) -> None:
        """So much of this figure for each of the mass, at a rung or (None) at the foot of the ladder."""
        self.rows[name, FOOT if node is None else node.index] += amount * mass.reshape(-1, self.sets).sum(axis=0)

    def pay(self, _node: Node | None, mass: FloatArray, cost: Cost) -> None:
        """A cost that this mass pays."""
        if cost.effort or cost.elapsed:
            total = mass.reshape(-1, self.sets).sum(axis=0)
            self.rows["effort", FOOT] += cost.effort * total
            self.rows["elapsed", FOOT] += cost.elapsed * total

    def hurt(self, _node: Node | None, mass: FloatArray, points: float) -> None:
        """Harm that this mass suffers."""
        if points:
            self.note("harm", None, mass, points)

    def total(self, name: str) -> FloatArray:
        """A figure of the whole ladder."""
        parts = [row for (what, _), row in self.rows.items() if what == name]
        return np.asarray(sum(parts, np.zeros(self.sets)), dtype=float)


def drawn_forecast(playbook: Playbook, units: Sequence[OnUnit]) -> DrawnForecast:
    """The exact forecast under each set of chances. Raises BadInput as `forecast` does."""
    sets = units[0].mass.shape[1]
    ledger, causes, types = _DrawnLedger(sets), all_causes(playbook), fact_types(playbook)
    nodes: list[Node] = []
    for unit in units:
        plan = plan_for(playbook, unit.group.facts, types, causes, Known())
        _take(plan, unit, sets)
        nodes = plan.nodes
        Flow(plan, ledger).run(unit.mass.reshape(-1))
    of = _by_path(nodes, ledger)
    return DrawnForecast(
        effort=ledger.total("effort"),
        harm=ledger.total("harm"),
        elapsed=ledger.total("elapsed"),
        resolved=ledger.total("resolved"),
        worked_around=ledger.total("worked_around"),
        handed_off=ledger.total("handed_off"),
        steps={node.path: node.step.id for node in nodes},
        arriving=of("arriving"),
        reach=of("reach"),
        ended={path: row + of("worked_around")[path] for path, row in of("resolved").items()},
    )


def cost_by_cause(playbook: Playbook, unit: OnUnit) -> Paid:
    """What a case of each cause comes to on one sort of unit, whatever its mass there: every figure is linear in it.
    Raises BadInput as `forecast` does."""
    causes, shape = all_causes(playbook), unit.mass.shape
    plan = plan_for(playbook, unit.group.facts, fact_types(playbook), causes, Known())
    _take(plan, unit, shape[1])
    book = _ByCause(unit.mass.size)
    Flow(plan, book).run(np.ones(unit.mass.size))
    return Paid(*(book.totals[name].reshape(shape) for name in ("effort", "harm", "handed_off")))


def _by_path(nodes: Sequence[Node], ledger: _DrawnLedger) -> Callable[[str], dict[str, FloatArray]]:
    return lambda name: {node.path: ledger.rows[name, node.index] for node in nodes}


def _take(plan: Plan, unit: OnUnit, sets: int) -> None:
    """Put the chances of every set in place of the playbook's, causes by sets in one axis."""
    for node in plan.nodes:
        own = unit.cures.get(node.step.id)
        node.cures = np.repeat(node.cures, sets) if own is None else own.reshape(-1)
        found = unit.findings.get(node.step.id, {})
        node.findings = [
            (name, found[name].reshape(-1) if name in found else np.repeat(chances, sets), cost)
            for name, chances, cost in node.findings
        ]
