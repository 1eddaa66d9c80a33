"""Every document in the store carries the number of its shape, and is brought up when it is read."""

import json

import pytest
from sqlalchemy import text

from mildladder.core.model import versions
from mildladder.desk.log.intake import begin_import
from mildladder.store.log.undoing import undo_some
from mildladder.store.log.writing import Logging, log_cases
from mildladder.store.tables import Base, CaseRow
from mildladder.store.tables.base import StoredDocument
from tests.conftest import LEAD_ID
from tests.samples import NOON, case

# What has a shape of its own is stamped by whoever writes it; the rest are lists of words, or live as long as a job.
STAMPED_BY_HAND = {"editions.document", "editions.forecast", "climb_events.event", "cases.rest"}
NO_DOCUMENTS = {
    "jobs.input",
    "jobs.so_far",
    "jobs.problem",
    "facts.choices",
    "attempts.harmed",
    "attempts.ways",
    "attempts.tried_with",
    "attempts.values",
    "attempts.asked",
}


def test_every_document_of_the_tables_goes_through_one_door():
    columns = {f"{table.name}.{one.name}": one.type for table in Base.metadata.tables.values() for one in table.columns}
    plain = {name for name, kind in columns.items() if "JSON" in repr(kind) and not isinstance(kind, StoredDocument)}
    assert plain <= STAMPED_BY_HAND | NO_DOCUMENTS
    doors = {one.kind for one in columns.values() if isinstance(one, StoredDocument)}
    assert doors == {"replaced", "shared", "worth", "ground"}


def test_a_replaced_case_of_an_older_shape_is_put_back_as_it_was(desk, monkeypatch):
    logging = Logging("import", LEAD_ID, NOON, 14)
    with desk.writing() as session:
        log_cases(session, [case(1, ("clear-hold", "no-change"), unit="U-1")], logging)
        number = begin_import(session, "office.jsonl", LEAD_ID, NOON)
        log_cases(session, [case(1, ("clear-hold", "fixed"))], Logging("import", LEAD_ID, NOON, 14, number))
        stored = json.loads(session.scalar(text("SELECT document FROM replaced_cases")))
        assert stored["shape"] == versions.SHAPES["replaced"]
        # As an earlier version might have stored it.
        old = {**stored, "case": {**stored["case"], "device": stored["case"]["unit"]}}
        del old["shape"], old["case"]["unit"]
        session.execute(text("UPDATE replaced_cases SET document = :old"), {"old": json.dumps(old)})

    def named_anew(data):
        told = dict(data["case"])
        return {**data, "case": {**told, "unit": told.pop("device")}} if "device" in told else data

    def without_device(data):
        return {**data, "case": {name: value for name, value in data["case"].items() if name != "device"}}

    monkeypatch.setitem(versions._STEPS, "replaced", (lambda data: without_device(named_anew(data)),))
    monkeypatch.setitem(versions.SHAPES, "replaced", 2)
    with desk.writing() as session:
        while undo_some(session, number, 14):
            pass
        (row,) = session.query(CaseRow)
        assert (row.unit, row.end) == ("U-1", "handed-off")


@pytest.mark.parametrize("table", ["library_steps.shared"])
def test_what_is_written_today_says_its_shape(desk, table):
    name, column = table.split(".")
    with desk.reading() as session:
        found = [json.loads(one) for one in session.scalars(text(f"SELECT {column} FROM {name}"))]
    assert found
    assert {one["shape"] for one in found} == {1}
