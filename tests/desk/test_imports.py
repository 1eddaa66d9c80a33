"""Files that are brought in as jobs: in parts, cancelled, undone, taken up, and never one in place of another."""

import os
import shutil
from contextlib import contextmanager

import pytest
from sqlalchemy import select

from mildladder.core.errors import Busy, Conflict, NotTheirs, Stopped, Unavailable
from mildladder.core.model import CaseLine
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.jobs.task import Task, recording_outcome
from mildladder.desk.log.batches import forget_files, import_in_batches, queue_import
from mildladder.desk.log.intake import CasesImported
from mildladder.desk.work.kinds import JOB_KINDS, cancel, run_waiting
from mildladder.store import jobs as store
from mildladder.store.database import Database
from mildladder.store.log.writing import Logging, log_cases
from mildladder.store.tables import CaseRow, ImportRow
from tests.conftest import AGENT_ID, LEAD_ID
from tests.desk.jobs import file_of, lines, log_of, states, taken, worked
from tests.samples import NOON, case


def test_only_so_many_files_wait_and_one_more_leaves_nothing(desk, tmp_path, monkeypatch):
    monkeypatch.setattr("mildladder.desk.log.batches.MAX_WAITING", 2)
    for count in (1, 2):
        queue_import(desk, file_of(lines(count)), "office.jsonl", True, LEAD_ID, NOON)
    with pytest.raises(Busy, match="nothing was changed"):
        queue_import(desk, file_of(lines(3)), "office.jsonl", True, LEAD_ID, NOON)
    assert len(list((tmp_path / "desk.db-brought").iterdir())) == 2


def test_a_refused_file_is_never_logged_in_place_of_the_next(desk, tmp_path, monkeypatch):
    """The database cannot be written, and then it can: the next file gets the number that the first would have had."""
    with monkeypatch.context() as patch:
        patch.setattr("mildladder.desk.log.batches.join_or_add", lambda *_, **__: 1 / 0)
        with pytest.raises(ZeroDivisionError):
            queue_import(desk, file_of([case(1, ("clear-hold", "fixed"))]), "one.jsonl", True, LEAD_ID, NOON)
    assert not list((tmp_path / "desk.db-brought").iterdir())

    @contextmanager
    def full(*_, **__):
        with writing() as session:
            yield session
            raise Unavailable("the database could not be used: the disk is full; nothing was changed")

    writing = desk.writing
    with monkeypatch.context() as patch:
        patch.setattr(desk, "writing", full)
        with pytest.raises(Unavailable, match="nothing was changed"):
            queue_import(desk, file_of([case(1, ("clear-hold", "fixed"))]), "one.jsonl", True, LEAD_ID, NOON)
    queue_import(desk, file_of([case(2, ("clear-hold", "fixed"))]), "two.jsonl", True, LEAD_ID, NOON)
    run_waiting(desk, "importing")
    with desk.reading() as session:
        assert session.scalars(select(CaseRow.id)).all() == ["C-2"]


def guide_one(database) -> None:
    """Log a case that was guided here, of an id that the file has too."""
    with database.writing() as session:
        log_cases(session, [case(case="G-1001")], Logging("guided", AGENT_ID, NOON, 14))


def stop_after(task: Task, batches: int):
    """Let the process of a task be told to end, once it has logged so many batches."""
    told = []
    task.show = lambda done, _of: told.append(done)
    task.is_leaving = lambda: len(told) >= batches
    return told


def carried_out(task: Task) -> None:
    with recording_outcome(task, JOB_KINDS["importing"].undo):
        worked(task)


@pytest.fixture
def eager(monkeypatch):
    """Tasks look at every chance whether they are still wanted."""
    monkeypatch.setattr("mildladder.desk.jobs.task._LOOK_S", -1)


def progress(database, number=1):
    with database.reading() as session:
        view = jobs.job(session, number)
        return view.state, view.done, view.of


def test_an_import_goes_on_where_it_stopped_and_comes_to_the_same(desk, tmp_path, templates, eager):
    shutil.copy(templates / "sample.db", tmp_path / "whole.db")
    whole = Database(tmp_path / "whole.db")
    guide_one(whole)
    guide_one(desk)
    queue_import(whole, file_of(lines()), "office.jsonl", True, LEAD_ID, NOON)
    run_waiting(whole, "importing")
    number = queue_import(desk, file_of(lines()), "office.jsonl", True, LEAD_ID, NOON)
    seen = [0]
    for batches in (2, 3):
        told = stop_after(task := taken(desk, "importing"), batches)
        with pytest.raises(Stopped):
            carried_out(task)
        state, done, of = progress(desk, number)
        assert (state, of) == ("waiting", 903)
        assert done == told[-1] > seen[-1]
        seen += told
    run_waiting(desk, "importing")
    assert seen == sorted(seen)
    assert log_of(desk) == log_of(whole)
    results = []
    for database in (desk, whole):
        with database.reading() as session:
            results.append(CasesImported.model_validate_json(store.job(session, 1).result))
            assert session.scalars(select(ImportRow.state).where(ImportRow.job == 1)).all() == ["done"]
    assert results[0] == results[1]
    assert (results[0].read, results[0].updated, results[0].refused) == (901, 1, 2)
    assert not list((tmp_path / "desk.db-brought").iterdir())
    whole.close()


def test_a_cancelled_import_leaves_nothing(desk, eager, monkeypatch):
    before, between = log_of(desk), []
    number = queue_import(desk, file_of(lines()), "office.jsonl", True, LEAD_ID, NOON)

    def cancel_after_two(since=None):
        between.append(progress(desk, number)[1])
        if len(between) == 2:
            cancel(desk, number, LEAD_ID, NOON)

    monkeypatch.setattr(desk, "yield_write_lock", cancel_after_two)
    with pytest.raises(Stopped):
        carried_out(taken(desk, "importing"))
    assert progress(desk, number) == ("cancelled", between[1], 903)
    assert log_of(desk) == before


def test_an_import_that_is_cancelled_after_it_was_last_checked_leaves_nothing(desk, eager, monkeypatch):
    """Whoever stopped it was told that it is being undone, however near its end it was."""
    before = log_of(desk)
    number = queue_import(desk, file_of(lines()), "office.jsonl", True, LEAD_ID, NOON)
    task = taken(desk, "importing")
    monkeypatch.setattr(type(task), "is_stopped", lambda _: False)
    monkeypatch.setattr(desk, "yield_write_lock", lambda **_: cancel(desk, number, LEAD_ID, NOON))
    with pytest.raises(Stopped):
        carried_out(task)
    assert progress(desk, number)[0] == "cancelled"
    assert log_of(desk) == before


def test_a_cancelled_import_whose_process_ended_is_undone_by_the_next(desk, eager):
    before = log_of(desk)
    number = queue_import(desk, file_of(lines()), "office.jsonl", True, LEAD_ID, NOON)
    stop_after(task := taken(desk, "importing"), 2)
    with pytest.raises(Stopped):
        carried_out(task)
    cancel(desk, number, LEAD_ID, NOON)
    assert progress(desk, number)[0] == "cancelling"
    run_waiting(desk, "importing")
    assert progress(desk, number)[0] == "cancelled"
    assert log_of(desk) == before


def test_a_file_that_cannot_be_read_is_refused_as_a_job_too(desk):
    number = queue_import(desk, file_of(lines(5)), "office.jsonl", False, LEAD_ID, NOON)
    run_waiting(desk, "importing")
    with desk.reading() as session:
        view = jobs.job(session, number)
    assert (view.state, view.who) == ("failed", "R. Tamsin")
    assert "cannot be read" in view.says
    assert log_of(desk)[1] == 0


def test_the_same_file_that_waits_is_not_brought_twice(desk, tmp_path):
    first = queue_import(desk, file_of(lines(5)), "office.jsonl", True, LEAD_ID, NOON)
    assert queue_import(desk, file_of(lines(5)), "office.jsonl", True, AGENT_ID, NOON) == first
    assert queue_import(desk, file_of(lines(6)), "office.jsonl", True, LEAD_ID, NOON) != first
    assert len(list((tmp_path / "desk.db-brought").iterdir())) == 2
    run_waiting(desk, "importing")
    assert states(desk) == ["done", "done"]


def test_files_that_no_job_will_log_are_removed_and_others_stay(desk, tmp_path):
    number = queue_import(desk, file_of(lines(5)), "office.jsonl", True, LEAD_ID, NOON)
    folder = tmp_path / "desk.db-brought"
    (needed,) = folder.iterdir()
    for name in ("99", "arriving-1-2", "arriving-now"):
        (folder / name).write_bytes(b"left by a program that ended")
    for old in (needed, folder / "99", folder / "arriving-1-2"):
        os.utime(old, (0, 0))
    forget_files(desk)
    assert {file.name for file in folder.iterdir()} == {needed.name, "arriving-now"}
    with desk.reading() as session:
        assert store.job(session, number).input["file"] == needed.name


def files_of(database):
    """The files that are kept beside the desk until they are logged."""
    return {file.name for file in database.path.with_name("desk.db-brought").iterdir()}


def test_only_a_lead_or_whoever_asked_cancels_and_only_what_goes_on(desk):
    mine = queue_import(desk, file_of(lines(5)), "mine.jsonl", True, AGENT_ID, NOON)
    theirs = queue_import(desk, file_of(lines(6)), "theirs.jsonl", True, LEAD_ID, NOON)
    with pytest.raises(NotTheirs):
        cancel(desk, theirs, AGENT_ID, NOON)
    kept = files_of(desk)
    assert cancel(desk, mine, AGENT_ID, NOON).state == "cancelled"
    assert len(kept - files_of(desk)) == 1, "its file is not needed any more"
    with pytest.raises(Conflict, match="cancelled already"):
        cancel(desk, mine, LEAD_ID, NOON)


def test_a_shell_s_import_is_a_job_that_somebody_at_the_desk_can_cancel(desk, eager):
    before, told = log_of(desk), []

    def show(done, of):
        told.append((done, of))

    def read():
        for number, one in enumerate(lines(), start=1):
            if number == 300:
                cancel(desk, 1, LEAD_ID, NOON)
            yield CaseLine(number, one)

    with pytest.raises(Stopped):
        import_in_batches(desk, read, LEAD_ID, NOON, "office.jsonl", True, 901, show)
    assert progress(desk)[0] == "cancelled"
    assert told
    assert log_of(desk) == before
