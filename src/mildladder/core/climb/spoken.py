"""What is read to the caller before a step: how long it takes, and what it may do, how badly and how often."""

from collections.abc import Mapping

from mildladder.core.figures.judgement import ROUGH, minutes_of_doing, risk_grade
from mildladder.core.model import Hazard, Step
from mildladder.core.model.outcomes import HARMS

__all__ = ["spoken_cost"]

_WORTH_SAYING = 3.0
_MOST_HARMS = 2
# Chances as people hear them, each with the greatest that it is said of, at most a tenth above what the words say.
_HOW_OFTEN = (
    (0.0011, "in very few cases"),
    (0.011, "in about one case of a hundred"),
    (0.055, "in about one case of twenty"),
    (0.11, "in about one case of ten"),
    (0.22, "in about one case of five"),
    (0.37, "in about one case of three"),
    (0.55, "in about half of these cases"),
    (0.7, "in about two cases of three"),
    (0.8, "in about three cases of four"),
    (1.0, "in nearly every case"),
)
_LOST = {"yes": "and can be put back", "partly": "and only part of it can be put back", "no": "for good"}


def spoken_cost(step: Step, done: Mapping[str, str] | None = None) -> str | None:
    """What is read to the caller before the step: its own words, or a sentence made from its figures, the rounds of
    its search included; of a rough step always what it may do. done: titles of the safeguards that were carried out.

    None for a step that is over in a moment and can do no harm.
    """
    harms = [_harm(hazard, step, done or {}) for hazard in _worst(step)]
    if step.say:
        told = _sentence(harms) if harms and risk_grade(step) >= ROUGH else ""
        # Own words may end in a question to the caller, which comes last.
        return f"{told} {step.say}" if told else step.say
    minutes = minutes_of_doing(step)
    if minutes < _WORTH_SAYING and not step.hazards:
        return None
    takes = f"This takes about {minutes:.0f} minutes" if minutes >= 1.5 else "This takes a minute"
    return _sentence([takes, *harms])


def _worst(step: Step) -> list[Hazard]:
    """The worst hazards, one of each kind."""
    found: dict[str, Hazard] = {}
    for hazard in sorted(step.hazards, key=lambda one: (-one.severity, -one.chance)):
        if hazard.chance > 0:
            found.setdefault(hazard.kind, hazard)
    return list(found.values())[:_MOST_HARMS]


def _harm(hazard: Hazard, step: Step, done: Mapping[str, str]) -> str:
    """Such as: in about half of these cases everything stored is lost for good. What a safeguard that was carried out
    makes of it is told with what it would have been."""
    bad = HARMS[hazard.kind].how_bad[hazard.severity - 1]
    lost = f" {_LOST[hazard.undo or (step.undo.possible if step.undo else 'no')]}" if hazard.kind == "data" else ""
    safeguard = done.get(hazard.eased_by or "")
    if not safeguard:
        return f"{_how_often(hazard.chance)} {bad}{lost}"
    eased = _how_often(hazard.chance * hazard.eased_to)
    return f"{eased} {bad}{lost} ({_how_often(hazard.chance)}, had “{safeguard}” not been done)"


def _how_often(chance: float) -> str:
    return next(says for most, says in _HOW_OFTEN if chance <= most)


def _sentence(parts: list[str]) -> str:
    text = "; ".join(parts)
    return f"{text[0].upper()}{text[1:]}."
