"""Orders over HTTP: answers, “not yet”, refusals, and that nothing is saved that was only asked about."""

import pytest

from mildladder.core.figures.forecast import forecast
from mildladder.core.ordering.best import best_order
from tests.pages import Page
from tests.samples import gate

DRAFT = "/api/playbooks/gate-arm-up/draft"


def whole(client, path: str, **more):
    """Ask until the answer is there."""
    while (answer := client.open(path, **more)).status_code == 202:
        assert answer.json == {"working": True}
    return answer


def test_the_best_order_is_that_of_the_core(client):
    answer = whole(client, f"{DRAFT}/order")
    best = best_order(gate())
    assert answer.status_code == 200
    assert answer.json["rungs"] == list(best.order)
    assert answer.json["objective"] == pytest.approx(best.objective)
    assert answer.json["why"][0]["says"]
    quick = whole(client, f"{DRAFT}/order?mode=balanced&rate=0")
    assert quick.json["effort"] <= answer.json["effort"]


def test_curve_reasons_and_suggestions_are_answered(client):
    assert whole(client, f"{DRAFT}/curve").json["draft"]["rungs"] == [0, 1, 2, 3, 4]
    assert len(whole(client, f"{DRAFT}/rungs/0/why").json["moves"]) == 4
    assert "suggestions" in whole(client, f"{DRAFT}/suggestions").json
    assert whole(client, f"{DRAFT}/rungs/9/why").status_code == 422
    assert whole(client, "/api/playbooks/nothing/draft/curve").status_code == 404


def test_what_if_saves_nothing(client):
    before = client.get(DRAFT).json
    body = {"steps": [{"step": "clear-hold", "effort": {"hands_on": 30}}], "rate": 1}
    answer = whole(client, f"{DRAFT}/what-if", method="POST", json=body)
    assert answer.json["now"]["effort"] == pytest.approx(forecast(gate()).effort)
    assert answer.json["then"]["effort"] > answer.json["now"]["effort"]
    assert client.get(DRAFT).json == before
    wrong = whole(client, f"{DRAFT}/what-if", method="POST", json={"weights": {"nothing": 1}})
    assert (wrong.status_code, wrong.json["field"]) == (422, "weights")


def test_an_order_is_taken_as_one_change(client):
    page = Page(client)
    keys = [rung["key"] for rung in page.tree.root["ladder"]]
    order = [keys[4], *keys[:4]]
    taken = page.send(deed={"kind": "order", "order": order})
    assert taken.status_code == 200
    assert page.rungs()[0] == "wave-through"
    assert taken.json["undo"]["label"] == "Another order taken"
    page.undo()
    assert [rung["key"] for rung in page.tree.root["ladder"]] == keys


def test_what_came_since_an_order_was_asked_for_stays_where_it_stands(client):
    page, other = Page(client), Page(client)
    keys = [rung["key"] for rung in page.tree.root["ladder"]]
    new = {"key": "knewrung1", "step": "clear-hold", "note": "Once more"}
    other.send(operations=[{"op": "insert", "parent": "playbook", "list": ["ladder"], "after": keys[1], "item": new}])
    assert page.send(deed={"kind": "order", "order": [keys[4], *keys[:4]]}, base=1).status_code == 200
    assert [rung["key"] for rung in page.tree.root["ladder"]] == [keys[4], *keys[:2], "knewrung1", *keys[2:4]]


def test_rungs_that_an_order_leaves_out_are_taken_out(client):
    page = Page(client)
    keys = [rung["key"] for rung in page.tree.root["ladder"]]
    page.send(deed={"kind": "order", "order": keys[1:], "left_out": [keys[0], "nobody"]})
    assert page.rungs() == ["clear-hold", "save-counts", "reload-program", "wave-through"]
