"""How often harm was seen after a step, and how often the step was carried out at all."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from mildladder.core.model import Hazard

__all__ = ["DoneCount", "HarmCount"]


@dataclass(frozen=True)
class HarmCount:
    """How often harm was asked about after a step, and how often each kind was seen. guarded: by safeguard, the share
    of the step's tries before which it had been carried out."""

    asked: int
    seen: Mapping[str, int]
    guarded: Mapping[str, float] = field(default_factory=dict)

    def ease(self, hazard: Hazard) -> float:
        """What was left of a hazard on the whole, its safeguard having been carried out as often as it was."""
        if hazard.eased_by is None:
            return 1.0
        return 1 - self.guarded.get(hazard.eased_by, 0.0) * (1 - hazard.eased_to)


@dataclass(frozen=True)
class DoneCount:
    """How often a step was carried out, and could not be."""

    carried: int
    could_not: int
