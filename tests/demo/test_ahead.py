"""Months of the made-up desk that go by: guided through the API, by the newest edition, dated from now on."""

import json
from datetime import UTC, datetime, timedelta

import pytest
from click.testing import CliRunner
from sqlalchemy import select

from mildladder.cli.simulating import simulate_command
from mildladder.core.errors import BadInput, Conflict
from mildladder.demo.desk import LEAD, fill
from mildladder.desk.documents import document
from mildladder.desk.people import named
from mildladder.desk.publishing.files import import_playbook
from mildladder.store.database import Database
from mildladder.store.tables import CaseRow, ClimbRow, StratumRow

PAD = "kiosk-no-card-pad"


@pytest.fixture
def path(tmp_path):
    """A small demo desk, one of whose symptoms has a third edition."""
    path, now = tmp_path / "demo.db", datetime.now(UTC)
    desk = Database(path)
    with desk.writing() as session:
        fill(session, 200, now)
        retitled = document(session, PAD, 2).model_copy(update={"title": "Kiosk does not find its card pad"})
        import_playbook(session, retitled, named(session, LEAD, now), now, "file", "Third edition")
    desk.close()
    return path


def simulated(path, *options):
    done = CliRunner().invoke(simulate_command, ["--db", str(path), "--json", *options], catch_exceptions=False)
    return json.loads(done.stdout)


def guided(path):
    """The cases that were guided here, with the edition that each was climbed by."""
    desk = Database(path)
    with desk.reading() as session:
        rows = session.execute(
            select(CaseRow.symptom, CaseRow.closed, CaseRow.linked, CaseRow.end, StratumRow.edition)
            .join(ClimbRow, ClimbRow.case_id == CaseRow.id)
            .join(StratumRow, StratumRow.number == CaseRow.stratum)
        ).all()
    desk.close()
    return rows


def test_cases_are_guided_by_the_newest_edition_in_the_months_to_come(path):
    began = datetime.now(UTC)
    said = simulated(path, "--cases", "12", "--playbook", PAD)
    assert (said["cases"], said["playbooks"]) == (12, [PAD])
    rows = guided(path)
    assert len(rows) == 12
    for symptom, closed, linked, _end, edition in rows:
        assert (symptom, linked, edition) == (PAD, 3, 3)
        assert began - timedelta(days=1) < closed < began + timedelta(days=91)
    assert len({row[1].date() for row in rows}) > 6


def test_without_a_number_as_many_come_as_the_log_has_a_month_of_all_that_is_published(path):
    said = simulated(path, "--months", "0.5")
    # 200 cases in 18 months, of which the harbour office took an eighth.
    assert 3 <= said["cases"] <= 8
    assert "lane-scale-wrong" not in said["playbooks"]
    assert len(said["playbooks"]) == 11


def test_what_nobody_knows_the_truth_of_and_an_empty_desk_are_refused(path, tmp_path):
    with pytest.raises(BadInput, match="no symptom of the made-up desk"):
        simulated(path, "--playbook", "another")
    with pytest.raises(Conflict, match="nothing of that is published"):
        simulated(tmp_path / "empty.db")
