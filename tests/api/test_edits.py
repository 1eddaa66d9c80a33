"""Edits over HTTP: taken once and in order, told to all, undone by their own, refused in words, never a broken draft."""

import json

import pytest

from mildladder.core.draft.tree import Tree
from mildladder.core.model import Playbook
from tests.conftest import AGENT_ID, LEAD_ID
from tests.pages import Page
from tests.samples import GATE

DRAFT = "/api/playbooks/gate-arm-up/draft"
EDITIONS = "/api/playbooks/gate-arm-up/editions"


def sit(client, person: int) -> None:
    assert client.put("/api/me", json={"person": person}).status_code == 200


@pytest.fixture
def colleague(app):
    """A page of somebody else's, at another browser."""
    browser = app.test_client()
    sit(browser, AGENT_ID)
    return Page(browser)


@pytest.fixture
def page(client):
    return Page(client)


def conflicts(page: Page) -> list[dict]:
    return [one for one in page.tree.root.get("conflicts", []) if not one.get("out")]


def test_an_edit_is_answered_with_its_number_and_little_more(page):
    note = page.type(page.rung(0)["key"], ["note"], "Costs nothing")
    assert (note.status_code, note.json["revision"], note.json["next"]) == (200, 2, 2)
    (told,) = note.json["since"]
    assert (told["revision"], told["sent"], told["done"], told["label"]) == (
        2,
        1,
        None,
        "“Read the home sensor”: note added",
    )
    assert len(note.data) < 3000
    assert page.figures()["playbook"]["ladder"][0]["note"] == "Costs nothing"


def test_an_edit_that_was_taken_already_changes_nothing_and_is_answered(page):
    key = page.rung(0)["key"]
    page.type(key, ["note"], "Once")
    again = page.type(key, ["note"], "Twice", number=1)
    assert (again.status_code, again.json["next"], again.json["revision"]) == (200, 2, 2)
    assert page.tree.value(key, ("note",)) == "Once"


def test_a_number_that_does_not_follow_is_told_which_is_next(page):
    answer = page.type(page.rung(0)["key"], ["note"], "Too soon", number=5)
    assert (answer.status_code, answer.json["type"], answer.json["next"]) == (409, "outrun", 1)
    assert page.draft()["revision"] == 1


def test_the_draft_tells_what_was_taken_of_each_client_that_is_asked_for(page):
    page.type(page.rung(0)["key"], ["note"], "Kept")
    asked = page.client.get(f"{DRAFT}?clients={page.name},othernobody").json
    assert asked["next"] == {page.name: 2}


def test_everybody_hears_what_was_done_in_order(page, colleague):
    page.type(page.rung(0)["key"], ["note"], "One")
    page.move(1, 0)
    heard = colleague.client.get(f"{DRAFT}/edits?base=1").json
    assert [(one["revision"], one["who"]) for one in heard["since"]] == [(2, "R. Tamsin"), (3, "R. Tamsin")]
    assert all(one["done"] for one in heard["since"])
    assert heard["since"][1]["place"] == "Clear the hold-open setting"


def test_who_else_is_here_is_told_and_nothing_new_costs_nothing(page, colleague):
    first = page.client.get(f"{DRAFT}/edits?base=1")
    assert first.json["here"] == []
    again = page.client.get(f"{DRAFT}/edits?base=1", headers={"If-None-Match": first.headers["ETag"]})
    assert (again.status_code, again.data) == (304, b"")
    assert colleague.client.get(f"{DRAFT}/edits?base=1").json["here"] == ["R. Tamsin"]
    told = page.client.get(f"{DRAFT}/edits?base=1", headers={"If-None-Match": first.headers["ETag"]})
    assert (told.status_code, told.json["here"]) == (200, ["I. Vell"])


def test_where_much_has_come_since_the_whole_form_is_sent(page):
    key = page.rung(0)["key"]
    for number in range(201):
        page.type(key, ["note"], f"Text {number}", was=None if number == 0 else f"Text {number - 1}", base=1)
    heard = page.client.get(f"{DRAFT}/edits?base=1").json
    assert (heard["since"], heard["revision"]) == ([], 202)
    assert Tree(heard["form"]).value(key, ("note",)) == "Text 200"
    assert page.client.get(f"{DRAFT}/edits?base=900").json["form"] is not None
    assert len(page.client.get(f"{DRAFT}/edits?base=2").json["since"]) == 200


# Two people


def test_two_people_in_one_field_keep_both_texts_until_one_settles_it(page, colleague):
    key = page.rung(0)["key"]
    page.type(key, ["note"], "Mine")
    answer = colleague.type(key, ["note"], "Theirs", was=None, base=1)
    (conflict,) = conflicts(page)
    assert answer.json["conflicts"] == [conflict["key"]]
    assert (conflict["mine"], conflict["who"], conflict["by"]) == ("Theirs", AGENT_ID, LEAD_ID)
    tree = page.tree
    keep = [
        {"op": "set", "key": key, "path": ["note"], "was": "Mine", "value": "Theirs"},
        {"op": "remove", "key": conflict["key"], "was": tree.taken(conflict["key"])},
    ]
    assert page.send(operations=keep).status_code == 200
    assert (page.tree.value(key, ("note",)), conflicts(page)) == ("Theirs", [])


def test_each_undoes_their_own_and_leaves_the_others(page, colleague):
    page.type(page.rung(0)["key"], ["note"], "Mine")
    colleague.move(1, 0)
    page.undo()
    assert page.rungs()[0] == "clear-hold"
    assert "note" not in page.rung(1)
    assert page.draft()["undo"] is None
    assert colleague.draft()["undo"]["label"].endswith("moved from 2 to 1")


def test_what_somebody_changed_since_is_not_undone_but_told(page, colleague):
    key = page.rung(0)["key"]
    page.type(key, ["note"], "Mine")
    colleague.type(key, ["note"], "Theirs")
    page.undo()
    (conflict,) = conflicts(page)
    assert page.tree.value(key, ("note",)) == "Theirs"
    assert (conflict["why"], conflict["by"]) == ("changed", AGENT_ID)


def test_nobody_sends_anothers_edits(page, client, colleague):
    page.type(page.rung(0)["key"], ["note"], "Mine")
    sit(client, AGENT_ID)
    refused = page.type(page.rung(0)["key"], ["note"], "In another's name")
    assert (refused.status_code, refused.json["type"]) == (403, "not-theirs")
    sit(client, LEAD_ID)
    page.number -= 1
    assert page.type(page.rung(0)["key"], ["note"], "Again mine").status_code == 200


def test_nobody_undoes_anothers_group(page, colleague):
    page.type(page.rung(0)["key"], ["note"], "Mine")
    group = page.draft()["undo"]["group"]
    assert colleague.send(undo=group).status_code == 409
    assert page.rung(0)["note"] == "Mine"


# Undo


def test_undo_and_redo_go_along_ones_groups_also_after_a_reload(page, client):
    before = page.rungs()
    page.move(1, 0)
    second = page.rungs()
    page.move(4, 0)
    third = page.rungs()
    reloaded = Page(client)
    for wanted in (second, before):
        reloaded.undo()
        assert reloaded.rungs() == wanted
    assert reloaded.draft()["undo"] is None
    for wanted in (second, third):
        reloaded.redo()
        assert reloaded.rungs() == wanted
    assert reloaded.draft()["redo"] is None
    reloaded.undo()
    assert reloaded.rungs() == second


def test_a_new_deed_ends_redo(page):
    page.move(1, 0)
    page.undo()
    assert page.draft()["redo"] is not None
    page.move(4, 0)
    assert page.draft()["redo"] is None


def test_a_group_of_several_edits_is_undone_as_one(page):
    key = page.rung(0)["key"]
    for text in ("W", "Wi", "Wip"):
        page.type(key, ["note"], text, group="one-run-of-keys")
    page.undo()
    assert "note" not in page.rung(0)
    page.redo()
    assert page.rung(0)["note"] == "Wip"


def test_a_file_that_was_put_is_undone_as_one(page, client):
    before = page.rungs()
    turned = {**GATE, "title": "Turned", "ladder": list(reversed(GATE["ladder"]))}
    put = client.put("/api/playbooks/gate-arm-up/file", data=json.dumps(turned))
    assert (put.status_code, put.json["done"]["revision"]) == (200, 2)
    assert page.draft()["undo"]["label"] == "Brought in from a file"
    assert page.undo().status_code == 200
    assert (page.rungs(), page.tree.root["title"]) == (before, GATE["title"])


def test_a_group_that_is_undone_already_is_left_alone(page):
    page.move(1, 0)
    group = page.draft()["undo"]["group"]
    page.send(undo=group)
    revision = page.draft()["revision"]
    assert page.send(undo=group).json["revision"] == revision


def test_after_publishing_and_undoing_redo_brings_the_undone_state_back(page, client):
    page.move(1, 0)
    page.move(4, 0)
    published = page.rungs()
    tag = {"If-Match": client.get(DRAFT).headers["ETag"]}
    assert client.post(EDITIONS, json={"note": "Out"}, headers=tag).status_code == 201
    page.undo()
    assert page.rungs() != published
    page.redo()
    assert page.rungs() == published
    assert page.figures()["is_published"]


# Flaws, and what is made of a draft that has some


def test_a_half_typed_condition_is_a_flaw_there_and_figures_go_on_with_what_was_there_before(page):
    key = page.rung(0)["key"]
    page.type(key, ["when"], "model is GR4")
    before = page.figures()["forecast"]
    answer = page.type(key, ["when"], "model is")
    assert [(one["key"], one["field"]) for one in answer.json["flaws"]["come"]] == [(key, ["when"])]
    figures = page.figures()
    assert figures["forecast"] == before
    assert figures["instead"] == [{"key": key, "field": ["when"], "is_left_out": False}]
    answer = page.type(key, ["when"], "model is GR6")
    assert [one["key"] for one in answer.json["flaws"]["gone"]] == [key]
    assert page.figures()["instead"] == []


def test_what_has_no_earlier_value_is_left_out_of_the_figures(page):
    rung = {"key": "knewrung1", "step": "nobody-has-this"}
    insert = {"op": "insert", "parent": "playbook", "list": ["ladder"], "after": None, "item": rung}
    assert page.send(operations=[insert]).status_code == 200
    assert page.figures()["instead"] == [{"key": "knewrung1", "field": [], "is_left_out": True}]
    assert len(page.figures()["rows"]) == 5


def test_a_draft_with_flaws_is_neither_published_nor_read_out(page, client):
    key = page.rung(0)["key"]
    page.type(key, ["when"], "model is")
    tag = {"If-Match": client.get(DRAFT).headers["ETag"]}
    for refused in (
        client.post(EDITIONS, json={"note": "Out"}, headers=tag),
        client.get("/api/playbooks/gate-arm-up/file?of=draft"),
    ):
        assert (refused.status_code, refused.json["type"]) == (409, "unsound")
        assert [(one["key"], one["field"]) for one in refused.json["places"]] == [(key, ["when"])]


def test_a_draft_that_would_take_too_long_has_a_flaw_and_holds_nobody_up(page):
    facts = [
        {"key": f"kfact{n}", "ask": f"Fact {n}?", "type": "yes-no", "shares": {"yes": 0.5, "no": 0.5}}
        for n in range(12)
    ]
    operations = [
        {"op": "insert", "parent": "playbook", "list": ["facts"], "after": None, "item": fact} for fact in facts
    ]
    operations += [
        {
            "op": "insert",
            "parent": "playbook",
            "list": ["ladder"],
            "after": None,
            "item": {"key": f"krung{n}", "step": "clear-hold", "when": f"kfact{n} is yes"},
        }
        for n in range(12)
    ]
    answer = page.send(operations=operations)
    assert answer.status_code == 200
    assert "sorts of units" in answer.json["flaws"]["come"][0]["says"]
    assert page.client.get(f"{DRAFT}/figures").status_code == 409


# New things


def test_what_is_made_here_goes_by_its_key_until_it_is_published_under_a_name(page, client):
    step = {"key": "kmadehere", "title": "Warm the reader", "kind": "fix", "fixes": {}, "findings": []}
    cause = next(one["key"] for one in page.tree.root["causes"] if one["id"] == "bad-setting")
    operations = [
        {
            "op": "insert",
            "parent": "playbook",
            "list": ["steps"],
            "after": None,
            "item": {**step, "fixes": {cause: 0.5}},
        },
        {
            "op": "insert",
            "parent": "playbook",
            "list": ["ladder"],
            "after": None,
            "item": {
                "key": "kmaderung",
                "step": "kmadehere",
                "when": "not earlier resolved by kmadehere within 30 days",
            },
        },
    ]
    assert page.send(operations=operations).json["flaws"]["come"] == []
    assert page.figures()["playbook"]["ladder"][0]["step"] == "kmadehere"
    tag = {"If-Match": client.get(DRAFT).headers["ETag"]}
    assert client.post(EDITIONS, json={"note": "With it"}, headers=tag).status_code == 201
    playbook = Playbook.model_validate(
        json.loads(client.get("/api/playbooks/gate-arm-up/file", headers={"Accept": "application/json"}).data)
    )
    assert playbook.ladder[0].step == "warm-the-reader"
    assert playbook.ladder[0].when == "not earlier resolved by warm-the-reader within 30 days"
    assert page.draft()["undo"]["label"].startswith("“Warm the reader” added")
    page.type("kmadehere", ["title"], "Warm it twice")
    assert (
        client.post(
            EDITIONS, json={"note": "Renamed"}, headers={"If-Match": client.get(DRAFT).headers["ETag"]}
        ).status_code
        == 201
    )
    assert page.figures()["playbook"]["ladder"][0]["step"] == "warm-the-reader"


def test_names_that_the_desk_gives_meanwhile_keep_nobody_from_publishing(page, client):
    item = {"key": "kmadehere", "title": "Warm the reader", "kind": "fix"}
    rung = {"key": "kmaderung", "step": "kmadehere"}
    page.send(
        operations=[
            {"op": "insert", "parent": "playbook", "list": ["steps"], "after": None, "item": item},
            {"op": "insert", "parent": "playbook", "list": ["ladder"], "after": None, "item": rung},
        ]
    )
    tag = {"If-Match": client.get(DRAFT).headers["ETag"]}
    assert client.get("/api/playbooks/gate-arm-up/file?of=draft").status_code == 200
    assert client.get(DRAFT).headers["ETag"] != tag["If-Match"]
    assert client.post(EDITIONS, json={"note": "With it"}, headers=tag).status_code == 201
    before = {"If-Match": client.get(DRAFT).headers["ETag"]}
    page.type("kmadehere", ["title"], "Warm it twice")
    assert client.post(EDITIONS, json={"note": "Unseen"}, headers=before).status_code == 412


def test_a_published_name_is_changed_by_no_edit_and_no_undo(page, client):
    item = {"key": "kmadehere", "title": "Warm the reader", "kind": "fix"}
    page.send(operations=[{"op": "insert", "parent": "playbook", "list": ["steps"], "after": None, "item": item}])
    tag = {"If-Match": client.get(DRAFT).headers["ETag"]}
    assert client.post(EDITIONS, json={"note": "Out"}, headers=tag).status_code == 201
    named = next(one for one in client.get(f"{DRAFT}/edits?base=1").json["since"] if one["label"] == "New things named")
    assert page.send(undo=named["group"]).status_code == 409
    assert page.type("kmadehere", ["name"], "another").status_code == 422
    page.type("kmadehere", ["say"], "Hello", group=named["group"])
    page.send(undo=named["group"])
    assert page.tree.items["kmadehere"]["name"] == "warm-the-reader"
    assert "say" not in page.tree.items["kmadehere"]


def test_a_name_is_unlike_every_id_that_the_draft_ever_had(page, client):
    taken = page.tree.items
    step = next(key for key, item in taken.items() if item.get("id") == "clear-hold")
    page.send(operations=[{"op": "remove", "key": step, "was": page.tree.taken(step)}])
    item = {"key": "kmadehere", "title": "Clear hold", "kind": "fix"}
    page.send(operations=[{"op": "insert", "parent": "playbook", "list": ["steps"], "after": None, "item": item}])
    rung = next(one["key"] for one in page.tree.root["ladder"] if one["step"] == "clear-hold")
    page.type(rung, ["step"], "kmadehere")
    tag = {"If-Match": client.get(DRAFT).headers["ETag"]}
    assert client.post(EDITIONS, json={"note": "Out"}, headers=tag).status_code == 201
    assert page.tree.items["kmadehere"]["name"] == "clear-hold-2"


# Bad input


@pytest.mark.parametrize(
    ("operations", "says"),
    [
        ([{"op": "fly"}], "fly"),
        ([], "at least 1"),
        ("text", "tuple"),
        ([{"op": "set", "key": "playbook", "path": ["id"], "was": "gate-arm-up", "value": "other"}], "no field id"),
        ([{"op": "set", "key": "playbook", "path": ["title"], "value": "x" * 1_000_000}], "at most 20,000"),
        ([{"op": "set", "key": "playbook", "path": ["ladder"], "value": []}], "no field ladder"),
        ([{"op": "set", "key": "playbook", "path": ["colour"], "value": "red"}], "no field colour"),
        ([{"op": "set", "key": "playbook", "path": ["title"], "value": {"a": 1}}], "holds one value"),
        ([{"op": "remove", "key": "playbook"}], "neither moved nor taken out"),
        ([{"op": "insert", "parent": "playbook", "list": ["colours"], "item": {"key": "knew"}}], "no list colours"),
        ([{"op": "insert", "parent": "playbook", "list": ["conflicts"], "item": {"key": "knew"}}], "no list conflicts"),
        ([{"op": "insert", "parent": "playbook", "list": ["causes"], "item": {"title": "x"}}], "no key of its own"),
        (
            [{"op": "insert", "parent": "playbook", "list": ["causes"], "item": {"key": "knew", "id": "mine"}}],
            "no field id",
        ),
        ([{"op": "restore", "key": "nobody"}] * 10_000, "at most 500"),
    ],
)
def test_what_no_draft_can_hold_is_refused_in_words_and_uses_up_its_number(page, operations, says):
    answer = page.send(operations=operations)
    assert (answer.status_code, says in answer.json["detail"]) == (422, True), answer.json
    assert len(answer.data) < 2000
    assert page.draft()["revision"] == 1
    after = page.type(page.rung(0)["key"], ["note"], "What follows goes on")
    assert (after.status_code, after.json["next"]) == (200, 3)


def test_operations_on_what_is_not_here_are_kept_whole(page):
    strange = [
        {"op": "set", "key": "kfromanotherdraft", "path": ["title"], "was": "a", "value": "b"},
        {"op": "insert", "parent": "kfromanotherdraft", "list": ["do"], "item": {"key": "knew", "text": "Mine"}},
    ]
    assert page.send(operations=strange).status_code == 200
    assert [one["mine"]["op"] for one in conflicts(page)] == ["set", "insert"]
    assert conflicts(page)[1]["mine"]["item"]["text"] == "Mine"


def test_a_form_that_grows_past_its_limits_by_small_edits_is_stopped_in_words(page):
    step = next(key for key, item in page.tree.items.items() if item.get("id") == "clear-hold")
    item = {"text": "x" * 19_000}
    answers = []
    for batch in range(12):
        operations = [
            {
                "op": "insert",
                "parent": step,
                "list": ["beware"],
                "after": None,
                "item": {"key": f"k{batch}x{n}", **item},
            }
            for n in range(10)
        ]
        answers.append(page.send(operations=operations))
        if answers[-1].status_code != 200:
            break
    assert answers[-1].status_code == 422
    assert "part it" in answers[-1].json["detail"]
    assert page.type(page.rung(0)["key"], ["note"], "Still here").status_code == 200


def test_a_page_that_comes_back_after_much_has_changed_is_rebased(page, colleague):
    key, base = page.rung(0)["key"], page.draft()["revision"]
    for index in range(3):
        colleague.move(index, index + 1)
    answer = page.type(key, ["note"], "Back again", was=None, base=base)
    assert answer.status_code == 200
    assert page.tree.value(key, ("note",)) == "Back again"
    assert conflicts(page) == []


def test_the_labels_show_no_ids(page):
    page.type(page.rung(0)["key"], ["when"], "model is GR4")
    assert page.draft()["saved"]["label"] == "“Read the home sensor”: when added"
