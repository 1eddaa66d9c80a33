"""A desk that an earlier version made opens, and holds what it held.

Beside each kept database lies what the version that made it answered of it: documents as files, figures, the log, open
cases, what undo brings back. `desk-0004`: before people had numbers; three editions of one playbook, drafts with undo
by two people, five guided cases, 599 logged ones, two lines left out, a merged step. `desk-0007`: before jobs, and
before grades were held: 132 guided cases, answered by chance, 71 of them ended.
"""

import gzip
import json
import re
import shutil
from datetime import UTC, datetime
from pathlib import Path

import pytest

from mildladder.api.app import create_app
from mildladder.core.draft.groups import undoable
from mildladder.core.ladder.saying import told_in_words
from mildladder.core.model import Case, Playbook
from mildladder.desk.documents import document, newest
from mildladder.desk.people import everybody
from mildladder.exchange.located import read_located
from mildladder.exchange.playbook_file import playbook_data
from mildladder.store import climbs
from mildladder.store.database import Database
from mildladder.store.drafts import groups_of
from mildladder.store.log.reading import tallies
from mildladder.store.log.rebuild import rebuild
from tests.drafts import undo
from tests.kept import FOLDER

NOW = datetime(2026, 11, 20, 14, 0, tzinfo=UTC)


@pytest.fixture(scope="module")
def held() -> dict:
    """What the earlier version answered."""
    with gzip.open(FOLDER / "desk-0004.json.gz") as file:
        return json.load(file)


@pytest.fixture(scope="module")
def kept(tmp_path_factory):
    """The earlier version's database, opened by this one."""
    database = Database(unpacked(tmp_path_factory.mktemp("kept") / "desk.db"))
    yield database
    database.close()


def unpacked(path: Path, name: str = "desk-0004") -> Path:
    with gzip.open(FOLDER / f"{name}.db.gz") as packed, path.open("wb") as file:
        shutil.copyfileobj(packed, file)
    return path


@pytest.fixture(scope="module")
def client(kept):
    return create_app(kept, now=lambda: NOW).test_client()


def test_that_it_is_brought_up_to_date_is_told_once(tmp_path):
    told = []
    path = unpacked(tmp_path / "desk.db")
    for _ in range(2):
        Database(path, told.append).close()
    assert told == ["this desk was made by an earlier version; it is brought up to date, which takes a while"]


def test_its_people_sit_there_and_nobody_else(client, held):
    shown = [(person["name"], person["role"]) for person in client.get("/api/me").json["people"]]
    assert shown == [(person["name"], person["role"]) for person in held["people"]]


def test_every_draft_and_edition_is_the_same_file_with_the_same_figures(kept, client, held):
    for name, was in held["playbooks"].items():
        with kept.reading() as session:
            assert playbook_data(document(session, name, "draft")) == read_located(was["file"].encode()).data
            editions = client.get(f"/api/playbooks/{name}/editions").json["editions"]
            for now, before in zip(editions, was["editions"], strict=True):
                then = read_located(before["file"].encode()).data
                assert playbook_data(document(session, name, before["number"])) == then
                assert now == {key: value for key, value in before.items() if key != "file"}
        form, draft = (client.get(f"/api/playbooks/{name}/draft{part}").json for part in ("", "/figures"))
        keys = [row["key"] for row in draft["rows"] if row["depth"] == 0]
        bonds = [
            {**one, "holders": [keys.index(key) for key in one["holders"]], "below": keys.index(one["below"])}
            for one in draft["bonds"]
        ]
        draft |= {"bonds": bonds, "saved": form["saved"]}
        draft |= {"review": client.get(f"/api/playbooks/{name}/draft/review").json["review"]}
        draft["review"] = [one for one in draft["review"] if one["code"] not in ASKED_SINCE]
        for part in ("revision", "saved", "bonds", "review", "waiting", "is_published"):
            assert draft[part] == was["draft"][part], (name, part)
        for row, before in zip(draft["rows"], was["draft"]["rows"], strict=True):
            assert without_judgement(row) == without_judgement(said(before, document(session, name, "draft"))), name
            assert judged(row) == pytest.approx(judged(before)), name
        assert figures(draft["forecast"]) == pytest.approx(figures(was["draft"]["forecast"]), abs=1e-9)


# What review did not ask yet.
ASKED_SINCE = ("safeguard-may-fail",)


def said(row: dict, playbook: Playbook) -> dict:
    """A row with its conditions as one says them: the earlier version told them as they are written."""
    when = row["when"] and told_in_words(row["when"], playbook)
    return {**row, "when": when, "varies": [told_in_words(one, playbook) for one in row["varies"]]}


def without_judgement(row: dict) -> dict:
    return {key: value for key, value in row.items() if key not in ("judged", "key")}


def judged(row: dict) -> dict:
    """The figures of a row, but for its grades: these are held between what the worst case asks for since."""
    return {key: value for key, value in (row["judged"] or {}).items() if isinstance(value, float)}


def figures(forecast: dict) -> dict:
    return {name: value for name, value in forecast.items() if isinstance(value, float)}


def test_evidence_counts_the_same(client, held):
    for name, was in held["playbooks"].items():
        found = client.get(f"/api/playbooks/{name}/evidence").json
        # More is told of each step today than then, and every rung that it stands on.
        for row in found["rows"]:
            row["label"] = row["label"] and row["label"].split(", ")[0]
        assert as_told(found, was["evidence"]) == was["evidence"]


def test_the_log_holds_every_case_as_it_was(client, held):
    found, after = [], ""
    while after is not None:
        page = client.get("/api/cases", query_string={"limit": 200, "after": after}).json
        found += page["cases"]
        after = page["next"]
    assert len(found) == held["total"]
    # The version that made it lost cases between two pages, so it told of fewer than it held.
    told = {case["case"]: case for case in held["cases"]}
    again = [case for case in found if case["case"] in told]
    assert [{key: case[key] for key in told[case["case"]]} for case in again] == held["cases"]


def test_a_whole_case_is_what_it_was(client, held):
    for name, before in held["whole"].items():
        now = client.get(f"/api/cases/{name}").json
        assert Case.model_validate(now["case"]) == Case.model_validate(before["case"])
        for part in ("title", "origin", "who", "climb", "steps"):
            assert now[part] == before[part]


def as_told(now, before):
    """What is told now, keys left out that were not told then."""
    if isinstance(before, dict):
        return {key: as_told(now[key], value) for key, value in before.items()}
    if isinstance(before, list) and len(now) == len(before):
        return [as_told(one, was) for one, was in zip(now, before, strict=True)]
    return now


def unsaid(part):
    """Without the words of conditions, of what is not known, and marks of emphasis: these are written otherwise since."""
    if isinstance(part, list):
        return [unsaid(one) for one in part]
    if isinstance(part, dict):
        return {key: unsaid(value) for key, value in part.items()}
    return BLANK.sub("…", part.split("only where ")[0]).replace("*", "") if isinstance(part, str) else part


BLANK = re.compile(r"\{[a-z-]+\}|‹[^›]+›")


def test_open_cases_stand_where_they_stood(client, held):
    there = client.get("/api/climbs").json["climbs"]
    for one, was in zip(there, held["climbs"]["climbs"], strict=True):
        assert {key: one[key] for key in was} == was
    for name, before in held["open"].items():
        now = client.get(f"/api/climbs/{name}").json
        for part in ("place", "number", "who", "opened", "path", "likely", "hand_off", "notes", "current", "end"):
            assert unsaid(as_told(now[part], before[part])) == unsaid(before[part]), (name, part)
        assert [
            {key: as_told(one[key], was[key]) for key in ("key", "label", "move")}
            for one, was in zip(now["answers"], before["answers"], strict=True)
        ] == [{key: was[key] for key in ("key", "label", "move")} for was in before["answers"]]


def test_an_open_case_goes_on(kept, held):
    name = held["climbs"]["climbs"][0]["id"]
    with kept.reading() as session:
        people = {person["name"] for person in held["people"]}
        assert {climbs.climb_row(session, name).person.name} <= people
        assert all(event.who > 0 for event in climbs.events(session, name))


def test_undo_goes_back_as_far_as_it_did(tmp_path, kept, held):
    """Each takes back their own now; in the order in which it was done, all of it still comes back."""
    shutil.copy(kept.path, tmp_path / "desk.db")
    database = Database(tmp_path / "desk.db")
    name = held["undone"]["playbook"]
    with database.writing() as session:
        people = {one.name: one.id for one in everybody(session)}
        for was in held["undone"]["chain"]:
            who = people[was["who"]]
            assert undoable(groups_of(session, name, who)).label == was["label"]
            undo(session, name, who, NOW)
            playbook, _ = newest(session, name)
            assert [rung.step for rung in playbook.ladder] == was["then"]
        assert [undoable(groups_of(session, name, who)) for who in people.values()] == [None] * len(people)
    database.close()


def test_lines_left_out_wait(client, held):
    assert client.get("/api/left-out").json == held["left_out"]


def test_its_tallies_are_what_counting_anew_gives(tmp_path, kept, held):
    shutil.copy(kept.path, tmp_path / "desk.db")
    database = Database(tmp_path / "desk.db")
    with database.writing() as session:
        before = {name: counted(session, name) for name in held["playbooks"]}
        rebuild(session, 14)
        assert {name: counted(session, name) for name in held["playbooks"]} == before
    database.close()


def counted(session, symptom: str) -> list:
    return sorted((t.period, t.returned, t.signature.model_dump_json(), t.count) for t in tallies(session, symptom))


def test_who_did_what_is_a_person_everywhere(kept):
    with kept.reading() as session:
        for table in ("revisions", "editions", "library_steps", "cases", "climbs", "climb_events", "refused_lines"):
            orphans = session.connection().exec_driver_sql(
                f"SELECT count(*) FROM {table} WHERE who NOT IN (SELECT id FROM people)"
            )
            assert orphans.scalar() == 0
        outside = session.connection().exec_driver_sql("SELECT name FROM people WHERE role = 'outside' ORDER BY name")
        assert outside.scalars().all() == ["demo", "shell"]


def test_every_guided_case_of_the_version_before_stands_where_it_stood(tmp_path):
    database = Database(unpacked(tmp_path / "desk.db", "desk-0007"))
    client = create_app(database, now=lambda: NOW).test_client()
    with gzip.open(FOLDER / "desk-0007.json.gz") as file:
        was = json.load(file)["climbs"]
    assert len(was) == 132
    for name, before in was.items():
        now = client.get(f"/api/climbs/{name}").json
        assert "current" in now, (name, now)
        step = now["current"]["step"]["id"] if now["current"] else None
        assert {"place": now["place"], "ended": now["ended"], "rungs": len(now["path"]), "step": step} == before, name
    still_open = {one["id"]: one["at"] for one in client.get("/api/climbs").json["climbs"]}
    assert {name for name, before in was.items() if before["ended"] is None} <= still_open.keys()
    assert "cannot be read" not in still_open.values()
    database.close()


def test_a_guided_case_that_cannot_be_followed_hides_no_other(tmp_path):
    database = Database(unpacked(tmp_path / "desk.db", "desk-0007"))
    client = create_app(database, now=lambda: NOW).test_client()
    before = client.get("/api/climbs").json["climbs"]
    with database.writing() as session:
        damaged = "UPDATE climb_events SET event = json_set(event, '$.move.result', 'no such') WHERE climb_id = ?"
        execute = session.connection().exec_driver_sql
        found = execute(
            "SELECT climb_id FROM climb_events JOIN climbs ON id = climb_id WHERE ended IS NULL AND number = 2"
        )
        name = found.scalars().first()
        execute(damaged, (name,))
    client = create_app(Database(tmp_path / "desk.db"), now=lambda: NOW).test_client()
    after = client.get("/api/climbs").json["climbs"]
    assert [one["id"] for one in after] == [one["id"] for one in before]
    assert next(one["at"] for one in after if one["id"] == name) == "cannot be read"
    database.close()
