"""Orders over HTTP: answers, “not yet”, refusals, and that nothing is saved that was only asked about."""

from concurrent.futures import ThreadPoolExecutor
from threading import Event

import pytest

from mildladder.core.errors import BadInput
from mildladder.core.figures.forecast import forecast
from mildladder.core.ordering.best import best_order
from mildladder.core.ordering.exact import Stopped
from mildladder.desk.jobs import Workshop
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


def test_work_that_takes_long_is_asked_for_again_and_done_once():
    shop, go_on, times = Workshop(wait=0), Event(), []

    def work(_stopped):
        times.append(1)
        go_on.wait(10)
        return 42

    assert shop.ask("p", 1, "q", work) is None
    assert shop.ask("p", 1, "q", work) is None
    go_on.set()
    shop.jobs["p", 1, "q"].answer.result(10)
    assert shop.ask("p", 1, "q", work) == 42
    assert times == [1]


def test_work_on_a_draft_that_has_moved_on_is_stopped():
    shop, started, ended = Workshop(wait=0), Event(), Event()

    def work(is_stopped):
        started.set()
        while not is_stopped():
            pass
        ended.set()
        raise Stopped

    assert shop.ask("p", 1, "q", work) is None
    assert started.wait(10)
    shop.moved_on("p", 2)
    assert ended.wait(10)
    assert not shop.jobs


def test_what_work_refuses_is_told_to_whoever_asked():
    def work(_stopped):
        raise BadInput("no")

    with pytest.raises(BadInput, match="no"):
        Workshop(wait=10).ask("p", 1, "q", work)


def test_a_late_question_about_an_older_draft_stops_nothing_and_gets_its_own_answer():
    shop, go_on = Workshop(wait=0), Event()

    def newer(is_stopped):
        go_on.wait(10)
        return "stopped" if is_stopped() else "newer"

    assert shop.ask("p", 2, "q", newer) is None
    assert Workshop.ask(shop, "p", 1, "q", lambda _stopped: "older") in (None, "older")
    shop.jobs["p", 1, "q"].answer.result(10)
    assert shop.ask("p", 1, "q", newer) == "older"
    go_on.set()
    shop.jobs["p", 2, "q"].answer.result(10)
    assert shop.ask("p", 2, "q", newer) == "newer"


def test_whoever_waits_for_work_that_is_dropped_is_told_to_ask_again():
    shop, busy = Workshop(wait=30, workers=1), Event()
    blocker = shop.pool.submit(busy.wait, 30)
    with ThreadPoolExecutor(1) as pool:
        waiting = pool.submit(shop.ask, "p", 1, "q", lambda _stopped: 42)
        while ("p", 1, "q") not in shop.jobs:
            pass
        shop.moved_on("p", 2)
        assert waiting.result(30) is None
    busy.set()
    blocker.result(30)
