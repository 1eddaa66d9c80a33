"""Jobs as rows: joined, in their order, cancelled, taken up where they stopped, and told how they ended."""

import io
import os
import shutil
from contextlib import contextmanager
from dataclasses import replace
from datetime import timedelta

import pytest
from sqlalchemy import func, select

from mildladder.core.errors import BadInput, Busy, Conflict, NotTheirs, Stopped, Unavailable
from mildladder.core.model import CaseLine
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.jobs.task import MOST_TRIES, Task, carrying_out, utc_now
from mildladder.desk.log.batches import ask_to_bring_in, forget_files, import_in_batches
from mildladder.desk.log.intake import CasesImported
from mildladder.desk.work.kinds import KINDS, Here, carry_out_waiting, count_death, due_kinds
from mildladder.exchange.case_lines import write_cases
from mildladder.store import jobs as store
from mildladder.store.database import Database
from mildladder.store.log.writing import Logging, log_cases
from mildladder.store.tables import CaseRow, ImportRow, JobRow
from tests.conftest import AGENT_ID, LEAD_ID
from tests.drafts import move
from tests.samples import NOON, case
from tests.store.test_log_machine import snapshot

ID = "gate-arm-up"
CURVE = {"ask": "curve"}


class Nobody:
    """Workers that do nothing until they are told."""

    def __init__(self):
        self.nudged = []

    def nudge(self, kind):
        self.nudged.append(kind)


def ask(database, workers, version=1, asked=CURVE):
    return jobs.answer_of(database, workers, "ordering", ID, version, asked, NOON)


def states(database):
    with database.reading() as session:
        return [row.state for row in session.scalars(select(JobRow).order_by(JobRow.number))]


def taken(database, kind, **how):
    """The next job of a kind, begun as a worker begins it."""
    with database.writing() as session:
        row = store.next_due(session, kind, KINDS[kind].is_newest_first, utc_now())
        if row.state != "cancelling":
            store.begin(session, row, NOON)
        return Task.of_row(database, row, tries=row.tries, **how)


def move_a_rung(database):
    with database.writing() as session:
        move(session, 0, 1)


def test_the_same_question_joins_and_is_worked_out_once(desk):
    nobody = Nobody()
    assert ask(desk, nobody) == jobs.Waiting()
    assert ask(desk, nobody) == jobs.Waiting()
    assert nobody.nudged == ["ordering"]
    carry_out_waiting(desk, "ordering")
    answer = ask(desk, nobody)
    assert answer == ask(desk, nobody)
    assert '"draft":' in answer
    assert states(desk) == ["done"]


def test_many_questions_are_asked_at_once(desk):
    nobody = Nobody()
    questions = [jobs.Question(ID, 1, asked) for asked in (CURVE, {"ask": "why", "rung": 1})]
    assert jobs.answers_of(desk, nobody, "ordering", questions, NOON) == [jobs.Waiting()] * 2
    assert nobody.nudged == ["ordering"]
    carry_out_waiting(desk, "ordering")
    curve, why = jobs.answers_of(desk, nobody, "ordering", questions, NOON)
    assert '"draft":' in curve
    assert why not in (None, curve)
    assert nobody.nudged == ["ordering"]


def test_the_last_answers_of_a_quiet_subject_outlast_those_of_busy_ones(desk):
    with desk.writing() as session:
        for subject, version in (("quiet", 1), *(("busy", version) for version in range(300))):
            row = store.add(session, "ordering", subject, version, CURVE, None, NOON)
            store.end(session, row.number, "done", NOON, f"{subject} {version}")
    ask(desk, Nobody())
    asked = [jobs.Question(subject, version, CURVE) for subject, version in (("quiet", 1), ("busy", 299), ("busy", 0))]
    assert jobs.answers_of(desk, Nobody(), "ordering", asked, NOON) == ["quiet 1", "busy 299", jobs.Waiting()]


def test_the_newest_question_comes_first_and_files_come_in_order(desk):
    for rung in range(3):
        ask(desk, Nobody(), asked={"ask": "why", "rung": rung})
    assert taken(desk, "ordering").asked["rung"] == 2
    for name in "ab":
        ask_to_bring_in(desk, io.BytesIO(name.encode()), name, True, LEAD_ID, NOON)
    assert taken(desk, "importing").subject == "a"


def test_a_new_revision_stops_work_on_the_older_and_forgets_its_answers(desk):
    ask(desk, Here(desk), asked={"ask": "why", "rung": 0})
    ask(desk, Nobody())
    under_way = taken(desk, "ordering")
    assert not under_way.is_stopped()
    move_a_rung(desk)
    under_way._looked = 0
    assert under_way.is_stopped()
    assert states(desk) == ["cancelling"]


def test_work_is_stopped_only_by_a_move_that_was_committed(desk):
    ask(desk, Nobody())
    under_way = taken(desk, "ordering")
    with pytest.raises(ZeroDivisionError), desk.writing() as session:
        move(session, 0, 1)
        raise ZeroDivisionError
    assert not under_way.is_stopped()


def test_a_late_question_about_an_older_draft_stops_nothing_and_gets_its_own_answer(desk):
    move_a_rung(desk)
    ask(desk, Nobody(), version=2)
    newer = taken(desk, "ordering")
    ask(desk, Nobody(), version=1)
    assert not newer.is_stopped()
    KINDS["ordering"].work(newer)
    with carrying_out(older := taken(desk, "ordering"), KINDS["ordering"].undo):
        KINDS["ordering"].work(older)
    assert ask(desk, Nobody(), version=1) != ask(desk, Nobody(), version=2)


def test_what_work_refuses_is_told_to_whoever_asked(desk):
    for _ in range(2):
        with pytest.raises(BadInput) as refused:
            ask(desk, Here(desk), asked={"ask": "why", "rung": 99})
        assert refused.value.says
    assert states(desk) == ["failed"]


def is_due_now(database, number=1):
    """Let the time pass until which a job was put off."""
    with database.writing() as session:
        session.get(JobRow, number).not_before = None


def test_what_its_process_left_because_it_was_to_end_is_no_failed_try(desk):
    ask(desk, Nobody())
    for _ in range(2 * MOST_TRIES):
        task = taken(desk, "ordering", is_leaving=lambda: True)
        with pytest.raises(Stopped), carrying_out(task, KINDS["ordering"].undo, most_tries=MOST_TRIES):
            task.check()
    carry_out_waiting(desk, "ordering")
    assert states(desk) == ["done"]


@pytest.mark.parametrize(("kind", "most"), [("ordering", MOST_TRIES), ("importing", 2)])
def test_work_of_which_workers_die_is_told_as_failed_in_the_end(desk, kind, most):
    if kind == "ordering":
        ask(desk, Nobody())
    else:
        ask_to_bring_in(desk, file_of(lines(5)), "office.jsonl", True, LEAD_ID, NOON)
    for _ in range(most):
        taken(desk, kind)
        count_death(desk, kind)
        assert states(desk) == ["waiting"]
        assert due_kinds(desk) == [], "it is not tried again at once"
        is_due_now(desk)
    carry_out_waiting(desk, kind)
    assert states(desk) == ["failed"]
    with desk.reading() as session:
        assert "ended in the middle" in jobs.job(session, 1).says


def break_curves(monkeypatch, error):
    def broken(*_):
        raise error

    monkeypatch.setattr("mildladder.desk.drafts.questions.curve_of", broken)


@pytest.mark.parametrize("error", [Unavailable("the disk is full"), ZeroDivisionError("what a caller said")])
def test_what_goes_wrong_and_may_pass_is_no_answer_but_tried_again(desk, monkeypatch, error):
    with monkeypatch.context() as patch:
        break_curves(patch, error)
        found = ask(desk, here := Here(desk))
        assert isinstance(found, jobs.Waiting)
        assert ("disk is full" in found.says, "fault" in found.says) in ((True, False), (False, True))
        assert "caller" not in found.says
        assert due_kinds(desk) == [], "it is not tried again at once"
        with desk.reading() as session:
            first = store.job(session, 1).not_before
        is_due_now(desk)
        carry_out_waiting(desk, "ordering")
        with desk.reading() as session:
            assert store.job(session, 1).not_before - first > timedelta(seconds=20), "pauses grow"
    is_due_now(desk)
    carry_out_waiting(desk, "ordering")
    assert '"draft":' in ask(desk, here)
    with desk.reading() as session:
        assert jobs.job(session, 1).says is None


def test_what_fails_again_and_again_is_given_up_and_asked_anew_by_whoever_wants_it(desk, monkeypatch):
    with monkeypatch.context() as patch:
        break_curves(patch, Unavailable("the disk is full"))
        ask(desk, Nobody())
        for _ in range(MOST_TRIES + 1):
            is_due_now(desk)
            carry_out_waiting(desk, "ordering")
        assert states(desk) == ["failed"]
    assert '"draft":' in ask(desk, Here(desk)) or '"draft":' in ask(desk, Here(desk))


def test_an_undo_that_fails_is_tried_again_later_and_not_at_once(desk, monkeypatch):
    """Without a pause it would be taken up again at once, for ever."""
    ask_to_bring_in(desk, file_of(lines(5)), "office.jsonl", False, LEAD_ID, NOON)
    begun = []

    def failing(*_):
        begun.append(1)
        raise Unavailable("the disk is full")

    before = log_of(desk)
    with monkeypatch.context() as patch:
        patch.setitem(KINDS, "importing", replace(KINDS["importing"], undo=failing))
        carry_out_waiting(desk, "importing")
        assert (len(begun), states(desk), due_kinds(desk)) == (1, ["running"], [])
        with desk.reading() as session:
            assert "disk is full" in jobs.job(session, 1).says
    is_due_now(desk)
    carry_out_waiting(desk, "importing")
    assert states(desk) == ["failed"]
    assert log_of(desk) == before


def test_no_number_of_a_job_is_given_twice(desk):
    ask(desk, Here(desk))
    with desk.writing() as session:
        store.forget_ended(session, "ordering", 0)
    assert states(desk) == []
    ask(desk, Here(desk))
    with desk.reading() as session:
        assert session.scalars(select(JobRow.number)).all() == [2]


def test_only_so_many_questions_wait_and_whoever_asks_more_is_told(desk):
    questions = [jobs.Question(ID, 1, {"ask": "why", "rung": rung}) for rung in range(jobs.MOST_WAITING + 20)]
    answers = jobs.answers_of(desk, Nobody(), "ordering", questions, NOON)
    assert answers[: jobs.MOST_WAITING] == [jobs.Waiting()] * jobs.MOST_WAITING
    assert {"wait before" in one.says for one in answers[jobs.MOST_WAITING :]} == {True}
    assert len(states(desk)) == jobs.MOST_WAITING


def test_only_so_many_files_wait_and_one_more_leaves_nothing(desk, tmp_path, monkeypatch):
    monkeypatch.setattr("mildladder.desk.log.batches.MOST_WAITING", 2)
    for count in (1, 2):
        ask_to_bring_in(desk, file_of(lines(count)), "office.jsonl", True, LEAD_ID, NOON)
    with pytest.raises(Busy, match="nothing was changed"):
        ask_to_bring_in(desk, file_of(lines(3)), "office.jsonl", True, LEAD_ID, NOON)
    assert len(list((tmp_path / "desk.db-brought").iterdir())) == 2


def test_a_refused_file_is_never_logged_in_place_of_the_next(desk, tmp_path, monkeypatch):
    """The database cannot be written, and then it can: the next file gets the number that the first would have had."""
    with monkeypatch.context() as patch:
        patch.setattr("mildladder.desk.log.batches.join_or_add", lambda *_, **__: 1 / 0)
        with pytest.raises(ZeroDivisionError):
            ask_to_bring_in(desk, file_of([case(1, ("clear-hold", "fixed"))]), "one.jsonl", True, LEAD_ID, NOON)
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
            ask_to_bring_in(desk, file_of([case(1, ("clear-hold", "fixed"))]), "one.jsonl", True, LEAD_ID, NOON)
    ask_to_bring_in(desk, file_of([case(2, ("clear-hold", "fixed"))]), "two.jsonl", True, LEAD_ID, NOON)
    carry_out_waiting(desk, "importing")
    with desk.reading() as session:
        assert session.scalars(select(CaseRow.id)).all() == ["C-2"]


def test_where_nothing_can_be_written_a_question_is_asked_again(desk):
    with desk.writing():
        assert ask(desk, Nobody()) == jobs.Waiting()
    assert states(desk) == []


def test_where_it_can_never_be_written_a_question_is_refused(desk, monkeypatch):
    monkeypatch.setattr(desk, "read_only", "its file may not be written")
    with pytest.raises(Unavailable, match="can only be read"):
        ask(desk, Nobody())


def lines(count: int = 900):
    """Cases, of which some replace others and one is of another origin."""
    made = [case(n, ("clear-hold", "fixed"), days_ago=n % 50, unit=f"GR4-{n % 40}") for n in range(count)]
    return [*made[:9], case(case="G-1001"), *made[9:], case(1, ("clear-hold", "no-change"), days_ago=3)]


def guide_one(database) -> None:
    """Log a case that was guided here, of an id that the file has too."""
    with database.writing() as session:
        log_cases(session, [case(case="G-1001")], Logging("guided", AGENT_ID, NOON, 14))


def file_of(cases) -> io.BytesIO:
    return io.BytesIO(b"".join(write_cases(cases)) + b"no case\n")


def log_of(database):
    """Everything that is counted, and every case, without the numbers that tell who brought it."""
    with database.writing() as session:
        return snapshot(session), session.scalar(select(func.count()).select_from(CaseRow))


def stop_after(task: Task, batches: int):
    """Let the process of a task be told to end, once it has logged so many batches."""
    told = []
    task.show = lambda done, _of: told.append(done)
    task.is_leaving = lambda: len(told) >= batches
    return told


def carried_out(task: Task) -> None:
    with carrying_out(task, KINDS["importing"].undo):
        KINDS["importing"].work(task)


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
    ask_to_bring_in(whole, file_of(lines()), "office.jsonl", True, LEAD_ID, NOON)
    carry_out_waiting(whole, "importing")
    number = ask_to_bring_in(desk, file_of(lines()), "office.jsonl", True, LEAD_ID, NOON)
    seen = [0]
    for batches in (2, 3):
        told = stop_after(task := taken(desk, "importing"), batches)
        with pytest.raises(Stopped):
            carried_out(task)
        state, done, of = progress(desk, number)
        assert (state, of) == ("waiting", 903)
        assert done == told[-1] > seen[-1]
        seen += told
    carry_out_waiting(desk, "importing")
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
    number = ask_to_bring_in(desk, file_of(lines()), "office.jsonl", True, LEAD_ID, NOON)

    def cancel_after_two(since=None):
        between.append(progress(desk, number)[1])
        if len(between) == 2:
            with desk.writing() as session:
                jobs.cancel(session, number, LEAD_ID, NOON)

    monkeypatch.setattr(desk, "give_way", cancel_after_two)
    with pytest.raises(Stopped):
        carried_out(taken(desk, "importing"))
    assert progress(desk, number) == ("cancelled", between[1], 903)
    assert log_of(desk) == before


def test_a_cancelled_import_whose_process_ended_is_undone_by_the_next(desk, eager):
    before = log_of(desk)
    number = ask_to_bring_in(desk, file_of(lines()), "office.jsonl", True, LEAD_ID, NOON)
    stop_after(task := taken(desk, "importing"), 2)
    with pytest.raises(Stopped):
        carried_out(task)
    with desk.writing() as session:
        jobs.cancel(session, number, LEAD_ID, NOON)
    assert progress(desk, number)[0] == "cancelling"
    carry_out_waiting(desk, "importing")
    assert progress(desk, number)[0] == "cancelled"
    assert log_of(desk) == before


def test_a_file_that_cannot_be_read_is_refused_as_a_job_too(desk):
    number = ask_to_bring_in(desk, file_of(lines(5)), "office.jsonl", False, LEAD_ID, NOON)
    carry_out_waiting(desk, "importing")
    with desk.reading() as session:
        view = jobs.job(session, number)
    assert (view.state, view.who) == ("failed", "R. Tamsin")
    assert "cannot be read" in view.says
    assert log_of(desk)[1] == 0


def test_the_same_file_that_waits_is_not_brought_twice(desk, tmp_path):
    first = ask_to_bring_in(desk, file_of(lines(5)), "office.jsonl", True, LEAD_ID, NOON)
    assert ask_to_bring_in(desk, file_of(lines(5)), "office.jsonl", True, AGENT_ID, NOON) == first
    assert ask_to_bring_in(desk, file_of(lines(6)), "office.jsonl", True, LEAD_ID, NOON) != first
    assert len(list((tmp_path / "desk.db-brought").iterdir())) == 2
    carry_out_waiting(desk, "importing")
    assert states(desk) == ["done", "done"]


def test_files_that_no_job_will_log_are_removed_and_others_stay(desk, tmp_path):
    number = ask_to_bring_in(desk, file_of(lines(5)), "office.jsonl", True, LEAD_ID, NOON)
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


def test_only_a_lead_or_whoever_asked_cancels_and_only_what_goes_on(desk):
    mine = ask_to_bring_in(desk, file_of(lines(5)), "mine.jsonl", True, AGENT_ID, NOON)
    theirs = ask_to_bring_in(desk, file_of(lines(6)), "theirs.jsonl", True, LEAD_ID, NOON)
    with desk.writing() as session:
        with pytest.raises(NotTheirs):
            jobs.cancel(session, theirs, AGENT_ID, NOON)
        jobs.cancel(session, mine, AGENT_ID, NOON)
        assert jobs.job(session, mine).state == "cancelled"
        with pytest.raises(Conflict, match="cancelled already"):
            jobs.cancel(session, mine, LEAD_ID, NOON)


def test_a_shell_s_import_is_a_job_that_somebody_at_the_desk_can_cancel(desk, eager):
    before, told = log_of(desk), []

    def show(done, of):
        told.append((done, of))

    def read():
        for number, one in enumerate(lines(), start=1):
            if number == 300:
                with desk.writing() as session:
                    jobs.cancel(session, 1, LEAD_ID, NOON)
            yield CaseLine(number, one)

    with pytest.raises(Stopped):
        import_in_batches(desk, read, LEAD_ID, NOON, "office.jsonl", True, 901, show)
    assert progress(desk)[0] == "cancelled"
    assert told
    assert log_of(desk) == before


def test_what_is_asked_of_long_ago_is_forgotten_and_what_waits_is_not(desk, monkeypatch):
    monkeypatch.setattr("mildladder.desk.jobs.queue._MOST_ANSWERS", 3)
    for rung in range(5):
        ask(desk, Here(desk), asked={"ask": "why", "rung": rung})
    ask(desk, Nobody())
    assert states(desk) == ["done"] * 3 + ["waiting"]
