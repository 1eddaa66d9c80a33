"""Figures that are asked for together with the edit that makes them wait until it is there."""

from threading import Thread

import pytest

from mildladder.desk.drafts.arrivals import Arrivals
from tests.pages import Page

DRAFT = "/api/playbooks/gate-arm-up/draft"


@pytest.fixture
def page(client):
    return Page(client)


def test_figures_of_the_edit_that_is_on_its_way_wait_for_it(page, client, monkeypatch):
    """A page asks for both at once, so the figures may be asked for first."""
    came = []

    def comes(_arrivals: Arrivals, playbook_id: str, revision: int) -> None:
        came.append((playbook_id, revision))
        assert page.move(1, 0).json["revision"] == revision

    monkeypatch.setattr(Arrivals, "wait", comes)
    figures = client.get(f"{DRAFT}/figures?revision=2")
    assert (figures.status_code, figures.json["revision"], came) == (200, 2, [("gate-arm-up", 2)])
    assert client.get(f"{DRAFT}/figures?revision=2").status_code == 200
    assert client.get(f"{DRAFT}/figures?revision=4").status_code == 412
    assert len(came) == 1


def test_whoever_waits_for_an_edit_is_told_of_it_and_of_none_in_vain():
    arrivals = Arrivals()
    waiting = Thread(target=arrivals.wait, args=("gate-arm-up", 3))
    waiting.start()
    arrivals.arrived("kiosk-no-card-pad", 3)
    arrivals.arrived("gate-arm-up", 2)
    arrivals.arrived("gate-arm-up", 3)
    waiting.join(10)
    assert not waiting.is_alive()
    arrivals.wait("gate-arm-up", 3)
