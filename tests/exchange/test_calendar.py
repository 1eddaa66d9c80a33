"""Follow-ups as iCalendar files, read back by an independent reader of the format."""

from datetime import timedelta

from icalendar import Calendar

from mildladder.exchange.calendar import FollowUp, write_follow_ups
from tests.samples import NOON

LONG = "Tried:\n- Wipe; then, look\\see — “so”\n" + "x" * 200


def test_a_follow_up_says_when_what_and_where():
    end = NOON + timedelta(hours=18)
    raw = write_follow_ups(
        [FollowUp("climb-1-4@mild-ladder", NOON, end, "G-1: It dies", LONG, "http://desk/climbs/climb-1")]
    )
    assert all(len(line) <= 75 for line in raw.split(b"\r\n"))
    (event,) = Calendar.from_ical(raw).walk("VEVENT")
    assert event["UID"] == "climb-1-4@mild-ladder"
    assert (event.decoded("DTSTAMP"), event.decoded("DTSTART")) == (NOON, end)
    assert str(event["SUMMARY"]) == "G-1: It dies"
    assert str(event["DESCRIPTION"]) == LONG
    assert str(event["URL"]) == "http://desk/climbs/climb-1"
    assert len(event.walk("VALARM")) == 1
