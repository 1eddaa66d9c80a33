"""The API of authoring: revisions as entity tags, refusals as problem documents."""

import pytest

from tests.samples import GATE

DRAFT = "/api/playbooks/gate-arm-up/draft"


def match(revision: int) -> dict[str, str]:
    return {"If-Match": f'"{revision}"'}


def test_a_draft_comes_with_figures_and_its_revision_as_tag(client):
    answer = client.get(DRAFT)
    assert answer.headers["ETag"] == '"1"'
    assert answer.headers["Cache-Control"] == "no-store"
    assert len(answer.json["forecast"]["rungs"]) == len(answer.json["rows"]) == 5


def test_a_document_sent_back_unchanged_makes_no_revision(client):
    draft = client.get(DRAFT).json
    answer = client.put(DRAFT, json={"playbook": draft["playbook"], "label": "Nothing"}, headers=match(1))
    assert answer.json["revision"] == 1


def test_a_move_answers_with_the_new_figures(client):
    answer = client.post(f"{DRAFT}/move", json={"source": 1, "target": 0}, headers=match(1))
    assert (answer.status_code, answer.json["revision"]) == (200, 2)
    assert answer.json["playbook"]["ladder"][0]["step"] == "clear-hold"


def test_a_stale_save_gets_412_with_the_current_revision(client):
    client.post(f"{DRAFT}/move", json={"source": 1, "target": 0}, headers=match(1))
    answer = client.post(f"{DRAFT}/move", json={"source": 4, "target": 0}, headers=match(1))
    assert (answer.status_code, answer.mimetype) == (412, "application/problem+json")
    assert answer.json["current"] == 2
    assert "has changed this draft" in answer.json["detail"]


def test_a_held_move_gets_409_with_what_holds_it(client):
    answer = client.post(f"{DRAFT}/move", json={"source": 2, "target": 3}, headers=match(1))
    assert (answer.status_code, answer.json["type"], answer.json["holders"]) == (409, "held", [3])


@pytest.mark.parametrize(
    ("tag", "status"),
    [('"1"', 200), ("*", 200), ('"7", "1"', 200), ('W/"1"', 412), ('"2"', 412), ('W/"1", "3"', 412), ('"x"', 412),
     ("1", 200), ("", 412), (None, 428)],
)  # fmt: skip
def test_a_write_says_which_revision_it_saw_as_the_standard_says(client, tag, status):
    headers = {} if tag is None else {"If-Match": tag}
    answer = client.post(f"{DRAFT}/move", json={"source": 1, "target": 0}, headers=headers)
    assert answer.status_code == status, answer.json
    assert status == 200 or client.get(DRAFT).json["revision"] == 1


@pytest.mark.parametrize(
    ("method", "path", "body", "headers", "field"),
    [
        ("post", f"{DRAFT}/move", {"source": -1, "target": 0}, match(1), "source"),
        ("post", f"{DRAFT}/move", {"source": 99, "target": 0}, match(1), "source"),
        ("post", f"{DRAFT}/move", {"source": "1", "target": 0}, match(1), "source"),
        ("put", DRAFT, {"playbook": {**GATE, "id": "other"}, "label": "x"}, match(1), "playbook.id"),
        ("put", DRAFT, {"playbook": {**GATE, "colour": "red"}, "label": "x"}, match(1), "playbook.colour"),
        ("put", DRAFT, {"playbook": {**GATE, "ladder": [{"step": "none"}]}, "label": "x"}, match(1), "ladder.0.step"),
        ("post", "/api/playbooks/gate-arm-up/editions", {"note": ""}, match(1), "note"),
        ("get", "/api/playbooks/BAD%20ID/draft", None, {}, "playbook_id"),
    ],
)
def test_a_malformed_request_gets_422_with_the_field(client, method, path, body, headers, field):
    answer = getattr(client, method)(path, json=body, headers=headers)
    assert (answer.status_code, answer.mimetype) == (422, "application/problem+json")
    assert answer.json["field"] == field


def test_what_is_not_json_is_refused(client):
    answer = client.post(f"{DRAFT}/move", data=b"{", headers={**match(1), "Content-Type": "application/json"})
    assert answer.status_code == 422


def test_an_unknown_id_gets_404(client):
    for path in ("/api/playbooks/nothing/draft", "/api/playbooks/nothing/evidence", "/api/cases/none", "/api/none"):
        answer = client.get(path)
        assert (answer.status_code, answer.mimetype) == (404, "application/problem+json")


def test_a_browser_at_which_nobody_sits_writes_nothing(app):
    answer = app.test_client().post(f"{DRAFT}/move", json={"source": 1, "target": 0}, headers=match(1))
    assert (answer.status_code, answer.json["type"]) == (403, "no-person")
    assert app.test_client().get(DRAFT).json["revision"] == 1


def test_publishing_makes_the_next_edition(client):
    client.post(f"{DRAFT}/move", json={"source": 1, "target": 0}, headers=match(1))
    answer = client.post("/api/playbooks/gate-arm-up/editions", json={"note": "Setting first"}, headers=match(2))
    assert (answer.status_code, answer.json["number"], answer.json["who"]) == (201, 2, "R. Tamsin")
    listed = client.get("/api/playbooks/gate-arm-up/editions").json["editions"]
    assert [edition["number"] for edition in listed] == [2, 1]


def test_another_name_for_this_machine_is_refused(client):
    assert client.get("/api/symptoms", headers={"Host": "desk.example"}).status_code == 403
    assert client.get("/api/symptoms", headers={"Host": "localhost:8474"}).status_code == 200


def test_somebody_new_can_sit_down(client):
    added = client.post("/api/people", json={"name": "N. Oake", "role": "agent"})
    assert added.status_code == 201
    assert client.put("/api/me", json={"person": added.json["id"]}).json["person"]["name"] == "N. Oake"
    assert client.post("/api/people", json={"name": "N. Oake", "role": "agent"}).status_code == 409
    twin = client.post("/api/people", json={"name": "N. \u041eake", "role": "agent"})
    assert (twin.status_code, "looks like N. Oake" in twin.json["detail"]) == (409, True)
    assert client.put("/api/me", json={"person": 999}).status_code == 404


def test_reading_for_the_first_time_writes_nothing_and_waits_for_no_writer(desk, client):
    with desk.writing():
        for path in ("symptoms", "playbooks/gate-arm-up/evidence", "playbooks/gate-arm-up/draft", "climbs", "cases"):
            assert client.get(f"/api/{path}").status_code == 200, path


@pytest.mark.parametrize(
    "name", [" ", "\u00a0", " N. Oake", "N.  Oake", "N.\tOake", "N\u202eekaO", "N\u200bOake", "...", "N\n"]
)
def test_a_name_has_letters_that_can_be_seen(client, name):
    answer = client.post("/api/people", json={"name": name, "role": "agent"})
    assert (answer.status_code, answer.json["field"]) == (422, "name")


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 201),
        ({"Origin": "http://localhost"}, 201),
        ({"Sec-Fetch-Site": "same-origin"}, 201),
        ({"Origin": "http://localhost:8000"}, 403),
        ({"Origin": "https://desk.example"}, 403),
        ({"Origin": "null"}, 403),
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Sec-Fetch-Site": "same-site"}, 403),
    ],
)
def test_a_write_from_another_site_is_refused(client, headers, status):
    assert client.post("/api/people", json={"name": "N. Oake", "role": "agent"}, headers=headers).status_code == status
    assert client.get("/api/me", headers=headers).status_code == 200


def test_behind_tls_the_cookie_is_bound_to_this_host(app):
    browser = app.test_client()
    person = browser.get("/api/me").json["people"][0]["id"]
    plain = browser.put("/api/me", json={"person": person}).headers["Set-Cookie"]
    assert plain.startswith("mild-ladder=")
    secure = browser.put("/api/me", json={"person": person}, base_url="https://localhost").headers["Set-Cookie"]
    assert secure.startswith("__Host-mild-ladder=")
    assert {"Secure", "Path=/", "HttpOnly", "SameSite=Strict"} <= set(secure.split("; "))
    assert "Domain" not in secure


def test_a_draft_whose_figures_would_take_too_long_is_refused_with_the_reason(client):
    facts = [{"id": f"f{n}", "ask": "?", "type": "yes-no", "shares": {"yes": 0.5, "no": 0.5}} for n in range(12)]
    ladder = [{**GATE["ladder"][0], "when": f"f{n} is yes"} for n in range(12)]
    body = {"playbook": {**GATE, "facts": [*GATE["facts"], *facts], "ladder": ladder}, "label": "x"}
    answer = client.put(DRAFT, json=body, headers=match(1))
    assert (answer.status_code, answer.json["field"]) == (422, "ladder")
    assert "sorts of units" in answer.json["detail"]
    assert client.get(DRAFT).json["revision"] == 1
