"""What is wrong with a request is answered with a problem document that says all of it."""

import json

from tests.samples import GATE


def put(client, playbook_id: str, facts):
    body = json.dumps({**GATE, "id": playbook_id, "facts": [*GATE["facts"], *facts]})
    return client.put(f"/api/playbooks/{playbook_id}/file", data=body)


def fact(name: str, **more):
    return {"id": name, "ask": f"Which {name}?", **more}


def test_two_things_wrong_in_one_file_are_both_told(client):
    choices = [fact(name, type="choice", choices={"x": 1}) for name in ("bay", "lane")]
    assert put(client, "one", choices).status_code == 200
    answer = put(client, "two", [fact(name, type="version") for name in ("bay", "lane")])
    assert (answer.status_code, answer.mimetype) == (422, "application/problem+json")
    assert ["'bay'" in answer.json["problems"][0], "'lane'" in answer.json["problems"][1]] == [True, True]
    assert "'bay'" in answer.json["detail"]
    assert "'lane'" in answer.json["detail"]


def test_a_write_that_says_whose_it_is_is_refused_where_somebody_else_sits_here_now(client):
    people = {one["name"]: one["id"] for one in client.get("/api/me").json["people"]}
    here = client.get("/api/me").json["person"]["id"]
    other = next(number for number in people.values() if number != here)
    body = {"id": "climb-whose", "playbook": "gate-arm-up", "started": {}}
    refused = client.post("/api/climbs", json=body, headers={"Mild-Ladder-Person": str(other)})
    assert (refused.status_code, refused.json["type"]) == (403, "other-person")
    assert "nothing was changed" in refused.json["detail"]
    assert client.get("/api/climbs").json["climbs"] == []
    assert client.post("/api/climbs", json=body, headers={"Mild-Ladder-Person": str(here)}).status_code == 201
