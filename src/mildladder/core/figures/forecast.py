"""What a ladder costs and ends, worked out exactly before anyone climbs it (method, section 3).

No simulation: the figures for each cause fall out of one pass of the flow over each sort of unit.
The value function is that of decision-theoretic troubleshooting (Heckerman, Breese & Rommelse 1995) for a fixed order,
with the shared set-up costs of Langseth & Jensen 2001.
"""

import numpy as np

from mildladder.core.errors import BadInput
from mildladder.core.figures.flow import Flow, Ledger
from mildladder.core.figures.plan import Known, Node, plan_for
from mildladder.core.ladder.causes import FloatArray, all_causes, priors_on
from mildladder.core.ladder.units import fact_types, unit_groups
from mildladder.core.model import Playbook, Shape

__all__ = ["Forecast", "RungForecast", "forecast"]


class RungForecast(Shape):
    """Figures of one rung, as shares of, or means over, all cases of the symptom.

    path: its place, such as ``ladder.3.on.blocked.0``. arriving: share still unresolved that comes to it; reach: share
    for which its step comes up. With its side rails counted in: what was resolved, worked around, handed off and sent
    on there, effort in effort minutes (the switch into its footing too) and harm in harm points, a case.
    """

    path: str
    step: str
    arriving: float
    reach: float
    resolved: float
    worked_around: float
    handed_off: float
    sent_on: float
    effort: float
    harm: float


class Forecast(Shape):
    """Figures of a whole ladder a case: means of effort minutes, harm points and clock minutes, and shares of ends.

    rungs: the main line; side: every rung of its rails, in the order of the ladder.
    """

    effort: float
    harm: float
    elapsed: float
    resolved: float
    worked_around: float
    handed_off: float
    sent_on: float
    rungs: tuple[RungForecast, ...]
    side: tuple[RungForecast, ...]
    by_cause: dict[str, float]


def forecast(playbook: Playbook) -> Forecast:
    """The exact figures of the playbook's ladder as it stands.

    Raises BadInput for weights or findings that sum to 0, for a condition that cannot be read, and for a ladder whose
    steps hang together in too many ways.
    """
    causes = all_causes(playbook)
    overall = np.zeros(len(causes))
    types = fact_types(playbook)
    ledger: Ledger | None = None
    nodes: list[Node] = []
    known = Known()
    for group in unit_groups(playbook):
        plan = plan_for(playbook, group.facts, types, causes, known)
        nodes = plan.nodes
        ledger = ledger or Ledger(len(causes), len(nodes))
        mass = group.share * priors_on(causes, group.facts, types)
        overall += mass
        Flow(plan, ledger).run(mass)
    if ledger is None:
        raise BadInput("no sort of unit has a share; give the facts shares that sum to 1", path="facts")
    return _figures(ledger, nodes, [cause.id for cause in causes], overall)


_OF_RAILS = ("resolved", "worked_around", "handed_off", "sent_on", "effort", "harm")


def _figures(ledger: Ledger, nodes: list[Node], causes: list[str], overall: FloatArray) -> Forecast:
    ledger.add_up()
    effort = np.divide(ledger.effort, overall, out=np.zeros(len(overall)), where=overall > 0)
    totals = {name: float(ledger.rows[name].sum()) for name in (*_OF_RAILS, "elapsed")}
    rows = {name: ledger.rows[name].tolist() for name in (*_OF_RAILS, "arriving", "reach")}
    for node in reversed(nodes):
        if node.parent is not None:
            for name in _OF_RAILS:
                rows[name][node.parent.index] += rows[name][node.index]
    made = [
        (node, RungForecast(path=node.path, step=node.step.id, **{name: row[node.index] for name, row in rows.items()}))
        for node in nodes
    ]
    return Forecast(
        **totals,
        rungs=tuple(row for node, row in made if node.parent is None),
        side=tuple(row for node, row in made if node.parent is not None),
        by_cause={cause: float(minutes) for cause, minutes in zip(causes, effort, strict=True)},
    )
