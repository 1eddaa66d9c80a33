"""Counting anew beside people's work: in parts, gone on with, said where it matters, and in the end as a rebuild has
it."""

import random
from datetime import timedelta

import pytest
from sqlalchemy import select

from mildladder.clock import utc_now
from mildladder.core.errors import Conflict, NotFound, Stopped
from mildladder.core.model import Fact
from mildladder.desk.evidence.symptom import evidence
from mildladder.desk.home import symptoms
from mildladder.desk.jobs.task import Task, recording_outcome
from mildladder.desk.library import recounting
from mildladder.desk.library.facts import know_facts
from mildladder.desk.library.steps import merge_steps, undo_merge
from mildladder.desk.work.kinds import JOB_KINDS, cancel, question_of, run_waiting
from mildladder.store import jobs as store
from mildladder.store.log.rebuild import rebuild
from mildladder.store.log.writing import Logging, log_cases
from mildladder.store.tables import JobRow
from tests.conftest import LEAD_ID, _with_more_fixes
from tests.samples import NOON, case
from tests.store.test_log_machine import snapshot

ID = "gate-arm-up"
LOGGING = Logging("import", LEAD_ID, NOON, 14)
STEPS = ("clear-hold", "hold-off", "reload-program")


@pytest.fixture
def log(desk, monkeypatch):
    """A desk with 120 cases, whose counting anew takes a job and many parts."""
    _with_more_fixes(desk.path)
    monkeypatch.setattr(recounting, "_AT_ONCE", 5)
    monkeypatch.setattr(recounting, "_FIRST", 10)
    monkeypatch.setattr(recounting, "_FEWEST", 10)
    monkeypatch.setattr(recounting, "_MOST", 10)
    monkeypatch.setattr("mildladder.desk.jobs.task._LOOK_S", -1)
    with desk.writing() as session:
        log_cases(session, [one_case(n) for n in range(120)], LOGGING)
    return desk


def one_case(number: int):
    step, other = STEPS[number % 3], STEPS[number % 2]
    return case(
        number,
        (other, "no-change"),
        (step, "fixed"),
        days_ago=number % 40 + number / 97,
        unit=f"U-{number % 7}",
        facts={"lane": f"L{number % 2}"},
    )


def merge(database, old: str, new: str) -> None:
    with database.writing() as session:
        merge_steps(session, old, new, LEAD_ID, NOON)


def some(database, parts: int) -> None:
    """Carry so many parts of the next job out, and let its process be told to end."""
    with database.writing() as session:
        row = store.next_due(session, "recounting", False, utc_now())
        if row is None:
            return
        store.begin(session, row, NOON)
        told: list[int] = []
        task = Task.of_row(database, row, question_of(row), is_leaving=lambda: len(told) >= parts)
    task.show = lambda done, _of: told.append(done)
    try:
        with recording_outcome(task, JOB_KINDS["recounting"].undo):
            JOB_KINDS["recounting"].work[type(task.question)](task)
    except Stopped:
        return


def check_is_as_rebuilt(database) -> None:
    with database.writing() as session:
        kept = snapshot(session)
        rebuild(session, 14)
        assert snapshot(session) == kept


def test_many_cases_are_counted_anew_in_parts_and_that_is_said_meanwhile(log):
    merge(log, "hold-off", "clear-hold")
    with log.reading() as session:
        assert evidence(session, ID, NOON.date()).recounting == recounting.Recounting(done=0, of=80)
        assert symptoms(session, NOON.date())[0].recounting
    some(log, 3)
    with log.reading() as session:
        assert evidence(session, ID, NOON.date()).recounting == recounting.Recounting(done=30, of=80)
    run_waiting(log, "recounting")
    with log.reading() as session:
        found = evidence(session, ID, NOON.date())
        assert found.recounting is None
        assert symptoms(session, NOON.date())[0].recounting is None
        assert not [row for row in found.rows if row.step == "hold-off" and row.counts.tried]
    check_is_as_rebuilt(log)


def test_no_part_holds_the_database_for_what_another_takes(log, monkeypatch):
    """Others write between any two parts."""
    between = []

    def write_something(since=None):
        with log.writing(timeout_ms=0) as session:
            between.append(log_cases(session, [one_case(500 + len(between))], LOGGING))

    merge(log, "hold-off", "clear-hold")
    monkeypatch.setattr(log, "yield_write_lock", write_something)
    run_waiting(log, "recounting")
    assert len(between) == 8
    check_is_as_rebuilt(log)


def test_counting_anew_is_not_cancelled_for_it_would_stay_half_done(log):
    merge(log, "hold-off", "clear-hold")
    with log.reading() as session:
        number = session.scalar(select(JobRow.number))
    with pytest.raises(Conflict, match="take the change back"):
        cancel(log, number, LEAD_ID, NOON)


def test_a_fact_that_comes_to_be_known_is_counted_by_in_parts_too(log):
    with log.writing() as session:
        know_facts(session, [Fact(id="lane", ask="Which?", type="choice", choices={"L0": 1, "L1": 1})], LEAD_ID, NOON)
    some(log, 2)
    run_waiting(log, "recounting")
    check_is_as_rebuilt(log)


@pytest.mark.parametrize("seed", range(6))
def test_whatever_is_merged_taken_apart_and_logged_meanwhile_ends_as_a_rebuild_has_it(log, seed):
    rng, logged = random.Random(seed), 1_000
    for _ in range(25):
        what = rng.random()
        if what < 0.3:
            try:
                merge(log, *rng.sample(STEPS, 2))
            except Conflict:
                continue
        elif what < 0.5:
            try:
                with log.writing() as session:
                    undo_merge(session, rng.choice(STEPS), LEAD_ID, NOON)
            except NotFound:
                continue
        elif what < 0.7:
            logged += 1
            closed = NOON - timedelta(days=rng.randrange(40))
            with log.writing() as session:
                log_cases(
                    session,
                    [one_case(rng.choice([logged, rng.randrange(120)]))],
                    Logging("import", LEAD_ID, closed, 14),
                )
        else:
            some(log, rng.randrange(1, 4))
    run_waiting(log, "recounting")
    check_is_as_rebuilt(log)


def test_a_merge_taken_back_is_found_by_what_it_counted_as_in_the_end(log):
    merge(log, "hold-off", "clear-hold")
    merge(log, "clear-hold", "reload-program")
    run_waiting(log, "recounting")
    with log.writing() as session:
        undo_merge(session, "hold-off", LEAD_ID, NOON)
    run_waiting(log, "recounting")
    check_is_as_rebuilt(log)


@pytest.mark.parametrize("at_once", [0, 1_000])
def test_what_only_a_merge_makes_alike_is_seen_to_be_logged_twice_and_taken_apart_again(desk, monkeypatch, at_once):
    _with_more_fixes(desk.path)
    monkeypatch.setattr(recounting, "_AT_ONCE", at_once)
    twice = [
        case(1, ("hold-off", "fixed"), days_ago=3, unit="U-1"),
        case(2, ("clear-hold", "fixed"), days_ago=3 - 0.5 / 24, unit="U-1"),
    ]
    with desk.writing() as session:
        log_cases(session, twice, LOGGING)
    for change in (lambda: merge(desk, "hold-off", "clear-hold"), lambda: take_back(desk, "hold-off")):
        change()
        run_waiting(desk, "recounting")
        check_is_as_rebuilt(desk)


def take_back(database, old: str) -> None:
    with database.writing() as session:
        undo_merge(session, old, LEAD_ID, NOON)
