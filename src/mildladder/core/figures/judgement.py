"""Turn a lead's judgement of a step into effort minutes, harm points and a risk grade (method, section 1).

Kept apart from the forecast because files, screens and review ask for these of a single step too.
"""

import math
from collections.abc import Collection

from mildladder.core.model import Effort, Hazard, Step, Weights

__all__ = [
    "SEVERITY_POINTS",
    "UNDO_FACTORS",
    "effort_minutes",
    "elapsed_minutes",
    "hands_on_minutes",
    "harm_points",
    "hazard_points",
    "risk_grade",
    "search_rounds",
    "undo_factor",
]

SEVERITY_POINTS = {1: 1.0, 2: 3.0, 3: 10.0, 4: 30.0, 5: 100.0}
UNDO_FACTORS = {"yes": 0.3, "partly": 0.6, "no": 1.0}
_GRADE_BOUNDS = ((0.3, 1), (1.0, 2), (5.0, 3))


def hands_on_minutes(minutes: float, by: str, weights: Weights) -> float:
    """Effort minutes of `minutes` of hands-on work by `by`."""
    return minutes * float(getattr(weights, by))


def effort_minutes(effort: Effort, weights: Weights) -> float:
    """Effort minutes: hands-on, waiting, journey and parts under the desk's weights."""
    return (
        hands_on_minutes(effort.hands_on, effort.by, weights)
        + effort.wait * weights.wait
        + effort.travel * weights.travel
        + effort.parts * weights.parts
    )


def elapsed_minutes(effort: Effort) -> float:
    """Minutes on the clock: the same sum with every weight 1 and parts 0."""
    return effort.hands_on + effort.wait + effort.travel


def undo_factor(step: Step) -> float:
    """What is left of a step's harm, seeing how far it can be undone."""
    return UNDO_FACTORS[step.undo.possible if step.undo else "no"]


def hazard_points(hazard: Hazard, undo: float, is_eased: bool) -> float:
    """Harm points that one hazard adds each time its step is carried out, or its footing entered (undo 1)."""
    return undo * SEVERITY_POINTS[hazard.severity] * hazard.chance * (hazard.eased_to if is_eased else 1.0)


def harm_points(step: Step, safeguards: Collection[str] = ()) -> float:
    """Harm points of carrying out a step after `safeguards` (step ids) were carried out; none of them: bare."""
    return sum(hazard_points(hazard, undo_factor(step), hazard.eased_by in safeguards) for hazard in step.hazards)


def search_rounds(count: int, how: str, is_found: bool) -> float:
    """Expected rounds of a search over `count` like suspects, one by one or by halves, when it finds one or none."""
    halvings = math.floor(math.log2(count))
    if how == "one-by-one":
        return (count + 1) / 2 - 1 / count if is_found else float(count)
    return halvings + 2 * (count - 2**halvings) / count if is_found else float(math.ceil(math.log2(count)) + 1)


def risk_grade(points: float) -> int:
    """Risk grade 0 none, 1 mild, 2 guarded, 3 rough, 4 severe, from harm points (ISO 31010's product of
    consequence and likelihood, cut at 0.3, 1 and 5)."""
    if points == 0:
        return 0
    return next((grade for bound, grade in _GRADE_BOUNDS if points < bound), 4)
