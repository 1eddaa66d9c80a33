"""The API of the shared library: newer texts taken into a draft, steps merged, and what is refused."""

import pytest

from mildladder.desk.log.intake import import_cases
from mildladder.desk.publishing.files import import_playbook
from tests.conftest import LEAD, LEAD_ID, SHELL
from tests.pages import Page
from tests.samples import GATE, NOON, case, gate


@pytest.fixture
def newer(desk):
    """A second playbook has brought a newer text of one step, and another step like it."""
    twin = {"id": "hold-off", "title": "Hold off", "kind": "fix"}
    steps = [{**step, "title": "Take it off"} if step["id"] == "clear-hold" else step for step in GATE["steps"]]
    with desk.writing() as session:
        import_playbook(session, gate(id="other", steps=[*steps, twin]), LEAD_ID, NOON, "file", None)


def test_a_newer_text_is_told_and_taken_as_one_change(newer, client):
    page = Page(client)
    waiting = page.figures()["waiting"]
    assert waiting == [{"step": "clear-hold", "version": 1, "newest": 2, "who": LEAD}]
    taken = page.send(deed={"kind": "newer-text", "step": "clear-hold"})
    assert (taken.status_code, taken.json["revision"]) == (200, 2)
    assert page.figures()["waiting"] == []
    assert [step["title"] for step in page.tree.root["steps"] if step["id"] == "clear-hold"] == ["Take it off"]
    page.undo()
    assert [one["step"] for one in page.figures()["waiting"]] == ["clear-hold"]


def test_what_cannot_be_taken_is_refused_and_changes_nothing(newer, client):
    page = Page(client)
    assert page.send(deed={"kind": "newer-text", "step": "wave-through"}).status_code == 409
    assert page.send(deed={"kind": "newer-text", "step": "nothing"}).status_code == 404
    assert page.draft()["revision"] == 1
    assert page.send(deed={"kind": "newer-text", "step": "clear-hold"}).status_code == 200


def test_the_library_tells_where_steps_are_used_and_which_count_as_one(newer, client):
    steps = {step["id"]: step for step in client.get("/api/steps").json["steps"]}
    assert steps["clear-hold"]["used_in"] == ["gate-arm-up", "other"]
    assert (steps["clear-hold"]["version"], steps["hold-off"]["used_in"]) == (2, ["other"])
    merged = client.post("/api/steps/hold-off/merge", json={"into": "clear-hold"})
    after = {step["id"]: step for step in merged.json["steps"]}
    assert after["clear-hold"]["aliases"] == ["hold-off"]
    assert "hold-off" not in after


@pytest.mark.parametrize(
    ("old", "into", "status"),
    [
        ("clear-hold", "clear-hold", 409),
        ("clear-hold", "sensor-look", 409),
        ("clear-hold", "none", 404),
        ("none", "clear-hold", 404),
    ],
)
def test_a_merge_that_makes_no_sense_is_refused(newer, client, old, into, status):
    assert client.post(f"/api/steps/{old}/merge", json={"into": into}).status_code == status
    assert all(not step["aliases"] for step in client.get("/api/steps").json["steps"])


def test_a_browser_at_which_nobody_sits_merges_nothing(newer, app):
    stranger = app.test_client()
    assert stranger.post("/api/steps/hold-off/merge", json={"into": "clear-hold"}).status_code == 403
    assert "hold-off" in {step["id"] for step in stranger.get("/api/steps").json["steps"]}


def test_a_merge_is_shown_before_it_is_made_and_can_be_undone(newer, client, desk):
    with desk.writing() as session:
        logged = [case(1, ("hold-off", "fixed")), case(2, ("hold-off", "no-change"), ("clear-hold", "fixed"))]
        import_cases(session, logged, "import", SHELL, NOON)
    shown = client.get("/api/steps/hold-off/merge?into=clear-hold").json
    assert (shown["cases"], shown["symptoms"]) == (2, [{"title": "Gate arm stays raised", "cases": 2}])
    assert not any(step["aliases"] for step in client.get("/api/steps").json["steps"])
    before = tried(client)
    client.post("/api/steps/hold-off/merge", json={"into": "clear-hold"})
    assert tried(client) == {"clear-hold": 3}
    undone = client.delete("/api/steps/hold-off/merge")
    assert not any(step["aliases"] for step in undone.json["steps"])
    assert tried(client) == before == {"clear-hold": 1, "hold-off": 2}
    assert client.delete("/api/steps/hold-off/merge").status_code == 404


def test_only_a_lead_merges(newer, client):
    people = {one["role"]: one["id"] for one in client.get("/api/me").json["people"]}
    client.post("/api/steps/hold-off/merge", json={"into": "clear-hold"})
    client.put("/api/me", json={"person": people["agent"]})
    answer = client.delete("/api/steps/hold-off/merge")
    assert (answer.status_code, answer.json["type"]) == (403, "not-theirs")
    assert client.post("/api/steps/save-counts/merge", json={"into": "hold-off"}).json["type"] == "not-theirs"


def tried(client) -> dict[str, int]:
    """How often each step was tried, by what the desk shows."""
    rows = client.get("/api/playbooks/gate-arm-up/evidence").json["rows"]
    return {row["step"]: row["counts"]["tried"] for row in rows if row["counts"]["tried"]}
