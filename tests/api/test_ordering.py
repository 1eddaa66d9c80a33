"""Orders over HTTP: answers, “not yet”, refusals, and that nothing is saved that was only asked about."""

import pytest

from mildladder.core.figures.forecast import forecast
from mildladder.core.ordering.best import best_order
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
    headers = {"If-Match": f'"{client.get(DRAFT).json["revision"]}"'}
    taken = client.post(f"{DRAFT}/reorder", json={"order": [4, 0, 1, 2, 3], "label": "Taken"}, headers=headers)
    assert taken.status_code == 200
    assert taken.json["playbook"]["ladder"][0]["step"] == "wave-through"
    assert taken.json["undo"]["label"] == "Taken"
    stale = client.post(f"{DRAFT}/reorder", json={"order": [4, 0, 1, 2, 3], "label": "Again"}, headers=headers)
    assert stale.status_code == 412


@pytest.mark.parametrize(
    ("order", "status"), [([0, 1, 2, 3], 422), ([0, 0, 1, 2, 3], 422), ([0, 1, 2, 3, 9], 422), ([3, 0, 1, 2, 4], 409)]
)
def test_an_order_that_is_none_or_breaks_a_rule_is_refused(client, order, status):
    headers = {"If-Match": f'"{client.get(DRAFT).json["revision"]}"'}
    assert client.post(f"{DRAFT}/reorder", json={"order": order, "label": "No"}, headers=headers).status_code == status
