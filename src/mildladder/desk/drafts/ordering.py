"""Order a ladder: the best order, the mild-quick curve and why each rung stands where it does, as steps and words."""

from collections.abc import Callable, Sequence

from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Mode, Playbook, Shape
from mildladder.core.ordering.best import BestOrder, best_order
from mildladder.core.ordering.curve import Corner, Point, curve
from mildladder.core.ordering.reasons import WhyHere, amount, reasons_for_place, why_all
from mildladder.core.ordering.suggestions import Suggestion, suggestions
from mildladder.core.ordering.what_if import Changes, changed

__all__ = [
    "Changes",
    "CurveView",
    "OrderView",
    "Suggestion",
    "WhatIfView",
    "WhyHere",
    "curve_of",
    "order_of",
    "reasons_for_place",
    "suggestions",
    "what_if_of",
]


class StepWhy(Shape):
    """Why a step stands where it stands in the best order."""

    step: str
    says: str


class HandOffEarlier(Shape):
    """Handing off right after this step would be cheaper than going on, by so much effort and harm in one figure."""

    step: str
    saves: float


class OrderView(Shape):
    """The best order of the main line. order: step ids; rungs: the draft's indices; left_out: optional steps not worth
    their cost; objective: effort + rate·harm; gap: by how much of it a better order could be better, when not exact;
    arriving: the share of cases that comes to each rung."""

    order: tuple[str, ...]
    rungs: tuple[int, ...]
    effort: float
    harm: float
    objective: float
    exact: bool
    gap: float
    left_out: tuple[str, ...]
    hand_off_after: HandOffEarlier | None
    why: tuple[StepWhy, ...]
    arriving: tuple[float, ...]


class CurvePoint(Shape):
    """One order on the curve or beside it. says: what a milder order next to it costs, or that there is none."""

    order: tuple[str, ...]
    rungs: tuple[int, ...]
    effort: float
    harm: float
    rate_low: float | None
    rate_high: float | None
    says: str
    arriving: tuple[float, ...]


class CurveView(Shape):
    """The best orders from quickest to mildest, the draft, and the best order with the mildest first, if there is one.
    no_mildest: why there is none. exact: no order is better than these."""

    points: tuple[CurvePoint, ...]
    draft: CurvePoint
    mildest: CurvePoint | None
    no_mildest: str | None = None
    exact: bool


class WhatIfView(Shape):
    """The draft's ladder under another judgement: as it stands, and in the order that would then be best."""

    now: Forecast
    then: Forecast
    best: OrderView


def order_of(
    playbook: Playbook,
    mode: Mode | None = None,
    rate: float | None = None,
    is_stopped: Callable[[], bool] = lambda: False,
) -> OrderView:
    """The best order, with its reasons. Raises Infeasible, Stopped, BadInput."""
    policy = {name: value for name, value in (("mode", mode), ("rate", rate)) if value is not None}
    judged = playbook.model_copy(update={"policy": playbook.policy.model_copy(update=policy)})
    best = best_order(judged, is_stopped=is_stopped)
    why = why_all(reordered(judged, best.order), is_stopped)
    return OrderView(
        order=_steps(playbook, best.order),
        rungs=best.order,
        effort=best.forecast.effort,
        harm=best.forecast.harm,
        objective=best.objective,
        exact=best.exact,
        gap=best.gap,
        left_out=_steps(playbook, best.left_out),
        hand_off_after=_hand_off(best),
        why=tuple(StepWhy(step=one.step, says=" ".join(one.says)) for one in why),
        arriving=tuple(rung.arriving for rung in best.forecast.rungs),
    )


def _hand_off(best: BestOrder) -> HandOffEarlier | None:
    found = best.hand_off_after
    return HandOffEarlier(step=found.step, saves=found.saves) if found else None


def curve_of(playbook: Playbook, is_stopped: Callable[[], bool] = lambda: False) -> CurveView:
    """The mild-quick curve in words. Raises Infeasible, Stopped, BadInput."""
    made = curve(playbook, is_stopped)
    points = [
        _point(playbook, corner, _trade(corner, milder), corner.rate_low, corner.rate_high)
        for corner, milder in zip(made.points, [*made.points[1:], None], strict=True)
    ]
    return CurveView(
        points=tuple(points),
        draft=_point(playbook, made.draft, "The draft as it stands."),
        mildest=_point(playbook, made.mildest, "The best order with the mildest first.") if made.mildest else None,
        no_mildest=made.no_mildest,
        exact=made.exact,
    )


def _trade(corner: Corner, milder: Corner | None) -> str:
    if milder is None:
        return "No order does less harm."
    effort, harm = milder.effort - corner.effort, corner.harm - milder.harm
    return (
        f"Here one more effort minute a case buys {amount(harm / effort)} fewer harm points; the next milder order"
        f" takes {amount(effort)} minutes more for {amount(harm)} harm points less."
    )


def _point(
    playbook: Playbook, point: Point | Corner, says: str, low: float | None = None, high: float | None = None
) -> CurvePoint:
    figures = forecast(reordered(playbook, point.order))
    return CurvePoint(
        order=_steps(playbook, point.order),
        rungs=point.order,
        effort=point.effort,
        harm=point.harm,
        rate_low=low,
        rate_high=high,
        says=says,
        arriving=tuple(rung.arriving for rung in figures.rungs),
    )


def _steps(playbook: Playbook, rungs: Sequence[int]) -> tuple[str, ...]:
    return tuple(playbook.ladder[rung].step for rung in rungs)


def what_if_of(playbook: Playbook, changes: Changes, is_stopped: Callable[[], bool] = lambda: False) -> WhatIfView:
    """The ladder under another judgement. Raises BadInput for what is not there, Infeasible, Stopped."""
    judged = changed(playbook, changes)
    best = order_of(judged, is_stopped=is_stopped)
    return WhatIfView(now=forecast(playbook), then=forecast(judged), best=best)
