"""What lies ahead of a guided case: the ladder as a list of things to come to, into which rails are put as they open.

Rungs keep their path (``ladder.3.on.blocked.0``) wherever they stand, so that screen, log and forecast mean the same.
"""

from dataclasses import dataclass

from mildladder.core.model import Again, HandOffRef, Playbook, PlaybookRef, RailEntry, Rung

__all__ = [
    "AgainTask",
    "BackTask",
    "EndTask",
    "RailTask",
    "RowOfLadder",
    "RungTask",
    "Task",
    "TestTask",
    "rows_of",
    "tasks",
]

_OUTCOMES = {
    "could-not": "Could not be done",
    "not-available": "Not there on the unit",
    "nothing-to-do": "Nothing to do",
    "worse": "Worse",
}


@dataclass(frozen=True)
class RungTask:
    """A rung to come to. `in_trial`: it is tested together with its neighbours, by the TestTask after them."""

    path: str
    rung: Rung
    in_trial: bool = False


@dataclass(frozen=True)
class AgainTask:
    """The rung of that path is offered once more."""

    path: str
    rung: Rung


@dataclass(frozen=True)
class TestTask:
    """The end of a trial of several rungs; `last` is the one whose rails may follow."""

    path: str
    last: Rung


@dataclass(frozen=True)
class EndTask:
    """The end of a rail: handed on to a team, or sent on to another playbook."""

    path: str
    hand_off: str | None = None
    playbook: str | None = None


@dataclass(frozen=True)
class BackTask:
    """A rail is at its end: back to the footing that was held when it began."""

    footing: str | None


@dataclass(frozen=True)
class RailTask:
    """The last rung of a trial has a finding already; its rail is climbed once the trial has been tested."""

    path: str
    rung: Rung


Task = RungTask | AgainTask | TestTask | EndTask | BackTask | RailTask


def tasks(entries: tuple[RailEntry, ...], path: str, host: RungTask | AgainTask | None = None) -> tuple[Task, ...]:
    """The tasks of a line or rail, in order."""
    made: list[Task] = []
    for number, entry in enumerate(entries):
        place = f"{path}.{number}"
        match entry:
            case Rung():
                before = _trial_of(entries, number - 1)
                after = _trial_of(entries, number + 1)
                in_trial = entry.trial is not None and entry.trial in (before, after)
                made.append(RungTask(place, entry, in_trial))
                if in_trial and after != entry.trial:
                    made.append(TestTask(place, entry))
            case Again():
                assert host is not None
                made.append(AgainTask(host.path, host.rung))
            case HandOffRef(hand_off=team):
                made.append(EndTask(place, hand_off=team))
            case PlaybookRef(playbook=other):
                made.append(EndTask(place, playbook=other))
    return tuple(made)


def _trial_of(entries: tuple[RailEntry, ...], number: int) -> str | None:
    entry = entries[number] if 0 <= number < len(entries) else None
    return entry.trial if isinstance(entry, Rung) else None


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
            via = titles.get(key, _OUTCOMES.get(key, key)) if number == 0 else None
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
