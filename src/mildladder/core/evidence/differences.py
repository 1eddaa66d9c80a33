"""Where a step works otherwise than elsewhere, and since when it has stopped working (evidence, section 7).

Benjamini & Hochberg 1995 (looking often); Antoch & Hušková 2001 (scan for a change).
"""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import Literal

import numpy as np
from scipy.special import ndtr

from mildladder.core.evidence.expected import Cell, Expected
from mildladder.core.model import Shape
from mildladder.core.model.base import Id

__all__ = ["Drift", "RisenVersion", "Split", "by_hochberg", "drifts", "splits"]

_LEAST_TRIES, _LEAST_VARIANCE = 30, 1.0
_MARKED, _SURE = 0.05, 0.01
_MONTHS, _LEAST_BEFORE, _LEAST_AFTER, _ALARM = 24, 15, 8, 3.7


class Split(Shape):
    """How a step did on units with one value of a fact. expected: resolved tries, by all that was known before each.

    z, p: how far apart it is from the rest, and how likely luck alone makes that; level: marked where it is at most one
    in twenty of what is marked that luck made, sure where one in a hundred; None: luck explains it.
    """

    step: Id
    fact: str
    value: str
    tries: int
    resolved: int
    expected: float
    z: float
    p: float
    level: Literal["marked", "sure"] | None


class RisenVersion(Shape):
    """A version that became common about the month in which a step stopped working: its share of the cases before and
    after; split: how the step does on it, None where too few tries say."""

    fact: Id
    value: str
    before: float
    after: float
    split: Split | None


class Drift(Shape):
    """A step that has worked worse since a month. before, after: tries, resolved and expected of each stretch;
    versions: that became common then."""

    step: Id
    since: str
    z: float
    tries_before: int
    resolved_before: int
    expected_before: float
    tries_after: int
    resolved_after: int
    expected_after: float
    versions: tuple[RisenVersion, ...] = ()


def splits(found: Expected) -> tuple[Split, ...]:
    """Every cell with enough tries to say anything, the steps in order, each fact's values in order.

    A value is held against the other values of its fact, never against tries of which nobody knows it: a fact that is
    asked late is known of those cases alone that went on for so long, and any step would seem to fail on them.
    """
    cells = [
        (key, cell, cell.score(found.by_fact[key[:2]]))
        for key, cell in sorted(found.by_value.items())
        if cell.tries >= _LEAST_TRIES
        and cell.variance >= _LEAST_VARIANCE
        and _is_told_apart(cell, found.by_fact[key[:2]])
    ]
    chances = [float(2 * ndtr(-abs(z))) for _, _, z in cells]
    marked, sure = by_hochberg(chances, _MARKED), by_hochberg(chances, _SURE)
    return tuple(
        Split(
            step=step,
            fact=fact,
            value=value,
            tries=round(cell.tries),
            resolved=round(cell.resolved),
            expected=cell.expected,
            z=z,
            p=chance,
            level="sure" if is_sure else "marked" if is_marked else None,
        )
        for ((step, fact, value), cell, z), chance, is_marked, is_sure in zip(cells, chances, marked, sure, strict=True)
    )


def _is_told_apart(cell: Cell, whole: Cell) -> bool:
    """Whether there is a rest to compare with."""
    return whole.tries > cell.tries and whole.variance > cell.variance


def by_hochberg(chances: Sequence[float], share: float) -> list[bool]:
    """Which of many tests stand when at most so great a share of those that stand may be luck (Benjamini & Hochberg
    1995)."""
    order = np.argsort(chances, kind="stable")
    limit = -1
    for rank, place in enumerate(order, start=1):
        if chances[place] <= share * rank / len(chances):
            limit = rank
    standing = {int(place) for place in order[: max(limit, 0)]}
    return [place in standing for place in range(len(chances))]


def drifts(found: Expected) -> tuple[Drift, ...]:
    """The steps that have stopped working as they did, each once."""
    by_step: dict[str, dict[str, Cell]] = defaultdict(dict)
    for (step, month), cell in found.by_month.items():
        if month:
            by_step[step][month] = cell
    return tuple(made for step, months in sorted(by_step.items()) if (made := _drift(step, months)))


def _drift(step: str, by_month: Mapping[str, Cell]) -> Drift | None:
    months = sorted(by_month)[-_MONTHS:]
    whole = _sum([by_month[month] for month in months])
    best: tuple[float, int] | None = None
    for place in range(1, len(months)):
        before = _sum([by_month[month] for month in months[:place]])
        if before.tries < _LEAST_BEFORE or whole.tries - before.tries < _LEAST_AFTER:
            continue
        z = before.score(whole)
        if best is None or z > best[0]:
            best = (z, place)
    if best is None or best[0] < _ALARM:
        return None
    z, place = best
    before = _sum([by_month[month] for month in months[:place]])
    after = _sum([by_month[month] for month in months[place:]])
    return Drift(
        step=step,
        since=months[place],
        z=z,
        tries_before=round(before.tries),
        resolved_before=round(before.resolved),
        expected_before=before.expected,
        tries_after=round(after.tries),
        resolved_after=round(after.resolved),
        expected_after=after.expected,
    )


def _sum(cells: Sequence[Cell]) -> Cell:
    return Cell(
        sum(one.tries for one in cells),
        sum(one.resolved for one in cells),
        sum(one.expected for one in cells),
        sum(one.variance for one in cells),
    )
