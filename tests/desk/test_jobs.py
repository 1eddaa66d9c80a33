"""Jobs as rows: questions join, have their order, are taken up where they stopped, and tell how they ended."""

import io
from dataclasses import replace
from datetime import timedelta

import pytest
from sqlalchemy import select

from mildladder.core.errors import BadInput, Stopped, Unavailable
from mildladder.desk.advice.following import PromiseQuestion
from mildladder.desk.advice.nudging import NudgeQuestion
from mildladder.desk.drafts.ordering import Changes
from mildladder.desk.drafts.questions import (
    CurveQuestion,
    MendsQuestion,
    OrderQuestion,
    SuggestionsQuestion,
    WhatIfQuestion,
)
from mildladder.desk.evidence.estimating import EstimateQuestion, LearnedQuestion, ReplayQuestion
from mildladder.desk.evidence.symptom import EvidenceFilter
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.jobs.task import MAX_TRIES, recording_outcome
from mildladder.desk.library.recounting import RecountQuestion
from mildladder.desk.log.batches import ImportQuestion, queue_import
from mildladder.desk.publishing.first_ladders import FirstLadderQuestion
from mildladder.desk.work.kinds import JOB_KINDS, InlineWorkers, count_crash, due_kinds, question_of, run_waiting
from mildladder.store import jobs as store
from mildladder.store.tables import JobRow
from tests.conftest import LEAD_ID
from tests.desk.jobs import (
    CURVE,
    ID,
    NEXT_CURVE,
    Nobody,
    ask,
    file_of,
    lines,
    log_of,
    move_a_rung,
    states,
    taken,
    why,
    worked,
)
from tests.drafts import move
from tests.samples import NOON


def test_the_same_question_joins_and_is_worked_out_once(desk):
    nobody = Nobody()
    assert ask(desk, nobody) == jobs.Waiting()
    assert ask(desk, nobody) == jobs.Waiting()
    assert nobody.nudged == ["ordering"]
    run_waiting(desk, "ordering")
    answer = ask(desk, nobody)
    assert answer == ask(desk, nobody)
    assert '"draft":' in answer
    assert states(desk) == ["done"]


def test_many_questions_are_asked_at_once(desk):
    nobody = Nobody()
    questions = [CURVE, why(1)]
    assert jobs.answers_of(desk, nobody, questions, NOON) == [jobs.Waiting()] * 2
    assert nobody.nudged == ["ordering"]
    run_waiting(desk, "ordering")
    curve, other = jobs.answers_of(desk, nobody, questions, NOON)
    assert '"draft":' in curve
    assert other not in (None, curve)
    assert nobody.nudged == ["ordering"]


def test_the_last_answers_of_a_quiet_subject_outlast_those_of_busy_ones(desk):
    with desk.writing() as session:
        for subject, version in (("quiet", 1), *(("busy", version) for version in range(300))):
            row = jobs.add(session, CurveQuestion(subject=subject, version=version), None, NOON)
            store.end(session, row.number, "done", NOON, f"{subject} {version}")
    ask(desk, Nobody())
    asked = [CurveQuestion(subject=subject, version=at) for subject, at in (("quiet", 1), ("busy", 299), ("busy", 0))]
    assert jobs.answers_of(desk, Nobody(), asked, NOON) == ["quiet 1", "busy 299", jobs.Waiting()]


def test_the_newest_question_comes_first_and_files_come_in_order(desk):
    for rung in range(3):
        ask(desk, Nobody(), why(rung))
    assert taken(desk, "ordering").question.rung == 2
    for name in "ab":
        queue_import(desk, io.BytesIO(name.encode()), name, True, LEAD_ID, NOON)
    assert taken(desk, "importing").subject == "a"


def test_a_new_revision_stops_work_on_the_older_and_forgets_its_answers(desk):
    ask(desk, InlineWorkers(desk), why(0))
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
    ask(desk, Nobody(), NEXT_CURVE)
    newer = taken(desk, "ordering")
    ask(desk, Nobody())
    assert not newer.is_stopped()
    worked(newer)
    with recording_outcome(older := taken(desk, "ordering"), JOB_KINDS["ordering"].undo):
        worked(older)
    assert ask(desk, Nobody()) != ask(desk, Nobody(), NEXT_CURVE)


def test_what_work_refuses_is_told_to_whoever_asked(desk):
    for _ in range(2):
        with pytest.raises(BadInput) as refused:
            ask(desk, InlineWorkers(desk), why(99))
        assert refused.value.says
    assert states(desk) == ["failed"]


def is_due_now(database, number=1):
    """Let the time pass until which a job was put off."""
    with database.writing() as session:
        session.get(JobRow, number).not_before = None


def test_what_its_process_left_because_it_was_to_end_is_no_failed_try(desk):
    ask(desk, Nobody())
    for _ in range(2 * MAX_TRIES):
        task = taken(desk, "ordering", is_leaving=lambda: True)
        with pytest.raises(Stopped), recording_outcome(task, JOB_KINDS["ordering"].undo, max_tries=MAX_TRIES):
            task.check()
    run_waiting(desk, "ordering")
    assert states(desk) == ["done"]


@pytest.mark.parametrize(("kind", "most"), [("ordering", MAX_TRIES), ("importing", 2)])
def test_work_of_which_workers_die_is_told_as_failed_in_the_end(desk, kind, most):
    if kind == "ordering":
        ask(desk, Nobody())
    else:
        queue_import(desk, file_of(lines(5)), "office.jsonl", True, LEAD_ID, NOON)
    for _ in range(most):
        taken(desk, kind)
        count_crash(desk, kind)
        assert states(desk) == ["waiting"]
        assert due_kinds(desk) == [], "it is not tried again at once"
        is_due_now(desk)
    run_waiting(desk, kind)
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
        found = ask(desk, here := InlineWorkers(desk))
        assert isinstance(found, jobs.Waiting)
        assert ("disk is full" in found.says, "fault" in found.says) in ((True, False), (False, True))
        assert "caller" not in found.says
        assert due_kinds(desk) == [], "it is not tried again at once"
        with desk.reading() as session:
            first = store.job(session, 1).not_before
        is_due_now(desk)
        run_waiting(desk, "ordering")
        with desk.reading() as session:
            assert store.job(session, 1).not_before - first > timedelta(seconds=20), "pauses grow"
    is_due_now(desk)
    run_waiting(desk, "ordering")
    assert '"draft":' in ask(desk, here)
    with desk.reading() as session:
        assert jobs.job(session, 1).says is None


def test_what_fails_again_and_again_is_given_up_and_asked_anew_by_whoever_wants_it(desk, monkeypatch):
    with monkeypatch.context() as patch:
        break_curves(patch, Unavailable("the disk is full"))
        ask(desk, Nobody())
        for _ in range(MAX_TRIES + 1):
            is_due_now(desk)
            run_waiting(desk, "ordering")
        assert states(desk) == ["failed"]
    assert '"draft":' in ask(desk, InlineWorkers(desk)) or '"draft":' in ask(desk, InlineWorkers(desk))


def test_an_undo_that_fails_is_tried_again_later_and_not_at_once(desk, monkeypatch):
    """Without a pause it would be taken up again at once, for ever."""
    queue_import(desk, file_of(lines(5)), "office.jsonl", False, LEAD_ID, NOON)
    begun = []

    def failing(*_):
        begun.append(1)
        raise Unavailable("the disk is full")

    before = log_of(desk)
    with monkeypatch.context() as patch:
        patch.setitem(JOB_KINDS, "importing", replace(JOB_KINDS["importing"], undo=failing))
        run_waiting(desk, "importing")
        assert (len(begun), states(desk), due_kinds(desk)) == (1, ["running"], [])
        with desk.reading() as session:
            assert "disk is full" in jobs.job(session, 1).says
    is_due_now(desk)
    run_waiting(desk, "importing")
    assert states(desk) == ["failed"]
    assert log_of(desk) == before


def test_no_number_of_a_job_is_given_twice(desk):
    ask(desk, InlineWorkers(desk))
    with desk.writing() as session:
        store.delete_ended(session, "ordering", 0)
    assert states(desk) == []
    ask(desk, InlineWorkers(desk))
    with desk.reading() as session:
        assert session.scalars(select(JobRow.number)).all() == [2]


def test_only_so_many_questions_wait_and_whoever_asks_more_is_told(desk):
    questions = [why(rung) for rung in range(jobs.MAX_WAITING + 20)]
    answers = jobs.answers_of(desk, Nobody(), questions, NOON)
    assert answers[: jobs.MAX_WAITING] == [jobs.Waiting()] * jobs.MAX_WAITING
    assert {"wait before" in one.says for one in answers[jobs.MAX_WAITING :]} == {True}
    assert len(states(desk)) == jobs.MAX_WAITING


def test_where_nothing_can_be_written_a_question_is_asked_again(desk):
    with desk.writing():
        assert ask(desk, Nobody()) == jobs.Waiting()
    assert states(desk) == []


def test_where_it_can_never_be_written_a_question_is_refused(desk, monkeypatch):
    monkeypatch.setattr(desk, "read_only", "its file may not be written")
    with pytest.raises(Unavailable, match="can only be read"):
        ask(desk, Nobody())


def test_what_is_asked_of_long_ago_is_forgotten_and_what_waits_is_not(desk, monkeypatch):
    monkeypatch.setattr("mildladder.desk.jobs.queue._MOST_ANSWERS", 3)
    for rung in range(5):
        ask(desk, InlineWorkers(desk), why(rung))
    ask(desk, Nobody())
    assert states(desk) == ["done"] * 3 + ["waiting"]


def test_every_question_comes_back_from_its_row_as_it_was_asked(desk):
    log_part = EvidenceFilter(site="Harbour", facts={"model": "GR4"})
    about = {"subject": ID, "version": 3, "edition": 1, "revision": 4, "window": 14, "today": NOON.date()}
    questions = [
        CURVE,
        why(2),
        OrderQuestion(subject=ID, version=1, mode="mildest", rate=2.5, taught_by="7-abc"),
        MendsQuestion(subject=ID, version=1, known={"other": ("one", "two")}),
        WhatIfQuestion(subject=ID, version=1, changes=Changes(steps=())),
        SuggestionsQuestion(subject=ID, version=1),
        EstimateQuestion(**about, filter=log_part),
        LearnedQuestion(**about),
        ReplayQuestion(**about, before="draft", after=1),
        NudgeQuestion(**about, others="a"),
        PromiseQuestion(**about, after=2, published=NOON, cases=40),
        FirstLadderQuestion(subject="odd", version=2),
        ImportQuestion(subject="a.jsonl", leave_out=True, digest="d", file="f"),
        RecountQuestion(subject="step", step="step", symptoms=("one", "two")),
    ]
    assert {type(one) for one in questions} == {kind for each in JOB_KINDS.values() for kind in each.work}
    with desk.writing() as session:
        numbers = [jobs.add(session, one, None, NOON).number for one in questions]
    with desk.reading() as session:
        assert [question_of(store.job(session, number)) for number in numbers] == questions


def test_what_an_earlier_version_asked_otherwise_is_refused_plainly_and_keeps_nothing_from_its_turn(desk):
    with desk.writing() as session:
        for asked in ({"ask": "why", "rung": "the third"}, {"ask": "forgotten"}):
            store.add(session, "ordering", ID, 1, asked, None, NOON)
        jobs.add(session, CURVE, None, NOON)
        # A kind of one question did not say which it is.
        file = {"leave_out": True, "digest": "d", "file": "f"}
        number = store.add(session, "importing", "a.jsonl", None, file, LEAD_ID, NOON).number
    run_waiting(desk, "ordering")
    assert states(desk) == ["failed", "failed", "done", "waiting"]
    with desk.reading() as session:
        assert "ask again" in jobs.job(session, 1).says
        asked = question_of(store.job(session, number))
        assert asked == ImportQuestion(subject="a.jsonl", leave_out=True, digest="d", file="f")
