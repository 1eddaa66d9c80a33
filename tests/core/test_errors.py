"""Every error can be kept and read again, and the API knows how to answer each."""

import json

import pytest

from mildladder.api.problems import status_of
from mildladder.core.errors import (
    BadInput,
    LadderError,
    NotFound,
    Outrun,
    Several,
    Stale,
    Unavailable,
    Unsound,
    as_data,
    every_error,
    of_data,
)

KINDS = [kind for kind in every_error() if kind is not LadderError]
EXAMPLES = {
    BadInput: BadInput("this is no number", path="steps.2.effort", line=7, source="gate.yaml"),
    Several: Several([BadInput("this is empty", path="title"), NotFound("there is no step 'x'")]),
    Stale: Stale("somebody has changed this", 12),
    Outrun: Outrun("the next change of this page is number 3", 3),
    Unsound: Unsound("two things are not sound", [("k1", ("effort", "wait"), "this is no number")]),
}


@pytest.mark.parametrize("kind", KINDS)
def test_every_error_has_a_status_and_goes_to_data_and_back(kind):
    status, title = status_of(kind)
    assert 400 <= status < 600
    assert title
    error = EXAMPLES.get(kind) or kind("a plain sentence")
    kept = json.loads(json.dumps(as_data(error)))
    back = of_data(kept)
    assert type(back) is kind
    assert str(back) == str(error)
    assert as_data(back) == as_data(error)


def test_no_two_errors_share_a_code():
    assert len({kind.code for kind in KINDS}) == len(KINDS)


def test_what_earlier_versions_kept_is_still_read():
    assert isinstance(of_data({"code": "gone-with-an-earlier-version", "says": "so it was"}), Unavailable)
    assert str(of_data({"code": "bad-input", "says": "two (and 1 more)"})) == "two (and 1 more)"


def test_several_tell_each_problem():
    assert str(EXAMPLES[Several]) == "title: this is empty; there is no step 'x'"
