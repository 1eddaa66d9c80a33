"""Fixtures: a real database for each test, the application over it, and a client at which somebody sits."""

from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from flask_openapi3 import OpenAPI

from mildladder.api.app import create_app
from mildladder.desk.importing import import_playbook
from mildladder.desk.people import add_person
from mildladder.store.database import Database
from tests.samples import NOON, gate

LEAD = "R. Tamsin"


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Database]:
    """An empty desk."""
    opened = Database(tmp_path / "desk.db")
    yield opened
    opened.close()


@pytest.fixture
def desk(database: Database) -> Database:
    """A desk with two people and the sample playbook, published."""
    with database.writing() as session:
        add_person(session, LEAD, "lead", NOON)
        add_person(session, "I. Vell", "agent", NOON)
        import_playbook(session, gate(), LEAD, NOON, None, "First edition")
    return database


@pytest.fixture
def app(desk: Database) -> OpenAPI:
    """The application over the sample desk."""
    return create_app(desk, now=lambda: datetime.now(UTC))


@pytest.fixture
def client(app: OpenAPI) -> FlaskClient:
    """A browser at which the lead sits."""
    browser = app.test_client()
    people = browser.get("/api/me").json["people"]
    browser.put("/api/me", json={"person": next(p["id"] for p in people if p["name"] == LEAD)})
    return browser
