"""A playbook begun from the log of a symptom that has none, over HTTP."""

import pytest

from mildladder.api.app import create_app
from mildladder.desk.work.kinds import run_waiting
from tests.api.test_evidence import Nobody, at_noon, bring
from tests.conftest import AGENT_ID, LEAD_ID
from tests.samples import NOON, case

BOARD = "board-dark"


def log_board(desk, count=60):
    """Cases of a symptom without a playbook: one step that the library has, and two under other systems' names."""
    made = []
    for number in range(count):
        tries = [
            {"step": "clear-hold", "outcome": "no-change", "minutes": 2},
            {"step": "Switched it off & on", "outcome": "fixed" if number % 3 else "no-change", "minutes": 6},
        ]
        if number % 3 == 0:
            tries.append({"step": "swap-lamp", "outcome": "fixed" if number % 2 else "no-change", "minutes": 20})
        ended = next((one["step"] for one in tries if one["outcome"] == "fixed"), None)
        made.append(
            case(
                500 + number,
                symptom=BOARD,
                attempts=tries,
                days_ago=number % 50,
                resolved_by=ended,
                facts={"model": "GR4" if number % 4 else "GR6"},
                end="resolved" if ended else "handed-off",
            )
        )
    bring(desk, *made)


@pytest.fixture
def client(desk):
    log_board(desk)
    return at_noon(desk)


def ladder(client, symptom=BOARD):
    return client.get(f"/api/first-ladders/{symptom}")


def begin(client, **about):
    return client.post(f"/api/first-ladders/{BOARD}", json={"title": "Board is dark", **about})


def test_symptoms_without_a_playbook_are_listed_with_their_cases(client, desk):
    bring(desk, case(900, ("clear-hold", "fixed"), symptom="rare"))
    assert client.get("/api/first-ladders").json["symptoms"] == [
        {"symptom": BOARD, "called": "Board dark", "cases": 60, "is_enough": True},
        {"symptom": "rare", "called": "Rare", "cases": 1, "is_enough": False},
    ]


def test_what_was_tried_is_proposed_in_the_best_order_with_medians_and_what_the_log_says(client):
    made = ladder(client).json
    assert made["cases"] == 60
    assert {one["title"] for one in made["steps"]} == {
        "Switched it off & on",
        "Swap lamp",
        "Clear the hold-open setting",
    }
    first = made["steps"][0]
    assert first["title"] == "Switched it off & on"
    assert first["minutes"] == pytest.approx(6, rel=0.05)
    assert "tried 60 times, ended 40; if tried first it ends about" in first["says"]


def test_it_becomes_a_draft_whose_steps_count_what_was_logged_under_other_names(client, desk):
    ladder(client)
    assert begin(client, says="It shows nothing", team="Harbour crew").json == {"playbook": BOARD}
    rows = client.get(f"/api/playbooks/{BOARD}/evidence").json["rows"]
    assert {row["title"]: row["counts"]["tried"] for row in rows} == {
        "Switched it off & on": 60,
        "Swap lamp": 20,
        "Clear the hold-open setting": 60,
    }
    shown = client.get(f"/api/playbooks/{BOARD}/draft/figures").json
    assert shown["rows"][0]["says"] == "Switched it off & on"
    form = client.get(f"/api/playbooks/{BOARD}/draft").json["form"]
    assert form["title"] == "Board is dark"
    assert all(rung["note"].startswith("A guess from the log") for rung in form["ladder"])
    (model,) = form["facts"]
    assert model["choices"] == {"GR4": 0.75, "GR6": 0.25}
    published = client.post(
        f"/api/playbooks/{BOARD}/editions",
        json={"note": "From the log"},
        headers={"If-Match": f'"{client.get(f"/api/playbooks/{BOARD}/draft").json["revision"]}"'},
    )
    assert published.status_code == 201, published.json
    assert client.get("/api/first-ladders").json["symptoms"] == []


def test_a_name_that_other_symptoms_log_too_is_not_taken_for_the_same_there(client, desk):
    bring(desk, case(901, ("Switched it off & on", "fixed")))
    ladder(client)
    assert begin(client).status_code == 201
    rows = client.get("/api/playbooks/gate-arm-up/evidence").json["rows"]
    assert [row["step"] for row in rows if row["kind"] is None] == ["Switched it off & on"]


def test_what_cannot_be_proposed_or_begun_is_said(client, desk):
    bring(desk, case(902, ("clear-hold", "fixed"), symptom="rare"))
    assert "no step was tried 10 times" in ladder(client, "rare").json["detail"]
    assert ladder(client, "never-seen").status_code == 404
    assert ladder(client, "gate-arm-up").status_code == 409
    assert begin(client).status_code == 404, "nothing was proposed yet"
    waiting = create_app(desk, now=lambda: NOON, workers=Nobody()).test_client()
    assert ladder(waiting).status_code == 202
    assert ladder(client).status_code in (200, 202)
    client.put("/api/me", json={"person": AGENT_ID})
    assert begin(client).status_code in (403, 404)
    client.put("/api/me", json={"person": LEAD_ID})


def test_whoever_waits_for_a_first_ladder_does_not_wait_for_what_to_do_next_of_all_symptoms(desk):
    log_board(desk)
    bring(desk, *(case(number, ("clear-hold", "fixed")) for number in range(40)))
    client = at_noon(desk, Nobody())
    assert client.get("/api/nudges").json["waiting"] == 1
    assert ladder(client).status_code == 202
    run_waiting(desk, "proposing")
    assert ladder(client).json["cases"] == 60
    assert client.get("/api/nudges").json["waiting"] == 1
