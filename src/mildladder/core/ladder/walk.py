"""The ladder from top to bottom: every rung, and every row as it is drawn.

Rungs keep their path (``ladder.3.on.blocked.0``) wherever they stand, so that screen, log and forecast mean the same.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from mildladder.core.model import Playbook, RailEntry, Rung
from mildladder.core.model.outcomes import OPENS_RAIL

__all__ = ["RowOfLadder", "rows_of", "rungs_of"]


def rungs_of(entries: tuple[RailEntry, ...]) -> Iterator[Rung]:
    """Every rung of a line and of the rails that hang on it, from top to bottom."""
    for entry in entries:
        if isinstance(entry, Rung):
            yield entry
            for rail in entry.on.values():
                yield from rungs_of(rail)


@dataclass(frozen=True)
class RowOfLadder:
    """One row of a ladder as it is drawn: a rung, or the end of a rail.

    label: 1 to n on the main line, 4a, 4b on the rails of rung 4. depth: how many rails deep. via: what opens the
    rail, on its first row.
    """

    path: str
    label: str
    depth: int
    via: str | None
    entry: RailEntry


def rows_of(playbook: Playbook) -> list[RowOfLadder]:
    """Every row from top to bottom, rails below the rung that they hang on."""
    rows: list[RowOfLadder] = []
    for number, rung in enumerate(playbook.ladder):
        rows.append(RowOfLadder(f"ladder.{number}", str(number + 1), 0, None, rung))
        side = _rail_rows(playbook, rung, f"ladder.{number}", 1)
        rows += [
            RowOfLadder(path, f"{number + 1}{_letters(place)}", depth, via, entry)
            for place, (path, depth, via, entry) in enumerate(side)
        ]
    return rows


def _rail_rows(playbook: Playbook, host: Rung, path: str, depth: int) -> list[tuple[str, int, str | None, RailEntry]]:
    rows: list[tuple[str, int, str | None, RailEntry]] = []
    titles = {finding.id: finding.title for finding in playbook.step(host.step).findings}
    for key, rail in host.on.items():
        for number, entry in enumerate(rail):
            place = f"{path}.on.{key}.{number}"
            via = {**OPENS_RAIL, **titles}.get(key, key) if number == 0 else None
            rows.append((place, depth, via, entry))
            if isinstance(entry, Rung):
                rows += _rail_rows(playbook, entry, place, depth + 1)
    return rows


def _letters(number: int) -> str:
    """a to z, then aa, ab and so on."""
    text = ""
    number += 1
    while number:
        number, rest = divmod(number - 1, 26)
        text = chr(ord("a") + rest) + text
    return text
