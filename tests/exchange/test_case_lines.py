"""The case log as JSON Lines, both ways, and its malformed lines."""

import json

import pytest

from mildladder.exchange.case_lines import read_each, write_cases
from tests.samples import case

GOOD = json.loads(next(iter(write_cases([case(1, ("clear-hold", "fixed"))]))))


def line(**changes) -> bytes:
    return json.dumps({key: value for key, value in {**GOOD, **changes}.items() if value != "LEFT OUT"}).encode()


def test_writing_and_reading_give_the_same_cases():
    cases = [case(1, ("clear-hold", "fixed")), case(2, said="“Quoted”, and\nlines", facts={"model": "GR4"})]
    assert [one.case for one in read_each(write_cases(cases))] == cases


def test_what_a_case_does_not_say_is_left_out_however_it_was_left_unsaid():
    said = case(1, ("clear-hold", "fixed"))
    nulls = dict.fromkeys(name for name, field in type(said).model_fields.items() if field.default is None)
    attempts = [{**dict.fromkeys(("finding", "trial", "at")), "step": "clear-hold", "outcome": "fixed"}]
    (read,) = read_each([line(**{**nulls, "resolved_by": GOOD["resolved_by"]}, attempts=attempts)])
    (written,) = write_cases([read.case])
    assert b"null" not in written
    assert [one.case for one in read_each([written])] == [read.case]


def test_blank_lines_are_passed():
    assert [(one.line, one.case.case) for one in read_each([b"\n", line(), b"  \n"])] == [(2, "C-1")]


@pytest.mark.parametrize(
    ("raw", "path", "says"),
    [
        (b"{", "", "the JSON breaks off before its end"),
        (b'{"case": "C-1", }', "", "no JSON at character"),
        (line(case="LEFT OUT"), "case", "missing"),
        (line(case="../x"), "case", "pattern"),
        (line(colour="red"), "colour", "no such key"),
        (line(opened="2026-03-01T12:00:00"), "opened", "timezone"),
        (line(opened="01.03.2026"), "opened", "is no moment; write it as"),
        (line(opened="2027-01-01T00:00:00Z"), "", "closed stands before opened"),
        (line(end="won"), "end", "resolved"),
        (line(end="handed-off"), "", "resolved_by is given"),
        (line(resolved_by="other"), "", "no attempt of resolved_by"),
        (line(playbook="gate-arm-up"), "", "go together"),
        (line(attempts=[{"step": "a"}]), "attempts.0", "an outcome or a finding"),
        (line(attempts=[{"step": "a", "outcome": "fixed", "minutes": "3"}]), "attempts.0.minutes", "number"),
        (line(came_back="2020-01-01T00:00:00Z"), "", "came_back stands before"),
        (line(notes="x" * 1_000_001), "", "over 1,000,000 bytes"),
    ],
)
def test_a_bad_line_is_told_with_its_number_and_place(raw, path, says):
    good, bad = read_each([line(), raw])
    assert good.case.case == "C-1"
    assert (bad.line, bad.path) == (2, path)
    assert says in bad.says


def test_reading_each_line_goes_on_after_a_bad_one_and_keeps_how_it_begins():
    lines = [line(), b'{"case": "caf\xe9"}\n', b"\n", line(case="C-2"), line(notes="x" * 1_000_001)]
    first, bad, second, long = read_each(lines)
    assert (first.case.case, second.case.case) == ("C-1", "C-2")
    assert (bad.line, bad.text) == (2, '{"case": "caf\ufffd"}')
    assert (long.line, len(long.text)) == (5, 2000)
