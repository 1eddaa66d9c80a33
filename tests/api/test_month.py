"""A month on a page, and the calendar of what is due, over HTTP."""

from datetime import timedelta
from uuid import uuid4

from icalendar import Calendar

from mildladder.desk.documents import document
from mildladder.desk.publishing.files import import_playbook
from tests.api.test_evidence import ID, at_noon, bring
from tests.conftest import LEAD_ID
from tests.samples import NOON, case

THIS = f"{NOON:%Y-%m}"
FIRST = NOON.replace(day=1, hour=0, minute=0)


def month(client, wanted=None):
    return client.get("/api/month", query_string={"month": wanted} if wanted else {}).json


def closed(number, at, *attempts, minutes=30):
    return case(number, *attempts, closed=at, opened=at - timedelta(minutes=minutes))


def test_a_month_has_its_cases_their_time_and_what_was_published_beside_the_month_before(desk):
    bring(
        desk,
        closed(1, FIRST + timedelta(hours=1), ("clear-hold", "fixed"), minutes=50),
        closed(2, FIRST + timedelta(days=2), ("clear-hold", "no-change"), minutes=10),
        closed(3, FIRST - timedelta(hours=1), ("clear-hold", "fixed"), minutes=40),
        closed(4, FIRST - timedelta(days=40), ("clear-hold", "fixed"), minutes=500),
    )
    with desk.writing() as session:
        other = document(session, ID, 1).model_copy(update={"title": "Gate arm is up"})
        import_playbook(session, other, LEAD_ID, NOON - timedelta(days=60), "file", "Long ago")
    client = at_noon(desk)
    # The one that has begun is asked for by name: a page opens with the last whole one.
    assert month(client)["month"] == "2026-02"
    found = month(client, THIS)
    assert found["month"] == THIS
    (row,) = found["symptoms"]
    assert (row["title"], row["cases"], row["minutes"]) == ("Gate arm is up", 2, 60)
    assert row["resolved"]["mean"] == 0.5
    assert (row["cases_before"], row["minutes_before"]) == (1, 40)
    (edition,) = found["editions"]
    assert (edition["edition"], edition["note"], edition["who"]) == (1, "First edition", "R. Tamsin")
    earlier = month(client, found["before"])
    assert (earlier["symptoms"][0]["cases"], earlier["symptoms"][0]["cases_before"]) == (1, 1)


def test_the_year_turns_and_what_is_no_month_is_refused(client):
    assert month(client, "2026-01")["before"] == "2025-12"
    assert month(client, "2026-12")["symptoms"] == []
    for wrong in ("2026-13", "2026", "1969-12", "26-01", "2026-1"):
        assert client.get(f"/api/month?month={wrong}").status_code == 422


def test_what_waits_until_a_set_time_is_in_one_calendar_to_follow(desk):
    client = at_noon(desk)
    assert not Calendar.from_ical(client.get("/api/due.ics").data).walk("VEVENT")
    for minutes in (60, 120):
        climb = str(uuid4())
        view = client.post("/api/climbs", json={"id": climb, "playbook": ID, "started": {"kind": "started"}}).json
        move = {"kind": "pause", "reason": "answer", "minutes": minutes}
        sent = {"key": str(uuid4()), "after": view["number"], "move": move}
        assert client.post(f"/api/climbs/{climb}/moves", json=sent).status_code == 200
    answer = client.get("/api/due.ics")
    assert answer.mimetype == "text/calendar"
    due = [event.decoded("DTSTART") - NOON for event in Calendar.from_ical(answer.data).walk("VEVENT")]
    assert sorted(due) == [timedelta(hours=1), timedelta(hours=2)]
