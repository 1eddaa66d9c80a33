"""The API of authoring: revisions as entity tags, refusals as problem documents."""

import pytest

from tests.pages import Page

DRAFT = "/api/playbooks/gate-arm-up/draft"

EDIT = {"client": "pageone01", "number": 1, "base": 1, "group": "group-one"}


def match(revision: int) -> dict[str, str]:
    return {"If-Match": f'"{revision}"'}


def test_figures_come_with_their_revision_as_tag(client):
    answer = client.get(f"{DRAFT}/figures")
    assert answer.headers["ETag"] == '"1"'
    assert answer.headers["Cache-Control"] == "no-store"
    assert len(answer.json["forecast"]["rungs"]) == len(answer.json["rows"]) == 5


def test_of_a_revision_that_has_passed_there_are_no_figures(client):
    Page(client).move(1, 0)
    for what in ("figures", "review"):
        answer = client.get(f"{DRAFT}/{what}?revision=1")
        assert (answer.status_code, answer.mimetype) == (412, "application/problem+json")
        assert answer.json["current"] == 2
        assert "has changed this draft" in answer.json["detail"]


@pytest.mark.parametrize(
    ("tag", "status"),
    [
        ('"1"', 201),
        ("*", 201),
        ('"7", "1"', 201),
        ('W/"1"', 412),
        ('"3"', 412),
        ('W/"1", "3"', 412),
        ('"x"', 412),
        ("1", 201),
        ("", 412),
        (None, 428),
    ],
)
def test_publishing_says_which_revision_it_saw_as_the_standard_says(client, tag, status):
    headers = {} if tag is None else {"If-Match": tag}
    Page(client).move(1, 0)
    headers = {name: value.replace("1", "2") if value == tag else value for name, value in headers.items()}
    answer = client.post("/api/playbooks/gate-arm-up/editions", json={"note": "Out"}, headers=headers)
    assert answer.status_code == status, answer.json
    assert len(client.get("/api/playbooks/gate-arm-up/editions").json["editions"]) == (2 if status == 201 else 1)


@pytest.mark.parametrize(
    ("method", "path", "body", "headers", "field"),
    [
        ("post", f"{DRAFT}/edits", {"client": "short", "number": 1, "base": 1, "group": "group-one"}, {}, "client"),
        ("post", f"{DRAFT}/edits", {**EDIT, "number": -1}, {}, "number"),
        ("post", f"{DRAFT}/edits", EDIT, {}, None),
        ("post", "/api/playbooks/gate-arm-up/editions", {"note": ""}, match(1), "note"),
        ("post", "/api/playbooks", {"title": ""}, {}, "title"),
        ("get", "/api/playbooks/BAD%20ID/draft", None, {}, "playbook_id"),
        ("get", f"{DRAFT}?clients=x", None, {}, "clients"),
    ],
)
def test_a_malformed_request_gets_422_with_the_field(client, method, path, body, headers, field):
    answer = getattr(client, method)(path, json=body, headers=headers)
    assert (answer.status_code, answer.mimetype) == (422, "application/problem+json")
    assert answer.json.get("field") == field


def test_what_is_not_json_is_refused(client):
    answer = client.post(f"{DRAFT}/edits", data=b"{", headers={"Content-Type": "application/json"})
    assert answer.status_code == 422


def test_an_unknown_id_gets_404(client):
    for path in ("/api/playbooks/nothing/draft", "/api/playbooks/nothing/evidence", "/api/cases/none", "/api/none"):
        answer = client.get(path)
        assert (answer.status_code, answer.mimetype) == (404, "application/problem+json")


def test_a_browser_at_which_nobody_sits_writes_nothing(app):
    answer = Page(app.test_client()).move(1, 0)
    assert (answer.status_code, answer.json["type"]) == (403, "no-person")
    assert app.test_client().get(DRAFT).json["revision"] == 1


def test_publishing_makes_the_next_edition(client):
    Page(client).move(1, 0)
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
    # Reading asks for work, too; pages themselves may be linked to.
    assert (
        client.get("/api/playbooks/gate-arm-up/draft/curve", headers=headers).status_code == (403, 200)[status == 201]
    )
    with client.get("/playbooks/gate-arm-up/ladder", headers=headers) as page:
        assert page.status_code != 403


def test_a_cookie_of_another_port_of_this_machine_counts_for_nothing(app):
    """Browsers send it along, for to them a port is no part of where it comes from."""
    browser = app.test_client()
    person = browser.get("/api/me").json["people"][0]["id"]
    browser.put("/api/me", json={"person": person}, base_url="http://127.0.0.1:8474")
    sent = browser.get_cookie("mild-ladder-8474", domain="127.0.0.1").value
    other = app.test_client()
    other.set_cookie("mild-ladder-8474", sent, domain="127.0.0.1")
    assert other.get("/api/me", base_url="http://127.0.0.1:8474").json["person"]
    assert other.get("/api/me", base_url="http://127.0.0.1:9000").json["person"] is None


def test_behind_tls_the_cookie_is_bound_to_this_host(app):
    browser = app.test_client()
    person = browser.get("/api/me").json["people"][0]["id"]
    plain = browser.put("/api/me", json={"person": person}).headers["Set-Cookie"]
    assert plain.startswith("mild-ladder-80=")
    secure = browser.put("/api/me", json={"person": person}, base_url="https://localhost").headers["Set-Cookie"]
    assert secure.startswith("__Host-mild-ladder-443=")
    assert {"Secure", "Path=/", "HttpOnly", "SameSite=Strict"} <= set(secure.split("; "))
    assert "Domain" not in secure
