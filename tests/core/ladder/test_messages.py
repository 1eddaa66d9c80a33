"""Parts of messages, found in what callers say: tight, whole words, in time that grows with what was said alone."""

import hypothesis.strategies as st
import pytest
from hypothesis import given

from mildladder.core.ladder.messages import caught

ARM, CODE, PAIR, SPAN = "ARM {arm} NOT HOME", "CODE {code}", "{unit} {code} ERROR", "LANE {lane} HELD BY {who} SINCE"
PAD = "PAD {state}"
# What a caller says, the message, what is caught from it; None: the message was not said.
SAID = (
    ("The arm is up and won't come down, lane 3, message ARM 3 NOT HOME", ARM, {"arm": "3"}),
    ("ARM 3 NOT HOME", ARM, {"arm": "3"}),
    ("arm 3 not home it says", ARM, {"arm": "3"}),
    ("arm left 2 not home", ARM, {"arm": "left 2"}),
    ("it is the arm, ARM 4 NOT HOME again", ARM, {"arm": "4"}),
    ("my arm hurts but the screen has ARM 12 NOT HOME", ARM, {"arm": "12"}),
    ("ARM 1 NOT HOME and then ARM 22 NOT HOME", ARM, {"arm": "1"}),
    ("arm 7 not home, or was it ARM 71 NOT HOME", ARM, {"arm": "71"}),
    ("ARM  3\nNOT   HOME", ARM, {"arm": "3"}),
    ("“ARM 3 NOT HOME”", ARM, {"arm": "3"}),
    ("ALARM 3 NOT HOME", ARM, None),
    ("ARM 3 NOT HOMED", ARM, None),
    ("ARM NOT HOME", ARM, None),
    ("the arm is not at home", ARM, None),
    ("ARM " + 40 * "x" + " NOT HOME", ARM, {"arm": 40 * "x"}),
    ("ARM " + 41 * "x" + " NOT HOME", ARM, None),
    ("ARM up " + 60 * "y" + " ARM 9 NOT HOME", ARM, {"arm": "9"}),
    ("", ARM, None),
    ("there is a code E-7 below", CODE, None),
    ("it shows CODE E-7 below", CODE, {"code": "E-7"}),
    ("it says code E-7", CODE, None),
    ("it says: code E-7", CODE, {"code": "E-7"}),
    ("it is up\ncode E-7\nsince noon", CODE, {"code": "E-7"}),
    ("Code E-7.", CODE, {"code": "E-7"}),
    ("code E-7, and a lamp", CODE, {"code": "E-7"}),
    ("CODE: E-7", CODE, None),
    ("code", CODE, None),
    ("barcode E-7", CODE, None),
    ("code code 14", CODE, None),
    ("NO PAD FOUND", PAD, None),
    ("no pad found", PAD, None),
    ("the screen says NO PAD FOUND again", PAD, None),
    ("PAD FOUND", PAD, {"state": "FOUND"}),
    ("the screen says PAD FOUND again", PAD, {"state": "FOUND"}),
    ("PAD NOT FOUND", PAD, {"state": "NOT FOUND"}),
    ("it says PAD NOT FOUND", PAD, {"state": "NOT FOUND"}),
    ("pad gone since this morning", PAD, None),
    ("NO PAD FOUND, then PAD GONE", PAD, {"state": "GONE"}),
    ("WALL: PAD GONE. OK", PAD, {"state": "GONE"}),
    ("CODE 14 though first it was code 13", CODE, {"code": "14"}),
    ("it shows GR4 E42 ERROR now", PAIR, {"unit": "GR4", "code": "E42"}),
    ("GR4 E42 error", PAIR, {"unit": "GR4", "code": "E42"}),
    ("E42 ERROR", PAIR, None),
    ("no error", PAIR, None),
    ("GR4 E42 ERRORS", PAIR, None),
    ("it says LANE 3 HELD BY crew two SINCE noon", SPAN, {"lane": "3", "who": "crew two"}),
    ("lane 3 held by crew since noon, lane 4 held by nobody", SPAN, {"lane": "3", "who": "crew"}),
    ("lane 3 is held, LANE 4 HELD BY the crew SINCE", SPAN, {"lane": "4", "who": "the crew"}),
    ("HELD BY crew SINCE", SPAN, None),
    ("the printer hums", "PAPER OUT", None),
    ("it reads paper out", "PAPER OUT", {}),
    ("wallpaper out there", "PAPER OUT", None),
    ("İstanbul lane: ARM 3 NOT HOME", ARM, {"arm": "3"}),
    ("\x1b[31m ARM 3\x00 NOT HOME", ARM, {"arm": "3"}),
)


@pytest.mark.parametrize(("said", "message", "parts"), SAID)
def test_what_is_caught_from_what_callers_say(said, message, parts):
    assert caught(message, said) == parts


words = st.text(alphabet="ab 3", max_size=60)


@given(before=words, part=st.text(alphabet="xyz-7", min_size=1, max_size=40), after=words)
def test_a_part_between_its_fixed_words_is_found_whatever_stands_around(before, part, after):
    assert caught("KEY {value} LOCK", f"{before} KEY {part} LOCK {after}") == {"value": part}


@given(said=st.text(max_size=200), message=st.text(alphabet="aB {n}", max_size=30))
def test_anything_may_be_said_about_anything(said, message):
    parts = caught(message, said)
    assert parts is None or all(0 < len(value) <= 40 and value.isprintable() for value in parts.values())


@pytest.mark.parametrize("message", ["{unit} {code} ERROR", "{a} {b} {c} {d} ERROR", "a {x} a {y} a {z} ERROR"])
def test_long_speech_against_messages_with_many_parts_comes_to_an_end(message):
    """An expression that tries every way would outlast the universe here."""
    assert caught(message, "a a b ERRO " * 400) is None
    assert caught(message, "a a b " * 700 + "ERROR") is not None
