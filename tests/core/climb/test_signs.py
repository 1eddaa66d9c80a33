"""Signs that can be seen: ticked at any time, put right, and heard by what is likely, the log and the hand-off."""

import pytest

from mildladder.core.climb.record import case_of, hand_off_text
from mildladder.core.errors import Conflict
from mildladder.core.figures.likely import likely_causes
from mildladder.core.model import Playbook
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, climbed
from tests.core.climb.test_inside import then
from tests.samples import gate

LAMP = "Lamp blinks twice"
SEEN, NOT_THERE, NOT_LOOKED = (c.SignTold(sign=LAMP, seen=seen) for seen in ("yes", "no", None))


def blinking() -> Playbook:
    signs = [
        {"kind": "seen", "text": LAMP, "points_to": {"bad-setting": 3}},
        {"kind": "message", "text": "ARM OUT", "points_to": {"sensor-dirty": 2}},
    ]
    return gate(symptom={"says": "It is up", "signs": signs})


def shares(*seen: str) -> dict[str, float]:
    return {cause.id: share for cause, share in likely_causes(blinking(), [], seen=seen)}


def test_a_sign_that_was_seen_makes_its_cause_as_many_times_likelier():
    before, after = shares(), shares(LAMP)
    odds = after["bad-setting"] / after["sensor-dirty"]
    assert odds == pytest.approx(3 * before["bad-setting"] / before["sensor-dirty"])


def test_a_sign_is_told_at_any_time_and_put_right():
    start = climbed(blinking(), SEEN)
    assert (start.place, start.seen) == ("baseline", (LAMP,))
    later = then(start, FAILS, NOT_THERE)
    assert (later.seen, later.signs) == ((), {LAMP: "no"})
    assert then(later, NOT_LOOKED).signs == {}
    assert then(later, SEEN).step.id == later.step.id


def test_taking_an_answer_back_leaves_what_was_seen():
    back = climbed(blinking(), SEEN, FAILS, c.TakenBack())
    assert (back.place, back.seen) == ("baseline", (LAMP,))


def test_only_signs_of_this_symptom_that_can_be_seen_are_told():
    for sign in ("ARM OUT", "Smoke"):
        with pytest.raises(Conflict, match="no sign of this symptom"):
            then(climbed(blinking(), FAILS), c.SignTold(sign=sign, seen="yes"))


def test_what_was_seen_is_logged_and_told_to_the_next_team():
    now = climbed(blinking(), FAILS, SEEN)
    assert f"Seen: {LAMP}" in hand_off_text(now)
    assert f"Looked for, not there: {LAMP}" in hand_off_text(then(now, NOT_THERE))
    assert case_of(then(now, c.Ended(end="handed-off")), "G-1", 1).signs == {LAMP: "yes"}
