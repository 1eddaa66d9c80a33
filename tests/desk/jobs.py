"""Jobs as tests ask for them and carry them out."""

import io

from sqlalchemy import func, select

from mildladder.clock import utc_now
from mildladder.desk.drafts.questions import CurveQuestion, WhyQuestion
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.jobs.task import Task
from mildladder.desk.work.kinds import JOB_KINDS, question_of
from mildladder.exchange.case_lines import write_cases
from mildladder.store import jobs as store
from mildladder.store.tables import CaseRow, JobRow
from tests.drafts import move
from tests.samples import NOON, case
from tests.store.test_log_machine import snapshot

ID = "gate-arm-up"
CURVE = CurveQuestion(subject=ID, version=1)
NEXT_CURVE = CurveQuestion(subject=ID, version=2)


def why(rung):
    return WhyQuestion(subject=ID, version=1, rung=rung)


class Nobody:
    """Workers that do nothing until they are told."""

    def __init__(self):
        self.nudged = []

    def notify(self, kind):
        self.nudged.append(kind)


def ask(database, workers, question=CURVE):
    return jobs.answer_of(database, workers, question, NOON)


def states(database):
    with database.reading() as session:
        return [row.state for row in session.scalars(select(JobRow).order_by(JobRow.number))]


def taken(database, kind, **how):
    """The next job of a kind, begun as a worker begins it."""
    with database.writing() as session:
        row = store.next_due(session, kind, JOB_KINDS[kind].is_newest_first, utc_now())
        if row.state != "cancelling":
            store.begin(session, row, NOON)
        return Task.of_row(database, row, question_of(row), tries=row.tries, **how)


def worked(task):
    JOB_KINDS[task.question.kind].work[type(task.question)](task)


def move_a_rung(database):
    with database.writing() as session:
        move(session, 0, 1)


def lines(count: int = 900):
    """Cases, of which some replace others and one is of another origin."""
    made = [case(n, ("clear-hold", "fixed"), days_ago=n % 50, unit=f"GR4-{n % 40}") for n in range(count)]
    return [*made[:9], case(case="G-1001"), *made[9:], case(1, ("clear-hold", "no-change"), days_ago=3)]


def file_of(cases) -> io.BytesIO:
    return io.BytesIO(b"".join(write_cases(cases)) + b"no case\n")


def log_of(database):
    """Everything that is counted, and every case, without the numbers that tell who brought it."""
    with database.writing() as session:
        return snapshot(session), session.scalar(select(func.count()).select_from(CaseRow))
