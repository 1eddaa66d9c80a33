"""What is planted on other steps and symptoms than the made-up desk's is told all the same, and nothing that is not so."""

import shutil

import pytest

from mildladder.desk.people import add_person
from mildladder.store.database import Database
from tests.conftest import LEAD
from tests.demo.planted import log_cases_of, planted
from tests.demo.readings import read
from tests.samples import NOON

pytestmark = pytest.mark.long
SEED, CASES = 4, 1500


@pytest.fixture(scope="module")
def reading(tmp_path_factory, templates):
    """What is said of some symptoms of another seed's desk."""
    path = tmp_path_factory.mktemp("planted") / "desk.db"
    shutil.copy(templates / "empty.db", path)
    database = Database(path)
    with database.writing() as session:
        lead = add_person(session, LEAD, "lead", None, NOON).id
    desk = planted(SEED).only("dead-on", "stopped", "could-not")
    yield read(log_cases_of(desk, database, CASES, NOON, SEED), database, lead, NOON)
    database.close()


def test_every_discovery_is_told(reading):
    assert len(reading.desk.spots) == 3
    assert reading.missed() == []


def test_nothing_is_claimed_that_is_not_so(reading):
    made, false = reading.claims()
    assert made >= 6
    assert false == []


def test_what_would_end_the_fault_if_tried_first_lies_in_its_interval(reading):
    held, figures = reading.held()
    assert figures >= 12
    assert held >= 0.8 * figures
