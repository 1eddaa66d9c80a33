"""Review over HTTP: findings with the draft, mends, comparison, restoring an edition."""

import pytest

from tests.pages import Page

DRAFT = "/api/playbooks/gate-arm-up/draft"
COMPARE = "/api/playbooks/gate-arm-up/compare"


@pytest.fixture
def wrong(client):
    """A page at a draft whose safeguard stands below what it protects."""
    page = Page(client)
    assert page.move(2, 3).status_code == 200
    return page


def whole(client, path: str):
    while (answer := client.get(path)).status_code == 202:
        pass
    return answer


def test_a_draft_comes_with_what_review_says_of_it(wrong):
    first = wrong.client.get(f"{DRAFT}/review").json["review"][0]
    assert (first["level"], first["code"], first["rung"]) == ("blocker", "safeguard-below", "ladder.2")


def test_a_blocker_stops_publishing_and_one_call_mends_it(client, wrong):
    headers = {"If-Match": f'"{wrong.draft()["revision"]}"'}
    stopped = client.post("/api/playbooks/gate-arm-up/editions", json={"note": "Out"}, headers=headers)
    assert (stopped.status_code, stopped.json["type"]) == (409, "unsound")
    assert "must stand above" in stopped.json["detail"]
    assert [place["key"] for place in stopped.json["places"]] == [wrong.rung(2)["key"]]
    mend = whole(client, f"{DRAFT}/mends").json["mends"][0]
    assert mend["code"] == "safeguard-below"
    deed = {"kind": "mend", "code": mend["code"], "finding": mend["finding"]}
    made = wrong.send(deed=deed)
    assert made.status_code == 200
    assert wrong.rungs()[2] == "save-counts"
    assert made.json["undo"]["label"] == mend["says"]
    assert wrong.send(deed=deed).status_code == 409


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
    back = wrong.send(deed={"kind": "edition", "edition": 1})
    assert back.status_code == 200
    assert wrong.figures()["is_published"]
    assert back.json["undo"]["label"] == "Edition 1 brought back"
    assert wrong.send(deed={"kind": "edition", "edition": 9}).status_code == 404
    wrong.undo()
    assert wrong.rungs()[3] == "save-counts"
