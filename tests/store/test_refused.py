"""Lines of case files that cannot be read: nothing is logged, or the others are and these are kept."""

import pytest

from mildladder.core.errors import BadInput, NotFound
from mildladder.core.model import RefusedLine
from mildladder.desk.log.intake import import_cases, left_out
from mildladder.desk.log.pages import case_view
from tests.conftest import SHELL
from tests.samples import NOON, case


def bad(line: int) -> RefusedLine:
    return RefusedLine(line=line, path="end", says="no such end", text='{"case"')


def bring(desk, *lines, source="office.jsonl", leave_out=True):
    with desk.writing() as session:
        return import_cases(session, lines, "import", SHELL, NOON, source, leave_out)


def waiting(desk) -> list[tuple[str, int]]:
    with desk.reading() as session:
        return [(line.source, line.line) for line in left_out(session).lines]


def test_without_leave_nothing_is_logged_and_the_first_bad_line_is_told_with_how_many_follow(desk):
    with pytest.raises(BadInput, match="nor can 2 more") as error:
        bring(desk, case(1), bad(2), case(3), bad(4), bad(5), leave_out=False)
    assert (error.value.line, error.value.path, error.value.source) == (2, "end", "office.jsonl")
    assert waiting(desk) == []
    with desk.reading() as session, pytest.raises(NotFound):
        case_view(session, "C-1")


def test_with_leave_the_others_are_logged_and_the_bad_ones_wait(desk):
    done = bring(desk, bad(1), case(2), bad(3))
    assert (done.read, done.new, done.refused) == (1, 1, 2)
    assert [reason.line for reason in done.reasons] == [1, 3]
    assert waiting(desk) == [("office.jsonl", 1), ("office.jsonl", 3)]


def test_the_mended_file_takes_the_place_of_what_was_refused_of_it_alone(desk):
    bring(desk, bad(1), case(2))
    bring(desk, bad(7), source="other.jsonl")
    done = bring(desk, case(1), case(2))
    assert (done.new, done.unchanged, done.refused) == (1, 1, 0)
    assert waiting(desk) == [("other.jsonl", 7)]


def test_of_very_many_bad_lines_all_are_counted_and_a_thousand_kept(desk):
    done = bring(desk, *(bad(line) for line in range(1, 1203)))
    assert (done.refused, len(done.reasons), len(waiting(desk))) == (1202, 1000, 1000)
