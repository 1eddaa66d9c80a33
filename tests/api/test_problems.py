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
