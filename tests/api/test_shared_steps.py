"""Steps that playbooks share: found for a typed line, put in with all that they name, changed here or for all."""

import pytest

from mildladder.core.model import Playbook
from mildladder.desk.log.intake import import_cases
from mildladder.desk.publishing.files import import_playbook
from mildladder.exchange.pictures import Picture
from tests.conftest import LEAD, LEAD_ID
from tests.pages import Page
from tests.samples import GATE, NOON, case, gate

OTHER: dict = {
    "format": "mild-ladder/playbook/1",
    "id": "kiosk-faint",
    "title": "Kiosk prints faint",
    "symptom": {"says": "The ticket is blank"},
    "facts": [{"id": "roll", "ask": "Which roll?", "type": "choice", "choices": {"narrow": 0.5, "wide": 0.5}}],
    "causes": [{"id": "head-worn", "title": "Head worn", "layer": "hardware"}],
    "steps": [
        {"id": "note-count", "title": "Note the count", "kind": "safeguard"},
        {
            "id": "print-test",
            "title": "Print the test strip",
            "kind": "check",
            "findings": [
                {"id": "faint", "title": "Faint", "given": {"*": 0.7}},
                {"id": "dark", "title": "Dark", "given": {"*": 0.3}},
            ],
            "varies": [{"when": "roll is wide", "effort": {"hands_on": 3}}],
            "hazards": [{"kind": "data", "severity": 2, "chance": 0.1, "eased_by": "note-count", "eased_to": 0.1}],
        },
        {"id": "swap-head", "title": "Swap the head", "kind": "fix", "fixes": {"head-worn": "often"}},
    ],
    "ladder": [{"step": "note-count"}, {"step": "print-test"}, {"step": "swap-head"}],
}


@pytest.fixture
def two(desk, client):
    """A second playbook, and a third that shares a step with the first."""
    shared = [step for step in GATE["steps"] if step["id"] in ("clear-hold", "save-counts", "reload-program")]
    ladder = [{"step": step["id"]} for step in shared]
    with desk.writing() as session:
        import_playbook(session, Playbook.model_validate(OTHER), LEAD_ID, NOON, None, None)
        third = gate(id="gate-slow", title="Gate arm is slow", steps=shared, ladder=ladder)
        import_playbook(session, third, LEAD_ID, NOON, None, None)
    return client


def found(client, text: str, playbook: str | None = "gate-arm-up") -> list:
    answer = client.get("/api/found-steps", query_string={"text": text} | ({"playbook": playbook} if playbook else {}))
    assert answer.status_code == 200
    return answer.json["steps"]


def test_a_typed_line_finds_what_others_have_and_how_it_does_there(two, desk):
    (strip,) = found(two, "TEST print")
    assert (strip["id"], strip["kind"], strip["also"]) == ("print-test", "check", None)
    assert strip["used_in"] == [{"title": "Kiosk prints faint", "tried": 0, "resolved": 0}]
    assert found(two, "clear the hold") == []  # this playbook has it
    with desk.writing() as session:
        import_cases(session, [case(1, ("clear-hold", "fixed"), symptom="gate-slow")], "import", LEAD_ID, NOON)
    (hold,) = found(two, "clear the hold", "kiosk-faint")
    assert {"title": "Gate arm is slow", "tried": 1, "resolved": 1} in hold["used_in"]
    assert found(two, "  ") == []
    assert found(two, "x" * 300) == []


def test_a_merged_step_is_found_by_its_other_name(two):
    two.post("/api/steps/swap-head/merge", json={"into": "clear-hold"})
    (step,) = found(two, "swap", None)
    assert (step["id"], step["also"]) == ("clear-hold", "Swap the head")


def insert_shared_step(page: Page, step: str, rung: str, after: str | None):
    deed = {
        "kind": "library-step",
        "step": step,
        "rung": rung,
        "parent": "playbook",
        "list": ["ladder"],
        "after": after,
    }
    return page.send(deed=deed)


def test_a_step_comes_with_what_it_names_and_stands_where_it_was_typed(two):
    page = Page(two)
    first = page.rung(0)["key"]
    assert insert_shared_step(page, "print-test", "newrung1", first).status_code == 200
    assert page.rung(1)["key"] == "newrung1"
    figures = page.figures()
    assert figures["instead"] == []
    steps = {step["id"]: step for step in figures["playbook"]["steps"]}
    assert steps["print-test"]["findings"][0]["given"] == {"*": 0.5}  # what the other playbook said is not said here
    assert "note-count" in steps
    assert [fact["id"] for fact in figures["playbook"]["facts"]] == ["model", "roll"]
    assert page.draft()["flaws"] == []
    again = insert_shared_step(page, "print-test", "newrung2", "newrung1")
    assert again.status_code == 200
    assert len([one for one in page.tree.root["steps"] if one.get("id") == "print-test"]) == 1
    page.undo()
    page.undo()
    assert "print-test" not in page.rungs()
    assert insert_shared_step(page, "print-test", "newrung3", None).status_code == 200  # what was taken out is put back
    assert page.rungs()[0] == "print-test"


def test_what_the_library_lacks_is_refused(two):
    page = Page(two)
    assert insert_shared_step(page, "no-such-step", "newrung1", None).status_code == 404
    assert page.draft()["revision"] == 1


def step_key(page: Page, step: str) -> str:
    return next(one["key"] for one in page.tree.root["steps"] if one.get("id") == step or one.get("name") == step)


def beside(client, page: Page, key: str):
    answer = client.get(f"{page.path}/draft/steps/{key}/library")
    assert answer.status_code == 200
    return answer.json["library"]


def test_a_step_that_others_use_says_so_and_whether_it_says_the_same(two):
    page = Page(two)
    key = step_key(page, "clear-hold")
    there = beside(two, page, key)
    assert (there["used_in"], there["is_alike"], there["version"], there["who"]) == (
        ["Gate arm is slow"],
        True,
        1,
        LEAD,
    )
    page.type(key, ["effort", "hands_on"], 30)
    assert beside(two, page, key)["is_alike"] is False
    page.type(key, ["fixes", page.tree.root["causes"][1]["key"]], 0.2)
    page.type(key, ["effort", "hands_on"], 2)
    assert beside(two, page, key)["is_alike"] is True  # what it ends is this playbook's alone
    assert two.get(f"{page.path}/draft/steps/nosuchkey/library").status_code == 404


def test_everywhere_tells_what_becomes_of_others_and_waits_there(two):
    page, other = Page(two), Page(two, "gate-slow")
    key = step_key(page, "clear-hold")
    page.type(key, ["effort", "hands_on"], 30)
    would = two.get(f"{page.path}/draft/steps/{key}/everywhere").json
    (slow,) = would["playbooks"]
    assert (slow["title"], slow["wrong"]) == ("Gate arm is slow", None)
    before = other.figures()["forecast"]
    assert slow["now"]["effort"] == pytest.approx(before["effort"], abs=1e-12)
    assert page.send(deed={"kind": "everywhere", "step": key}).status_code == 200
    assert beside(two, page, key)["is_alike"] is True
    assert page.figures()["waiting"] == []
    assert [one["step"] for one in other.figures()["waiting"]] == ["clear-hold"]
    other.send(deed={"kind": "newer-text", "step": "clear-hold"})
    assert other.figures()["forecast"]["effort"] == pytest.approx(slow["then"]["effort"], abs=1e-9)
    assert slow["then"]["effort"] > slow["now"]["effort"]


def test_everywhere_is_refused_where_it_would_say_nothing_or_run_over_anothers_text(two):
    page, other = Page(two), Page(two, "gate-slow")
    key, theirs = step_key(page, "clear-hold"), step_key(other, "clear-hold")
    assert page.send(deed={"kind": "everywhere", "step": key}).status_code == 409
    page.type(key, ["say"], "Please wait")
    other.type(theirs, ["say"], "One moment")
    assert other.send(deed={"kind": "everywhere", "step": theirs}).status_code == 200
    late = page.send(deed={"kind": "everywhere", "step": key})
    assert late.status_code == 409
    assert "take that into this draft first" in late.json["detail"]
    page.type(key, ["kind"], "workaround")
    assert page.send(deed={"kind": "everywhere", "step": key}).status_code == 409


def test_what_is_made_here_is_the_librarys_once_it_is_published(two):
    page = Page(two)
    step = {"key": "madehere01", "kind": "fix", "title": "Tap the arm", "effort": {"hands_on": 1}}
    rung = {"key": "madehere02", "step": "madehere01"}
    page.send(
        operations=[
            {"op": "insert", "parent": "playbook", "list": [name], "after": None, "before": None, "item": item}
            for name, item in (("steps", step), ("ladder", rung))
        ]
    )
    assert found(two, "tap the arm", None) == []
    tag = f'"{page.draft()["revision"]}"'
    published = two.post(f"{page.path}/editions", json={"note": "With a tap"}, headers={"If-Match": tag})
    assert published.status_code == 201, published.json
    (tapped,) = found(two, "tap the arm", None)
    assert [one["title"] for one in tapped["used_in"]] == ["Gate arm stays raised"]
    assert beside(two, page, "madehere01")["is_alike"] is True
    assert page.figures()["is_published"] is True


def test_a_step_brings_its_pictures_and_another_picture_of_that_name_is_told(two, desk):
    lamp = Picture("image/png", b"lamp")
    shown = {
        "id": "look-lamp",
        "title": "Look at the lamp",
        "kind": "check",
        "do": [{"text": "Look", "picture": "lamp.png"}],
    }
    with desk.writing() as session:
        playbook = gate(id="lamp-dark", title="Lamp is dark", steps=[*GATE["steps"], shown])
        import_playbook(session, playbook, LEAD_ID, NOON, "file", None, pictures={"lamp.png": lamp})
    page = Page(two, "kiosk-faint")
    assert insert_shared_step(page, "look-lamp", "newrung1", None).status_code == 200
    assert page.figures()["pictures"] == {"lamp.png": lamp.digest}
    with desk.writing() as session:
        mine = {**shown, "id": "look-lamp-too", "title": "Look at the other lamp"}
        playbook = gate(id="lamp-blinks", title="Lamp blinks", steps=[*GATE["steps"], mine])
        red = Picture("image/png", b"another lamp")
        import_playbook(session, playbook, LEAD_ID, NOON, "file", None, pictures={"lamp.png": red})
    other = Page(two, "lamp-blinks")
    refused = insert_shared_step(other, "look-lamp", "newrung2", None)
    assert (refused.status_code, "another picture 'lamp.png'" in refused.json["detail"]) == (409, True)
