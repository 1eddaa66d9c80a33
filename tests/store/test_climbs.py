"""Guided cases in the store: events in order, keys that make sending twice harmless, ids that nobody has."""

import pytest
from sqlalchemy.exc import IntegrityError

from mildladder.core.errors import Conflict, NotFound, Stale
from mildladder.core.model import events as c
from mildladder.desk.guiding import climbs as guiding
from mildladder.desk.log.intake import import_cases
from mildladder.store import climbs
from mildladder.store.database import Database
from tests.conftest import LEAD_ID, SHELL
from tests.samples import NOON, case

CLIMB = "climb-0001"
FAILS = c.BaselineSeen(result="fails")


def begin(desk: Database, climb: str = CLIMB) -> guiding.ClimbView:
    with desk.writing() as session:
        guiding.start(session, "gate-arm-up", c.Started(said="It is up"), climb, LEAD_ID, NOON)
        return guiding.look(session, climb, NOON)


def send(desk: Database, move: c.Move, after: int, key: str = "", climb: str = CLIMB) -> guiding.ClimbView:
    with desk.writing() as session:
        guiding.record(session, climb, move, key or f"key-{after:05}", after, LEAD_ID, NOON)
        return guiding.look(session, climb, NOON)


def test_events_come_back_in_order_for_another_process(desk):
    begin(desk)
    send(desk, FAILS, 1)
    send(desk, c.Noted(text="Lamp blinks"), 2)
    other = Database(desk.path)
    with other.reading() as session:
        assert [event.move.kind for event in climbs.events(session, CLIMB)] == ["started", "baseline", "note"]
        assert [one.case for one in guiding.open_cases(session)] == ["G-1001"]
    other.close()


def test_a_move_that_fails_leaves_no_event(desk):
    begin(desk)
    with pytest.raises(Conflict):
        send(desk, c.Answered(step="clear-hold", outcome="fixed"), 1)
    with pytest.raises(Stale):
        send(desk, FAILS, 5)
    with desk.reading() as session:
        assert len(climbs.events(session, CLIMB)) == 1


def test_one_key_is_kept_once_even_past_the_use_case(desk):
    begin(desk)
    send(desk, FAILS, 1, key="the-same-key")
    event = c.ClimbEvent(at=NOON, who=LEAD_ID, move=c.Noted(text="Again"))
    with pytest.raises(IntegrityError), desk.writing() as session:
        climbs.add_event(session, climbs.climb_row(session, CLIMB), 3, "the-same-key", event)
    with desk.reading() as session:
        assert len(climbs.events(session, CLIMB)) == 2


def test_a_new_case_takes_an_id_that_the_log_does_not_have(desk):
    with desk.writing() as session:
        import_cases(session, [case(1).model_copy(update={"case": "G-1001"})], "import", SHELL, NOON)
    assert begin(desk).case == "G-1002"


def test_an_ended_case_is_logged_in_the_same_breath_and_no_longer_open(desk):
    begin(desk)
    ended = send(desk, c.Ended(end="abandoned"), 1)
    with desk.reading() as session:
        assert guiding.open_cases(session) == []
        assert climbs.climb_of_case(session, ended.case) == CLIMB
    with pytest.raises(Conflict, match="closed"):
        send(desk, c.Noted(text="Late"), 2)


def test_a_guided_case_that_is_not_there_is_not_found(desk):
    with pytest.raises(NotFound), desk.reading() as session:
        guiding.look(session, "climb-9999", NOON)
