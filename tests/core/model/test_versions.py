"""Stored documents of older shapes: an example of each is kept here and read by today's models."""

import pytest

from mildladder.core.errors import Unavailable
from mildladder.core.figures.forecast import Forecast
from mildladder.core.model.events import RULES, ClimbEvent
from mildladder.core.model.versions import SHAPES, stamped, upgraded

# As the first version stored it, before side rails.
FORECAST_1 = {
    "effort": 9.5,
    "harm": 0.2,
    "elapsed": 8.0,
    "resolved": 0.7,
    "worked_around": 0.1,
    "handed_off": 0.2,
    "rungs": [
        {
            "step": "clear-hold",
            "arriving": 1.0,
            "reach": 1.0,
            "resolved": 0.4,
            "worked_around": 0.0,
            "effort": 3.0,
            "harm": 0.0,
        },
        {
            "step": "wave-through",
            "arriving": 0.6,
            "reach": 0.6,
            "resolved": 0.3,
            "worked_around": 0.1,
            "effort": 6.5,
            "harm": 0.2,
        },
    ],
    "by_cause": {"bad-setting": 5.0, "something-else": 20.0},
}
# As it was stored before people had numbers.
EVENT_1 = {"at": "2026-03-01T12:00:00Z", "who": "I. Vell", "move": {"kind": "note", "text": "The lane is closed"}}


def test_a_forecast_from_before_side_rails_is_read():
    figures = Forecast.model_validate(upgraded("forecast", FORECAST_1))
    assert [rung.path for rung in figures.rungs] == ["ladder.0", "ladder.1"]
    assert (figures.side, figures.sent_on, figures.rungs[1].handed_off) == ((), 0.0, 0.0)
    assert (figures.effort, figures.rungs[1].effort) == (9.5, 6.5)


def test_a_forecast_of_today_that_was_stored_without_a_number_is_left_as_it_is():
    today = Forecast.model_validate(upgraded("forecast", FORECAST_1)).model_dump(mode="json")
    today["rungs"][0]["path"] = "ladder.7"
    assert upgraded("forecast", today) == today


def test_an_event_that_names_its_person_is_read_with_the_number_beside_it():
    event = ClimbEvent.model_validate({**upgraded("event", EVENT_1), "who": 7})
    assert (event.who, event.move.text) == (7, "The lane is closed")


@pytest.mark.parametrize("kind", SHAPES)
def test_what_is_stored_today_comes_back_unchanged(kind):
    data = {"rungs": [], "side": [], "sent_on": 0.0} if kind == "forecast" else {"a": 1}
    assert upgraded(kind, stamped(kind, data)) == data


@pytest.mark.parametrize("kind", SHAPES)
def test_what_a_newer_version_stored_is_refused_in_plain_words(kind):
    with pytest.raises(Unavailable, match="newer version"):
        upgraded(kind, {"shape": SHAPES[kind] + 1})


EVENT_3 = {"shape": 3, "at": "2026-10-01T08:00:00Z", "move": {"kind": "started", "said": "It is up"}}


def test_a_case_goes_on_by_the_rules_by_which_it_began():
    event = ClimbEvent.model_validate({**upgraded("event", EVENT_3), "who": 7})
    assert (event.move.rules, event.move.said) == (1, "It is up")
    new = ClimbEvent.model_validate({"at": EVENT_3["at"], "who": 7, "move": EVENT_3["move"]})
    assert new.move.rules == RULES == 6
