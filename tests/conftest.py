"""Fixtures: a real database for each test, the application over it, and a client at which somebody sits."""

import fcntl
import os
import shutil
from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from flask_openapi3 import OpenAPI
from hypothesis import settings

from mildladder.api.app import create_app
from mildladder.desk.people import add_person
from mildladder.desk.publishing.files import import_playbook
from mildladder.store.database import Database
from tests.samples import GATE, NOON, gate

pytest_plugins = ["tests.shell"]

# How long an example takes says something of the machine, not of the code.
settings.register_profile("no clock", deadline=None)
settings.load_profile("no clock")

LEAD = "R. Tamsin"
# The shell is there from the first; people come in this order.
SHELL, LEAD_ID, AGENT_ID = 1, 2, 3


def sample_desk(path: Path) -> Database:
    """A desk of its own with two people and the sample playbook, published."""
    opened = Database(path)
    with opened.writing() as session:
        assert add_person(session, LEAD, "lead", None, NOON).id == LEAD_ID
        assert add_person(session, "I. Vell", "agent", LEAD_ID, NOON).id == AGENT_ID
        import_playbook(session, gate(), LEAD_ID, NOON, None, "First edition")
    return opened


def made_once(tmp_path_factory: pytest.TempPathFactory, name: str, make: Callable[[Path], None]) -> Path:
    """A file that all processes of a run of tests share: the first that wants it makes it, the others wait for it."""
    folder = tmp_path_factory.getbasetemp()
    if "PYTEST_XDIST_WORKER" in os.environ:
        folder = folder.parent
    path = folder / name
    with (folder / f"{name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not path.exists():
            make(folder / f"unfinished-{name}")
            (folder / f"unfinished-{name}").rename(path)
    return path


@pytest.fixture(scope="session")
def templates(tmp_path_factory) -> Path:
    """A folder with two migrated databases: an empty desk and the sample desk. Migrating one takes longer than most
    tests."""
    folder = tmp_path_factory.mktemp("templates")
    Database(folder / "empty.db").close()
    shutil.copy(folder / "empty.db", folder / "sample.db")
    sample_desk(folder / "sample.db").close()
    shutil.copy(folder / "sample.db", folder / "log.db")
    _with_more_fixes(folder / "log.db")
    return folder


def _with_more_fixes(path: Path) -> None:
    """Let the library know a fix more, so that merges can form chains."""
    opened = Database(path)
    with opened.writing() as session:
        fix = {"id": "hold-off", "title": "Switch the hold off", "kind": "fix", "fixes": {"bad-setting": 0.5}}
        more = gate(id="other", steps=[*GATE["steps"], fix])
        import_playbook(session, more, LEAD_ID, NOON, None, None)
    opened.close()


@pytest.fixture
def database(tmp_path: Path, templates: Path) -> Iterator[Database]:
    """An empty desk."""
    yield from _opened(templates / "empty.db", tmp_path)


@pytest.fixture
def desk(tmp_path: Path, templates: Path) -> Iterator[Database]:
    """A desk with two people and the sample playbook, published."""
    yield from _opened(templates / "sample.db", tmp_path)


def _opened(template: Path, folder: Path) -> Iterator[Database]:
    shutil.copy(template, folder / "desk.db")
    opened = Database(folder / "desk.db")
    yield opened
    opened.close()


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


# Modules of core, store and desk that take longer than `make quick` has for them.
SLOW = {
    f"tests/{module}.py"
    for module in (
        "core/advice/test_adopting",
        "core/advice/test_nudges",
        "core/advice/test_replay",
        "core/advice/test_side_by_side",
        "core/climb/test_guide_is_forecast",
        "core/draft/test_apply",
        "core/draft/test_difference",
        "core/evidence/test_differences",
        "core/evidence/test_estimate",
        "core/evidence/test_taught",
        "core/figures/test_forecast",
        "core/figures/test_forecast_faults",
        "core/figures/test_forecast_features",
        "core/ordering/test_best",
        "core/ordering/test_odd_ladders",
        "core/ordering/test_reasons",
        "core/ordering/test_search",
        "core/quick/test_reading",
        "core/review/test_review",
        "desk/test_home",
        "desk/test_recounting",
        "store/test_cache",
        "store/test_kills",
        "store/test_log_machine",
        "store/test_tallies_say_all",
    )
}


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Mark what `make quick` leaves out."""
    for item in items:
        if item.path.relative_to(config.rootpath).as_posix() in SLOW:
            item.add_marker(pytest.mark.slow)
