"""When a guided case is to be taken up again, as an iCalendar file (RFC 5545) that any calendar takes in."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from icalendar import Alarm, Calendar, Event

__all__ = ["FollowUp", "write_follow_ups"]

_LENGTH = timedelta(minutes=15)


@dataclass(frozen=True)
class FollowUp:
    """One case to take up again. uid: the same for the same pause, so that a calendar keeps one entry; `url`: where the
    case is."""

    uid: str
    made: datetime
    at: datetime
    title: str
    says: str
    url: str


def write_follow_ups(follow_ups: Iterable[FollowUp]) -> bytes:
    """A calendar with an event for each, and an alarm when it begins."""
    calendar = Calendar()
    calendar.add("version", "2.0")
    calendar.add("prodid", "-//Mild Ladder//Follow-up//EN")
    for follow_up in follow_ups:
        calendar.add_component(_event(follow_up))
    file: bytes = calendar.to_ical()
    return file


def _event(follow_up: FollowUp) -> Event:
    event = Event()
    event.add("uid", follow_up.uid)
    event.add("dtstamp", follow_up.made)
    event.add("dtstart", follow_up.at)
    event.add("dtend", follow_up.at + _LENGTH)
    event.add("summary", follow_up.title)
    event.add("description", follow_up.says)
    event.add("url", follow_up.url)
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", follow_up.title)
    alarm.add("trigger", timedelta(0))
    event.add_component(alarm)
    return event
