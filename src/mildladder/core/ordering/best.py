"""The best order of a playbook's ladder, by whichever way is exact for it, and what it costs (method, section 4)."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from itertools import combinations
from typing import Any, NamedTuple, Self

import numpy as np

from mildladder.core.errors import Conflict, Stopped
from mildladder.core.figures.flow import Flow, States, merged
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.figures.plan import NORMAL, Known, Trial, plan_for
from mildladder.core.ladder.bonds import bonds
from mildladder.core.ladder.causes import all_causes, priors_on
from mildladder.core.ladder.moves import reordered
from mildladder.core.ladder.units import fact_types, unit_groups
from mildladder.core.model import Mode, Playbook, Shape
from mildladder.core.ordering.batch import Batch
from mildladder.core.ordering.blocks import Ladder
from mildladder.core.ordering.exact import ExactOrder, TooMany
from mildladder.core.ordering.latent import NotSeparable, pieces_of
from mildladder.core.ordering.maps import Costs, MapOrder
from mildladder.core.ordering.search import greedy, improved, lower_bound

__all__ = ["BestOrder", "Infeasible", "Solver", "best_order", "objective"]

_TIE = 1e-9
_MOST_OPTIONAL = 6


class HandOffAfter(Shape):
    """Where handing off at once would be cheaper than going on: after that rung, by so much of the objective."""

    step: str
    rung: int
    saves: float


class BestOrder(Shape):
    """The best order of the main line.

    order: indices of the draft's rungs; left_out: those of optional rungs that cost more than they bring. objective:
    effort + rate·harm. exact: nothing is better; otherwise nothing is better by more than `gap` of the objective.
    """

    order: tuple[int, ...]
    left_out: tuple[int, ...]
    forecast: Forecast
    objective: float
    exact: bool
    gap: float
    hand_off_after: HandOffAfter | None


class Infeasible(Conflict):
    """No order keeps every rule. `chain`: the rules that lead in a circle, each in a sentence."""

    code = "infeasible"

    def __init__(self, chain: Sequence[str]) -> None:
        self.chain = tuple(chain)
        super().__init__(f"no order keeps every rule: {'; '.join(chain)}. Take one of these away")

    def data(self) -> dict[str, Any]:
        """The sentence, and the rules."""
        return {"says": str(self), "chain": list(self.chain)}

    @classmethod
    def of(cls, data: Mapping[str, Any]) -> Self:
        """Inverse of `data`."""
        return cls(data["chain"])


def objective(figures: Forecast, rate: float) -> float:
    """Effort minutes and harm points in one figure."""
    return figures.effort + rate * figures.harm


class Solver:
    """A ladder ready to be ordered for any exchange rate, all of its rungs kept. Raises Infeasible, Stopped."""

    def __init__(self, ladder: Ladder, is_stopped: Callable[[], bool] = lambda: False) -> None:
        self.ladder, self.is_stopped = ladder, is_stopped
        chain = ladder.conflict()
        if chain:
            raise Infeasible([rule.says for rule in chain])
        self.engine = self._engine()
        self.known: dict[tuple[int, ...], Forecast] = {}

    def figures(self, rungs: Sequence[int]) -> Forecast:
        """The forecast of an order of the draft's rungs."""
        order = tuple(rungs)
        if order not in self.known:
            self.known[order] = forecast(reordered(self.ladder.playbook, order))
        return self.known[order]

    def _engine(self) -> ExactOrder | MapOrder | None:
        try:
            return ExactOrder(pieces_of(self.ladder), self.is_stopped)
        except TooMany:
            return None
        except NotSeparable:
            pass
        try:
            return MapOrder(self.ladder, self.is_stopped)
        except TooMany:
            return None

    def solve(self, rate: float) -> tuple[list[int], float | None]:
        """The order of rungs, and None when it is exact, or else what no order can cost less than."""
        order, bound = self._solve(rate)
        rungs = self.ladder.rungs(self.ladder.blocks_in(order))
        draft = list(range(len(self.ladder.playbook.ladder)))
        if rungs != draft and not self.ladder.broken(range(len(self.ladder.blocks))):
            kept = objective(self.figures(draft), rate) <= objective(self.figures(rungs), rate) + _TIE
            rungs = draft if kept else rungs
        return rungs, bound

    def _solve(self, rate: float) -> tuple[list[int], float | None]:
        if self.engine is not None:
            try:
                return self.engine.solve(rate), None
            except TooMany:
                self.engine = None
        try:
            batch = Batch(pieces_of(self.ladder), rate)
            order = self._searched(batch)
            cost = float(batch.costs(np.array([order]))[0])
            return order, lower_bound(batch, cost, self.is_stopped)
        except (NotSeparable, TooMany):
            return self._tried_out(rate), 0.0

    def _searched(self, batch: Batch) -> list[int]:
        """A local optimum from the greedy order, or from the draft where that keeps the rules and is cheaper."""
        starts = [greedy(batch)]
        draft = list(range(batch.size))
        if batch.is_feasible(np.array([draft]))[0]:
            starts.append(draft)
        return improved(batch, starts[int(np.argmin(batch.costs(np.array(starts))))], self.is_stopped)

    def _tried_out(self, rate: float) -> list[int]:
        """For ladders that only the forecast itself can value: neighbours changed over until none of it helps."""
        ladder = self.ladder
        order = ladder.some_order()
        cost = self._cost(order, rate)
        is_better = True
        while is_better:
            is_better = False
            for place in range(len(order) - 1):
                if self.is_stopped():
                    raise Stopped
                other = [*order[:place], order[place + 1], order[place], *order[place + 2 :]]
                if not ladder.broken(ladder.blocks_in(other)):
                    tried = self._cost(other, rate)
                    if tried < cost - _TIE:
                        order, cost, is_better = other, tried, True
        return order

    def _cost(self, order: list[int], rate: float) -> float:
        return objective(self.figures(self.ladder.rungs(self.ladder.blocks_in(order))), rate)


def best_order(
    playbook: Playbook,
    mode: Mode | None = None,
    rate: float | None = None,
    is_stopped: Callable[[], bool] = lambda: False,
) -> BestOrder:
    """The best order of the playbook's main line; mode and rate are those of its policy unless given.

    Raises Infeasible when the rules lead in a circle, Stopped when the caller wants no answer any more, BadInput for
    what the forecast refuses.
    """
    mode, rate = mode or playbook.policy.mode, playbook.policy.rate if rate is None else rate
    solved: list[_Solved] = []
    problems: list[Infeasible] = []
    for left_out in _removable_sets(playbook):
        try:
            solved.append(_solve_without(playbook, left_out, mode, rate, is_stopped))
        except Infeasible as problem:
            problems.append(problem)
    if not solved:
        raise problems[0]
    best = min(solved, key=lambda one: (round(one.cost / _TIE), len(one.left_out)))
    low = min(one.bound for one in solved)
    optional = sum(rung.optional for rung in playbook.ladder)
    is_exact = optional <= _MOST_OPTIONAL and low >= best.cost - _TIE
    return BestOrder(
        order=tuple(best.order),
        left_out=best.left_out,
        forecast=forecast(reordered(playbook, best.order)),
        objective=best.cost,
        exact=is_exact,
        gap=0.0 if low >= best.cost - _TIE else (best.cost - low) / best.cost,
        hand_off_after=hand_off_after(reordered(playbook, best.order), best.order, rate),
    )


class _Solved(NamedTuple):
    cost: float
    order: list[int]
    left_out: tuple[int, ...]
    bound: float


def _solve_without(
    playbook: Playbook, left_out: tuple[int, ...], mode: Mode, rate: float, is_stopped: Callable[[], bool]
) -> _Solved:
    kept = [rung for rung in range(len(playbook.ladder)) if rung not in left_out]
    order, bound = Solver(Ladder(reordered(playbook, kept), mode), is_stopped).solve(rate)
    rungs = [kept[number] for number in order]
    cost = objective(forecast(reordered(playbook, rungs)), rate)
    return _Solved(cost, rungs, left_out, cost if bound is None else bound)


def _removable_sets(playbook: Playbook) -> Iterator[tuple[int, ...]]:
    """Every set of optional rungs that may be left out together: nothing that is kept needs them."""
    optional = [number for number, rung in enumerate(playbook.ladder) if rung.optional][:_MOST_OPTIONAL]
    for count in range(len(optional) + 1):
        for out in combinations(optional, count):
            if _may_go(playbook, set(out)):
                yield out


def _may_go(playbook: Playbook, out: set[int]) -> bool:
    return all(set(bond.above) - out for bond in bonds(playbook) if bond.below not in out)


def hand_off_after(playbook: Playbook, rungs: Sequence[int], rate: float) -> HandOffAfter | None:
    """The rung after which handing off would cost least, if that is less than going on to the foot.

    What the case costs the receiving team counts; None where nobody says what that is. A rung that no unit comes to is
    no place for it. rungs: the numbers by which the ladder's rungs are to be called.
    """
    team = playbook.default_hand_off
    if team is None or team.theirs is None:
        return None
    costs = _costs_if_handed_off(playbook, rate)
    reached = [place for place, rung in enumerate(forecast(playbook).rungs) if rung.reach > _TIE]
    place = min(reached, key=lambda one: costs[one], default=None)
    if place is None or costs[place] >= costs[-1] - _TIE:
        return None
    return HandOffAfter(step=playbook.ladder[place].step, rung=rungs[place], saves=costs[-1] - costs[place])


def _costs_if_handed_off(playbook: Playbook, rate: float) -> list[float]:
    """The objective of the ladder cut off after each rung; inside a trial, as after its end."""
    causes = all_causes(playbook)
    types, known = fact_types(playbook), Known()
    blocks = Ladder(playbook, "balanced").blocks
    costs = np.zeros(len(blocks))
    for unit in unit_groups(playbook):
        plan = plan_for(playbook, unit.facts, types, causes, known, with_theirs=True)
        paid, end = Costs(), Costs()
        states: States = {(NORMAL, 0, (-1,) * len(plan.checks)): unit.share * priors_on(causes, unit.facts, types)}
        for number, (part, (bits, checks)) in enumerate(zip(plan.main.parts, plan.main.matters, strict=True)):
            assert isinstance(part, Trial)
            states = merged(Flow(plan, paid).trial(part, states), bits, checks)
            end.clear()
            end.hand_off(plan, states)
            costs[number] += paid.joined(rate) + end.joined(rate)
    return [float(costs[number]) for number, block in enumerate(blocks) for _ in block.rungs]
