"""Turn a lead's judgement of a step into effort minutes, harm points and a risk grade (method, section 1).

Kept apart from the forecast because files, screens and review ask for these of a single step too.
"""

import math
from collections.abc import Collection

from mildladder.core.model import Effort, Hazard, Step, Weights

__all__ = [
    "ROUGH",
    "SEVERITY_POINTS",
    "UNDO_FACTORS",
    "effort_minutes",
    "elapsed_minutes",
    "hands_on_minutes",
    "harm_points",
    "hazard_points",
    "minutes_of_doing",
    "risk_grade",
    "search_rounds",
    "undo_factor",
]

SEVERITY_POINTS = {1: 1.0, 2: 3.0, 3: 10.0, 4: 30.0, 5: 100.0}
UNDO_FACTORS = {"yes": 0.3, "partly": 0.6, "no": 1.0}
_TIE = 1e-9
# A chance of the worst that is never called mild.
_LIKELY = 0.02
# From this grade on the caller is asked first.
ROUGH = 3
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


def minutes_of_doing(step: Step) -> float:
    """Expected minutes on the clock until a step is carried out, with the rounds of its search where it finds one."""
    if step.search is None:
        return elapsed_minutes(step.effort)
    rounds = search_rounds(step.search.count, step.search.how, is_found=True, is_fix=step.is_tested)
    return elapsed_minutes(step.effort) + rounds * elapsed_minutes(step.search.round)


def undo_factor(step: Step) -> float:
    """What is left of a step's harm, seeing how far it can be undone, where a hazard says nothing else."""
    return UNDO_FACTORS[step.undo.possible if step.undo else "no"]


def hazard_points(hazard: Hazard, undo: float, is_eased: bool) -> float:
    """Harm points that one hazard adds each time its step is carried out, or its footing entered (undo 1)."""
    return _undo_of(hazard, undo) * SEVERITY_POINTS[hazard.severity] * _chance(hazard, is_eased)


def _undo_of(hazard: Hazard, undo: float) -> float:
    return UNDO_FACTORS[hazard.undo] if hazard.undo else undo


def _chance(hazard: Hazard, is_eased: bool) -> float:
    return hazard.chance * (hazard.eased_to if is_eased else 1.0)


def harm_points(step: Step, safeguards: Collection[str] = ()) -> float:
    """Harm points of carrying out a step after `safeguards` (step ids) were carried out; none of them: bare."""
    return sum(hazard_points(hazard, undo_factor(step), hazard.eased_by in safeguards) for hazard in step.hazards)


def search_rounds(count: int, how: str, is_found: bool, is_fix: bool = False) -> float:
    """Expected rounds of a search over `count` like suspects, one by one or by halves, when it finds one or none.

    is_fix: suspects are tried, not looked at, so that the last one cannot be deduced.
    """
    halvings = math.floor(math.log2(count))
    if how == "one-by-one":
        return (count + 1) / 2 - (0 if is_fix else 1 / count) if is_found else float(count)
    return halvings + 2 * (count - 2**halvings) / count if is_found else float(math.ceil(math.log2(count)) + 1)


def risk_grade(step: Step, safeguards: Collection[str] = ()) -> int:
    """Risk grade 0 none, 1 mild, 2 guarded, 3 rough, 4 severe, of carrying out a step after these safeguards.

    Harm points cut at 0.3, 1 and 5, then held between what the worst case asks for (ISO 31010: consequence and
    likelihood, not their product alone).
    """
    points = harm_points(step, safeguards)
    if points <= _TIE:
        return 0
    grade = next((grade for bound, grade in _GRADE_BOUNDS if points < bound - _TIE), 4)
    worst = max(hazard.severity for hazard in step.hazards)
    lasting = [h for h in step.hazards if _chance(h, h.eased_by in safeguards) >= _LIKELY - _TIE]
    least = 3 if any(hazard.severity >= 4 for hazard in lasting) else 0
    if any(hazard.severity == 5 and _undo_of(hazard, undo_factor(step)) > UNDO_FACTORS["yes"] for hazard in lasting):
        least = 4
    most = 1 if worst == 1 else 2 if worst == 2 else 4
    return max(least, min(grade, most))
