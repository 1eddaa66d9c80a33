"""Review over HTTP: findings with the draft, mends, comparison, restoring an edition."""

import pytest

DRAFT = "/api/playbooks/gate-arm-up/draft"
COMPARE = "/api/playbooks/gate-arm-up/compare"
REVERSED = [0, 1, 3, 2, 4]


@pytest.fixture
def wrong(client):
    """The revision of a draft whose safeguard stands below what it protects."""
    draft = client.get(DRAFT).json
    ladder = [draft["playbook"]["ladder"][n] for n in REVERSED]
    body = {"playbook": {**draft["playbook"], "ladder": ladder}, "label": "Turned round"}
    return client.put(DRAFT, json=body, headers={"If-Match": f'"{draft["revision"]}"'}).json


def whole(client, path: str):
    while (answer := client.get(path)).status_code == 202:
        pass
    return answer


def test_a_draft_comes_with_what_review_says_of_it(wrong):
    first = wrong["review"][0]
    assert (first["level"], first["code"], first["rung"]) == ("blocker", "safeguard-below", "ladder.2")


def test_a_blocker_stops_publishing_and_one_call_mends_it(client, wrong):
    headers = {"If-Match": f'"{wrong["revision"]}"'}
    stopped = client.post("/api/playbooks/gate-arm-up/editions", json={"note": "Out"}, headers=headers)
    assert stopped.status_code == 409
    assert "must stand above" in stopped.json["detail"]
    mend = whole(client, f"{DRAFT}/mends").json["mends"][0]
    assert mend["code"] == "safeguard-below"
    body = {"code": mend["code"], "finding": mend["finding"]}
    made = client.post(f"{DRAFT}/mend", json=body, headers=headers)
    assert made.status_code == 200
    assert [rung["step"] for rung in made.json["playbook"]["ladder"]][2] == "save-counts"
    assert made.json["undo"]["label"] == mend["says"]
    again = client.post(f"{DRAFT}/mend", json=body, headers={"If-Match": f'"{made.json["revision"]}"'})
    assert again.status_code == 409


def test_two_documents_are_compared_in_sentences(client, wrong):
    made = client.get(f"{COMPARE}?before=1&after=draft").json
    assert [one["group"] for one in made["sentences"]] == ["order"]
    assert made["after"]["harm"] > made["before"]["harm"]
    assert client.get(f"{COMPARE}?before=1&after=1").json["sentences"] == []


@pytest.mark.parametrize(
    ("query", "status"), [("before=7", 404), ("before=x", 422), ("", 422), ("before=1&after=-1", 422)]
)
def test_what_names_no_document_is_refused(client, query, status):
    assert client.get(f"{COMPARE}?{query}").status_code == status


def test_an_edition_becomes_the_draft_again_as_one_change(client, wrong):
    headers = {"If-Match": f'"{wrong["revision"]}"'}
    back = client.post(f"{DRAFT}/restore", json={"edition": 1}, headers=headers)
    assert back.status_code == 200
    assert back.json["is_published"]
    assert back.json["undo"]["label"] == "Edition 1 brought back"
    assert client.post(f"{DRAFT}/restore", json={"edition": 9}, headers=headers).status_code == 404
