"""What the builder asks the desk: quick words, conditions as they are typed, pictures, shares from the log, a file."""

import io

import pytest
from PIL import Image

from mildladder.desk.log.intake import import_cases
from tests.conftest import SHELL
from tests.pages import Page
from tests.samples import NOON, case

DRAFT = "/api/playbooks/gate-arm-up/draft"


@pytest.fixture
def page(client):
    return Page(client)


def png(size: tuple[int, int] = (8, 8)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (200, 120, 40)).save(out, format="PNG")
    return out.getvalue()


def quick(client, text: str, playbook: str | None = None):
    answer = client.post("/api/quick-words", json={"text": text, "playbook": playbook})
    assert answer.status_code == 200
    return answer.json


def test_quick_words_name_causes_as_the_playbook_has_them(client):
    (line,) = quick(client, "Reseat it, 5 min visit; ends hold-open LEFT on often", "gate-arm-up")["lines"]
    assert line["ends"] == [{"cause": "Hold-open left on", "chance": "often"}]
    (alone,) = quick(client, "Reseat it, 5 min visit; ends hold-open LEFT on often")["lines"]
    assert alone["ends"][0]["cause"] == "hold-open LEFT on"
    assert client.post("/api/quick-words", json={"text": "a", "playbook": "nobody-has-it"}).status_code == 404


def test_a_list_of_five_thousand_lines_is_read_as_far_as_a_ladder_has_room(client):
    read = quick(client, "\n".join(f"{number}. Step {number}, 5 min" for number in range(5_000)))
    assert (len(read["lines"]), read["more"]) == (500, 4_500)
    assert read["lines"][499]["title"] == "Step 499"


def test_a_line_of_ten_thousand_characters_is_told_and_the_next_one_is_read(client):
    long, short = quick(client, f"{'x' * 10_000}\nWipe it, 5 min")["lines"]
    assert "at most 1,000 characters" in long["wrong"]
    assert (short["title"], short["effort"]["hands_on"]) == ("Wipe it", 5)


def means(client, text: str) -> dict:
    answer = client.post(f"{DRAFT}/condition", json={"text": text})
    assert answer.status_code == 200
    return answer.json


def test_a_condition_says_what_it_means_and_for_how_many_units(client):
    read = means(client, "model is GR4")
    assert read["says"] == "“Which model?” is GR4"
    assert read["share"] == pytest.approx(0.6)
    assert means(client, "not (model is GR4 or model is GR6)")["share"] == pytest.approx(0)
    assert means(client, "model is GR4 and sensor-look found blocked")["share"] is None


def test_a_condition_that_cannot_be_read_is_told_where(client):
    assert (means(client, "model is")["at"], means(client, "model is GR4 )")["at"]) == (9, 14)
    assert means(client, "model is")["says"] is None
    assert "at most 10,000 characters" in means(client, "x" * 12_000)["wrong"]
    assert means(client, "(" * 9_000)["wrong"]
    assert client.post("/api/playbooks/nobody-has-it/draft/condition", json={"text": "a"}).status_code == 404


def test_a_picture_is_kept_and_the_draft_knows_where(client, page):
    kept = client.post(f"{DRAFT}/pictures", data=png(), content_type="image/png")
    assert kept.status_code == 201
    path, digest = kept.json["path"], kept.json["digest"]
    assert page.tree.root["pictures"][path] == digest
    assert client.get(f"/api/pictures/{digest}").status_code == 200
    revision = page.draft()["revision"]
    assert client.post(f"{DRAFT}/pictures", data=png(), content_type="image/png").json == kept.json
    assert page.draft()["revision"] == revision
    assert page.draft()["undo"] is None


def test_what_is_no_picture_is_refused_in_words(client, page):
    for body in (b"no picture", b"", b"\x89PNG\r\n\x1a\n broken", b"%PDF-1.4"):
        refused = client.post(f"{DRAFT}/pictures", data=body, content_type="image/png")
        assert refused.status_code == 422
        assert "is no PNG, JPEG or WebP picture" in refused.json["detail"]
    assert client.post(f"{DRAFT}/pictures", data=b"x" * 40_000_000, content_type="image/png").status_code == 413
    assert "pictures" not in page.tree.root


def test_shares_come_from_the_log(desk, client):
    assert client.get("/api/playbooks/gate-arm-up/fact-counts").json["cases"] == 0
    cases = [case(number, facts={"model": model}) for number, model in enumerate(["GR4", "GR4", "GR6"])]
    with desk.writing() as session:
        import_cases(session, [*cases, case(9, symptom="elsewhere", facts={"model": "GR9"})], "import", SHELL, NOON)
    counts = client.get("/api/playbooks/gate-arm-up/fact-counts").json
    assert (counts["cases"], counts["facts"]) == (3, {"model": {"GR4": 2, "GR6": 1}})


def test_a_file_is_brought_in_whichever_playbook_it_is_of(client, page):
    text = client.get("/api/playbooks/gate-arm-up/file?of=draft").data
    other = text.replace(b"id: gate-arm-up\n", b"id: gate-arm-stuck\n", 1)
    preview = client.post("/api/playbooks/file?preview=true", data=other).json["preview"]
    assert (preview["playbook"], preview["is_new"], preview["rungs"] > 0) == ("gate-arm-stuck", True, True)
    done = client.post("/api/playbooks/file", data=other)
    assert (done.status_code, done.json["done"]["playbook"]) == (200, "gate-arm-stuck")
    assert client.get("/api/playbooks/gate-arm-stuck/draft").status_code == 200


def test_a_file_can_be_looked_at_while_the_draft_has_a_flaw(client, page):
    text = client.get("/api/playbooks/gate-arm-up/file?of=draft").data
    page.type(page.rung(0)["key"], ["when"], "model is")
    preview = client.post("/api/playbooks/file?preview=true", data=text)
    assert (preview.status_code, preview.json["preview"]["is_unchanged"]) == (200, False)


@pytest.mark.parametrize("body", [png(), b"", b"\x00" * 2000, "– plain words".encode(), b"PK\x03\x04 broken", b"[1, 2"])
def test_what_is_no_playbook_file_is_refused_in_words(client, page, body):
    refused = client.post("/api/playbooks/file?preview=true", data=body)
    assert refused.status_code == 422
    assert len(refused.json["detail"]) < 600
    assert "internal" not in refused.json["detail"].lower()


def test_figures_are_those_of_a_sort_of_unit_where_one_is_given(page, client):
    whole = page.figures()
    seen = client.get(f"{DRAFT}/figures", query_string={"unit": "model:GR6"}).json
    assert (whole["unit"], seen["unit"]) == ({}, {"model": "GR6"})
    assert seen["forecast"]["rungs"][0]["reach"] == pytest.approx(1)
    texts = [one.get("text") for step in seen["playbook"]["steps"] for one in step.get("do", ())]
    assert "Open the lane page of a **GR6** gate" in texts
    assert seen["rows"] == whole["rows"]  # nothing of this ladder differs between units
    assert page.figures()["unit"] == {}


@pytest.mark.parametrize("unit", ["colour:red", "model:GR9", "model", "model:", ":GR6", "model:GR\n6"])
def test_a_sort_of_unit_that_cannot_be_is_refused_in_words(client, unit):
    refused = client.get(f"{DRAFT}/figures", query_string={"unit": unit})
    assert refused.status_code == 422
    assert refused.json["detail"]
