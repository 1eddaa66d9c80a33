"""What people log and no step says, put into the draft from the Desk: one change, its name counting as it from then on."""

import pytest

from tests.api.test_evidence import ID, at_noon, bring, log
from tests.api.test_nudges import told
from tests.pages import Page
from tests.samples import case

NAME = "Arm helped down"


def adoption(client):
    return next(one for one in told(client)["symptoms"][0]["nudges"] if one["kind"] == "adopt")


def rows(client):
    found = client.get(f"/api/playbooks/{ID}/evidence").json
    return {row["step"]: row["counts"]["tried"] for row in found["rows"]}, found


def desk_with_odd_names(desk, playbook=ID):
    """Half of what the first fix does not end is ended by something that has no step."""
    log(desk, 120)
    made = [
        case(
            1000 + number, ("clear-hold", "no-change"), (NAME, "fixed" if number % 8 else "no-change"),
            days_ago=number % 90, baseline="fails", symptom=playbook,
        )
        for number in range(160)
    ]  # fmt: skip
    bring(desk, *made)
    return at_noon(desk)


def taken(client, nudge, revision):
    deed = {
        "kind": "suggestion", "revision": revision, "ladder": nudge["ladder"], "says": nudge["says"],
        "adds": nudge["adds"], "logged_as": nudge["logged_as"],
    }  # fmt: skip
    page = Page(client)
    return page, page.send(deed=deed)


def test_it_is_put_in_with_its_rung_counts_as_the_step_and_is_taken_out_in_one(desk):
    client = desk_with_odd_names(desk)
    nudge = adoption(client)
    assert nudge["says"].startswith(f"Take in “{NAME}”, which people do and no step says, ")
    assert nudge["why"] == "It was tried 160 times, and ended 140"
    (step,) = nudge["adds"]
    assert nudge["logged_as"] == {step["id"]: NAME}
    before = Page(client).rungs()
    page, answer = taken(client, nudge, told(client)["symptoms"][0]["revision"])
    assert answer.status_code == 200, answer.json
    assert sorted(page.rungs()) == sorted([*before, step["id"]])
    (made,) = [one for one in client.get(f"/api/playbooks/{ID}/draft/figures").json["playbook"]["steps"]
               if one["id"] == step["id"]]  # fmt: skip
    assert (made["title"], made["fixes"]) == (NAME, step["fixes"])
    counts, _ = rows(client)
    assert counts[step["id"]] == 160, "what was logged under the name counts as the step"
    assert "adopt" not in [one["kind"] for one in told(client)["symptoms"][0]["nudges"]]
    assert page.undo().status_code == 200
    assert page.rungs() == before


def test_a_name_that_other_symptoms_log_stays_theirs(desk):
    client = desk_with_odd_names(desk)
    bring(desk, case(5000, (NAME, "no-change"), symptom="gate-stays-down"))
    nudge = adoption(client)
    _, answer = taken(client, nudge, told(client)["symptoms"][0]["revision"])
    assert answer.status_code == 200
    assert rows(client)[0].get(nudge["adds"][0]["id"], 0) == 0


@pytest.mark.parametrize("logged_as", [{"clear-hold": NAME}, {"arm-helped-down": "clear-hold"}])
def test_no_step_of_anybodys_is_made_to_count_as_another(desk, logged_as):
    client = desk_with_odd_names(desk)
    nudge = adoption(client)
    assert nudge["adds"][0]["id"] == "arm-helped-down"
    _, answer = taken(client, {**nudge, "logged_as": logged_as}, told(client)["symptoms"][0]["revision"])
    assert answer.status_code == 200
    assert rows(client)[0]["clear-hold"] == 120 + 160


def test_only_a_lead_says_what_a_name_counts_as(desk):
    client = desk_with_odd_names(desk)
    nudge, revision = adoption(client), told(client)["symptoms"][0]["revision"]
    agent = next(one for one in client.get("/api/me").json["people"] if one["role"] == "agent")
    client.put("/api/me", json={"person": agent["id"]})
    page, answer = taken(client, nudge, revision)
    assert answer.status_code == 403
    assert "arm-helped-down" not in page.rungs()
