"""What lies ahead of a guided case: the ladder as a list of things to come to, with rails put in as they open."""

from dataclasses import dataclass

from mildladder.core.model import Again, HandOffRef, PlaybookRef, RailEntry, Rung

__all__ = ["AgainTask", "BackTask", "EndTask", "RailTask", "RestoredTask", "RungTask", "Task", "TrialTask", "tasks"]


@dataclass(frozen=True)
class RungTask:
    """A rung to come to. `in_trial`: it is tested together with its neighbours, by the TrialTask after them."""

    path: str
    rung: Rung
    in_trial: bool = False


@dataclass(frozen=True)
class AgainTask:
    """The rung of that path is offered once more."""

    path: str
    rung: Rung


@dataclass(frozen=True)
class TrialTask:
    """The end of a trial of several rungs; `last` is the one whose rails may follow. searching: the rung whose search
    goes on where this try does not help."""

    path: str
    last: Rung
    searching: RungTask | AgainTask | None = None


@dataclass(frozen=True)
class EndTask:
    """The end of a rail: handed off to a team, or sent on to another playbook, there to the rung with that step."""

    path: str
    hand_off: str | None = None
    playbook: str | None = None
    entered_at: str | None = None


@dataclass(frozen=True)
class BackTask:
    """A rail is at its end: back to the footing that was held when it began."""

    footing: str | None


@dataclass(frozen=True)
class RailTask:
    """The last rung of a trial has a finding already; its rail is climbed once the trial has been tested."""

    path: str
    rung: Rung


@dataclass(frozen=True)
class RestoredTask:
    """The lasting repair is at its end, and the workaround of that path and step is what the case ends with."""

    path: str
    step: str


Task = RungTask | AgainTask | TrialTask | EndTask | BackTask | RailTask | RestoredTask


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
                    made.append(TrialTask(place, entry))
            case Again():
                assert host is not None
                made.append(AgainTask(host.path, host.rung))
            case HandOffRef(hand_off=team):
                made.append(EndTask(place, hand_off=team))
            case PlaybookRef(playbook=other, from_=step):
                made.append(EndTask(place, playbook=other, entered_at=step))
    return tuple(made)


def _trial_of(entries: tuple[RailEntry, ...], number: int) -> str | None:
    entry = entries[number] if 0 <= number < len(entries) else None
    return entry.trial if isinstance(entry, Rung) else None
