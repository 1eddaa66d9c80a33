"""What is kept: worked out once for what does not change, never from what may be rolled back, and not without end."""

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier

import pytest
from sqlalchemy import text

from mildladder.store.kept import Kept, kept


def test_what_does_not_change_is_worked_out_once(database):
    made = []
    for _ in range(3):
        with database.reading() as session:
            assert kept(session, ("thing", 1), lambda: made.append(1) or "made") == "made"
    assert made == [1]


def test_nothing_is_kept_of_what_may_be_rolled_back(database):
    with database.writing() as session:
        session.execute(text("INSERT INTO settings (name, value) VALUES ('a', 'b')"))
        assert kept(session, ("thing", 1), lambda: "of the writer") == "of the writer"
    with database.reading() as session:
        assert kept(session, ("thing", 1), lambda: "of the reader") == "of the reader"
    with database.writing() as session:
        assert kept(session, ("thing", 1), lambda: "anew") == "of the reader"


def test_of_each_kind_the_longest_unused_goes_first():
    there = Kept()
    there.keep(("other", 0), "stays")
    for number in range(200):
        there.keep(("thing", number), number)
        assert there.find(("thing", 0)) == 0
    held = [number for number in range(200) if there.find(("thing", number)) is not None]
    assert held == [0, *range(73, 200)]
    assert there.find(("other", 0)) == "stays"


def test_many_who_ask_at_once_wait_for_one_who_works_it_out(database):
    begun, made = Barrier(4), []

    def slowly():
        made.append(1)
        return "made"

    def ask(_number):
        with database.reading() as session:
            begun.wait()
            # Others work something else out meanwhile, which this needs.
            return kept(session, ("thing", 1), lambda: kept(session, ("part", 1), slowly))

    with ThreadPoolExecutor(4) as pool:
        assert list(pool.map(ask, range(4))) == ["made"] * 4
    assert made == [1]


def test_one_who_could_not_work_it_out_leaves_it_to_the_next(database):
    with database.reading() as session:
        with pytest.raises(ZeroDivisionError):
            kept(session, ("thing", 1), lambda: 1 // 0)
        assert kept(session, ("thing", 1), lambda: 1) == 1
