"""Names that people log and no step has: said to be a step or one of its own, which is then taken into the ladder."""

import pytest

from tests.api.test_evidence import ID, at_noon, bring, log
from tests.api.test_nudges import told
from tests.pages import Page
from tests.samples import case

NAME = "Arm helped down"


def kinds(client):
    return [one["kind"] for one in told(client)["symptoms"][0]["nudges"]]


def rows(client):
    found = client.get(f"/api/playbooks/{ID}/evidence").json["rows"]
    return {row["step"]: row["counts"]["tried"] for row in found if row["counts"]["tried"]}


def desk_with_odd_names(desk):
    """Half of what the first fix does not end is ended by something that has no step."""
    log(desk, 120)
    made = [
        case(
            1000 + number,
            ("clear-hold", "no-change"),
            (NAME, "fixed" if number % 8 else "no-change"),
            days_ago=number % 90,
            baseline="fails",
        )
        for number in range(160)
    ]
    bring(desk, *made)
    return at_noon(desk)


def say(client, name, step=None):
    return client.post(f"/api/playbooks/{ID}/names", json={"name": name, "step": step})


def test_a_name_is_only_taken_for_a_step_of_its_own_once_a_lead_has_said_so(desk):
    client = desk_with_odd_names(desk)
    assert "adopt" not in kinds(client), "it may well be a step that the ladder has, under another name"
    found = say(client, NAME).json
    (said,) = found["names"]
    assert (said["name"], said["step"], said["title"]) == (NAME, "arm-helped-down", None)
    (row,) = [one for one in found["rows"] if one["step"] == said["step"]]
    assert (row["title"], row["kind"], row["counts"]["tried"]) == (NAME, None, 160)
    assert "adopt" in kinds(client)


def test_it_is_put_in_with_its_rung_counts_as_the_step_and_is_taken_out_in_one(desk):
    client = desk_with_odd_names(desk)
    say(client, NAME)
    symptom = told(client)["symptoms"][0]
    nudge = next(one for one in symptom["nudges"] if one["kind"] == "adopt")
    assert nudge["says"].startswith(f"Take in “{NAME}”, which people do and no step says, ")
    assert nudge["why"] == "It was tried 160 times, and ended 140"
    (step,) = nudge["adds"]
    page = Page(client)
    before = page.rungs()
    deed = {
        "kind": "suggestion",
        "revision": symptom["revision"],
        "ladder": nudge["ladder"],
        "says": nudge["says"],
        "adds": nudge["adds"],
    }
    assert page.send(deed=deed).status_code == 200
    assert sorted(page.rungs()) == sorted([*before, step["id"]])
    (made,) = [one for one in page.figures()["playbook"]["steps"] if one["id"] == step["id"]]
    assert (made["title"], made["fixes"]) == (NAME, step["fixes"])
    assert rows(client)[step["id"]] == 160, "what was logged under the name counts as the step"
    assert "adopt" not in kinds(client)
    assert page.undo().status_code == 200
    assert page.rungs() == before


def test_a_name_that_is_said_to_be_a_step_counts_as_it_until_that_is_taken_back(desk):
    client = desk_with_odd_names(desk)
    tried = rows(client)
    found = say(client, NAME, "reload-program").json
    assert [(one["name"], one["title"]) for one in found["names"]] == [(NAME, "Load the lane unit's program again")]
    assert rows(client)["reload-program"] == tried.get("reload-program", 0) + 160
    assert NAME not in rows(client)
    assert say(client, NAME).status_code == 409, "take it back first"
    back = client.delete(f"/api/playbooks/{ID}/names?name={NAME}")
    assert back.json["names"] == []
    assert rows(client) == tried
    assert client.delete(f"/api/playbooks/{ID}/names?name={NAME}").status_code == 404


def test_another_name_may_be_the_same_step_of_its_own(desk):
    client = desk_with_odd_names(desk)
    bring(desk, *(case(3000 + number, ("Pushed the arm", "no-change")) for number in range(5)))
    own = say(client, NAME).json["names"][0]["step"]
    assert len(say(client, "Pushed the arm", own).json["names"]) == 2
    assert rows(client)[own] == 165


@pytest.mark.parametrize(
    ("name", "step", "status", "says"),
    [
        ("Never heard of", None, 404, "no case of this symptom has"),
        (NAME, "no-such-step", 404, "that step is not there any more"),
        ("clear-hold", None, 409, "is a step by itself"),
        ("Told elsewhere too", None, 409, "other symptoms log"),
    ],
)
def test_what_cannot_be_said_is_refused_in_words(desk, name, step, status, says):
    client = desk_with_odd_names(desk)
    bring(
        desk,
        case(5000, ("Told elsewhere too", "no-change")),
        case(5001, ("Told elsewhere too", "no-change"), symptom="gate-stays-down"),
    )
    refused = say(client, name, step)
    assert (refused.status_code, says in refused.json["detail"]) == (status, True), refused.json


def test_only_a_lead_says_what_a_name_is(desk):
    client = desk_with_odd_names(desk)
    agent = next(one for one in client.get("/api/me").json["people"] if one["role"] == "agent")
    client.put("/api/me", json={"person": agent["id"]})
    assert say(client, NAME).status_code == 403
