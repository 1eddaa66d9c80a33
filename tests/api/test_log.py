"""The log over HTTP, under what was once found to break it."""

from datetime import datetime

import pytest

from mildladder.core.errors import BadInput, Conflict
from mildladder.core.model import Case, Fact
from mildladder.core.model import events as c
from mildladder.desk.guiding import climbs
from mildladder.desk.library.facts import know_facts
from mildladder.desk.library.steps import merge_steps
from mildladder.desk.log.intake import import_cases
from mildladder.exchange.case_lines import read_each, write_cases
from mildladder.store.editions import edition
from mildladder.store.log.tallies import fold
from tests.conftest import AGENT_ID, LEAD_ID, SHELL
from tests.drafts import replace
from tests.samples import GATE, NOON, case, gate

ID = "gate-arm-up"
CURED = ("clear-hold", "fixed")


def bring(desk, *cases, source="office.jsonl", leave_out=False):
    with desk.writing() as session:
        return import_cases(session, cases, "import", SHELL, NOON, source, leave_out)


def counts(client, step="clear-hold"):
    rows = client.get(f"/api/playbooks/{ID}/evidence").json["rows"]
    return next(row["counts"] for row in rows if row["step"] == step)


def tallied(desk) -> list[tuple[int, int, int]]:
    with desk.reading() as session:
        return [
            tuple(row) for row in session.connection().exec_driver_sql("SELECT count, returned, seconds FROM tallies")
        ]


def test_a_case_closed_in_another_zone_that_comes_back_is_counted_once(desk):
    zone = {"opened": "2026-02-20T00:40:00+05:00", "closed": "2026-02-20T01:00:00+05:00", "unit": "GR4-1"}
    bring(desk, case(1, CURED, **zone))
    bring(desk, case(2, days_ago=5, unit="GR4-1"))
    assert sorted(tallied(desk)) == [(1, 0, 600), (1, 1, 1200)]


def test_a_fact_that_a_saved_draft_adds_loses_no_count_of_an_old_case(desk):
    old = case(1, CURED, facts={"lane": "3"})
    bring(desk, old)
    with desk.writing() as session:
        lane = Fact(id="lane", ask="Which lane?", type="choice", choices={"3": 1.0})
        know_facts(session, [lane], LEAD_ID, NOON)
    bring(desk, old.model_copy(update={"notes": "Looked at again"}))
    assert tallied(desk) == [(1, 0, 600)]


def test_a_clock_that_goes_back_takes_nothing_from_what_was_folded(desk):
    old = case(1, CURED, days_ago=30)
    bring(desk, old)
    with desk.writing() as session:
        fold(session, NOON.date().replace(year=2027), 14)
        fold(session, NOON.date(), 14)
    bring(desk, old.model_copy(update={"notes": "Looked at again"}))
    assert tallied(desk) == [(1, 0, 600)]


@pytest.mark.parametrize(
    "moment", ["0001-01-01T00:00:00Z", "1969-12-31T23:59:59Z", "2200-01-01T00:00:00Z", "9999-12-31T23:00:00-10:00"]
)
def test_a_moment_out_of_all_reason_is_refused_where_the_case_is_read(moment):
    line = b'{"case":"C-1","opened":"%s","closed":"%s","symptom":"gate-arm-up","end":"abandoned"}' % (
        (moment.encode(),) * 2
    )
    (refused,) = read_each([line])
    assert "1970" in refused.says
    assert refused.path == "opened"


def test_one_row_that_cannot_be_read_is_listed_as_such_and_stops_no_page(desk, client):
    bring(desk, case(1, CURED), case(2, CURED), case(3, CURED))
    with desk.writing() as session:
        session.connection().exec_driver_sql("UPDATE cases SET opened = 'noon', closed = 'never' WHERE id = 'C-2'")
    page = client.get("/api/cases").json["cases"]
    assert {row["case"]: row["is_readable"] for row in page} == {"C-1": True, "C-2": False, "C-3": True}
    assert client.get("/api/symptoms").status_code == 200
    answer = client.get("/api/cases/C-2")
    assert (answer.status_code, "C-2" in answer.json["detail"]) == (503, True)


def test_guided_cases_take_ids_that_neither_the_log_nor_an_open_case_has(desk, client):
    bring(desk, case(1).model_copy(update={"case": "G-1001"}))
    names = []
    for number in range(3):
        body = {"id": f"climb-000{number}", "playbook": ID, "started": {}}
        answer = client.post("/api/climbs", json=body)
        assert answer.status_code == 201, answer.json
        names.append(answer.json["case"])
    assert names == ["G-1002", "G-1003", "G-1004"]


def test_neither_origin_ever_takes_the_others_place(desk, client):
    name = client.post("/api/climbs", json={"id": "climb-0001", "playbook": ID, "started": {}}).json["case"]
    foreign = case(1, CURED).model_copy(update={"case": name})
    with pytest.raises(BadInput, match=f"'{name}' is of another origin"):
        bring(desk, foreign)
    client.post(
        "/api/climbs/climb-0001/moves",
        json={"key": "key-00001", "after": 1, "move": {"kind": "end", "end": "abandoned"}},
    )
    with pytest.raises(BadInput, match="an id of its own"):
        bring(desk, foreign)
    done = bring(desk, foreign, case(2, CURED), leave_out=True)
    assert (done.new, done.refused, done.reasons[0].path) == (1, 1, "case")
    assert client.get(f"/api/cases/{name}").json["origin"] == "guided"


def test_a_case_with_more_notes_than_the_log_holds_ends_all_the_same(desk, client):
    client.post("/api/climbs", json={"id": "climb-0001", "playbook": ID, "started": {}})
    for number in range(1, 7):
        note = {"kind": "note", "text": f"{number} " + "x" * 3990}
        body = {"key": f"key-0000{number}", "after": number, "move": note}
        assert client.post("/api/climbs/climb-0001/moves", json=body).status_code == 200
    end = {"key": "key-00007", "after": 7, "move": {"kind": "end", "end": "abandoned"}}
    ended = client.post("/api/climbs/climb-0001/moves", json=end)
    assert ended.status_code == 200
    notes = client.get(f"/api/cases/{ended.json['case']}").json["case"]["notes"]
    assert notes.endswith("the guided case has the whole of it")
    assert len(ended.json["notes"]) == 6
    assert all(len(note) > 3990 for note in ended.json["notes"])


def test_a_long_value_in_a_condition_that_does_not_hold_is_shortened_in_the_reason(desk, client):
    facts = [
        {"id": "model", "ask": "Which model?", "type": "choice", "choices": {"GR4": 0.6, "GR6": 0.4}},
        {"id": "notice", "ask": "What does the notice say?", "type": "text"},
    ]
    ladder = [{**GATE["ladder"][0], "when": "notice is closed"}, *GATE["ladder"][1:]]
    with desk.writing() as session:
        row = replace(session, gate(facts=facts, ladder=ladder))
    client.post(f"/api/playbooks/{ID}/editions", json={"note": "Notice"}, headers={"If-Match": f'"{row.number}"'})
    started = {"facts": {"notice": "y" * 290}}
    client.post("/api/climbs", json={"id": "climb-0001", "playbook": ID, "started": started})
    seen = {"key": "key-00001", "after": 1, "move": {"kind": "baseline", "result": "fails"}}
    answer = client.post("/api/climbs/climb-0001/moves", json=seen)
    assert answer.status_code == 200
    passed = next(rung for rung in answer.json["path"] if rung["state"] == "passed")
    assert passed["says"].endswith("…")
    assert len(passed["says"]) == 300


def test_a_merge_upon_a_merge_keeps_the_attempts_of_the_first_and_a_ring_is_refused(desk, client):
    bring(desk, case(1, ("reload-program", "fixed")), case(2, ("reload-program", "no-change")))
    with desk.writing() as session:
        merge_steps(session, "reload-program", "clear-hold", LEAD_ID, NOON)
    assert (counts(client)["tried"], counts(client)["resolved"]) == (2, 1)
    with desk.writing() as session, pytest.raises(Conflict, match="counts as"):
        merge_steps(session, "clear-hold", "reload-program", LEAD_ID, NOON)


def test_a_return_goes_when_the_case_that_showed_it_is_corrected(desk, client):
    bring(desk, case(1, CURED, days_ago=10, unit="GR4-1"), case(2, days_ago=5, unit="GR4-1"))
    assert client.get("/api/cases/C-1").json["case"]["came_back"] is not None
    bring(desk, case(2, days_ago=5, unit="GR4-9"))
    assert client.get("/api/cases/C-1").json["case"]["came_back"] is None


@pytest.mark.parametrize("order", [(2, 3), (3, 2)])
def test_the_earliest_return_counts_in_whatever_order_they_come(desk, client, order):
    first = case(1, CURED, days_ago=10, unit="GR4-1")
    later = {2: case(2, days_ago=7, unit="GR4-1"), 3: case(3, days_ago=4, unit="GR4-1")}
    bring(desk, first)
    for number in order:
        bring(desk, later[number])
    back = client.get("/api/cases/C-1").json["case"]["came_back"]
    assert datetime.fromisoformat(back) == later[2].opened


def test_a_later_export_that_first_tells_of_a_return_is_a_change(desk, client):
    logged = case(1, CURED, days_ago=30)
    bring(desk, logged)
    told = logged.model_copy(update={"came_back": NOON})
    assert bring(desk, told).updated == 1
    assert (counts(client)["judged"], counts(client)["held"]) == (1, 0)


def test_a_foreign_claim_to_an_edition_is_a_label_unless_its_content_is_the_same(desk, client):
    with desk.reading() as session:
        digest = edition(session, ID, 1).content_hash
    claim = {"playbook": ID, "edition": 1}
    bring(
        desk,
        case(1, CURED, **claim),
        case(2, CURED, **claim, edition_hash="0" * 64),
        case(3, CURED, **claim, edition_hash=digest),
    )
    with desk.reading() as session:
        linked = session.connection().exec_driver_sql("SELECT id, linked, edition FROM cases ORDER BY id").all()
    assert [tuple(row) for row in linked] == [("C-1", None, 1), ("C-2", None, 1), ("C-3", 1, 1)]


def test_a_guided_case_goes_out_with_what_another_desk_needs_to_know_its_edition(desk, client):
    with desk.writing() as session:
        climbs.start(session, ID, c.Started(), "climb-0001", AGENT_ID, NOON)
        climbs.record(session, "climb-0001", c.Ended(end="abandoned"), "key-00001", 1, AGENT_ID, NOON)
        view = climbs.look(session, "climb-0001", NOON)
    logged = Case.model_validate(client.get(f"/api/cases/{view.case}").json["case"])
    (again,) = read_each(write_cases([logged]))
    with desk.reading() as session:
        assert again.case.edition_hash == edition(session, ID, 1).content_hash


def test_a_case_that_was_sent_on_is_told_from_one_that_was_handed_off(desk, client):
    bring(desk, case(1, end="handed-off"), case(2, end="handed-off", sent_on="other"))
    ends = {row["case"]: (row["end"], row["ended"]) for row in client.get("/api/cases").json["cases"]}
    assert ends == {"C-1": ("handed-off", "Handed off"), "C-2": ("handed-off", "Sent on")}
    assert client.get("/api/cases/C-2").json["ended"] == "Sent on"


def test_a_line_left_out_waits_though_another_file_of_that_name_comes(desk, client):
    def export(*lines):
        return read_each([line if isinstance(line, bytes) else next(write_cases([line])) for line in lines])

    bring(desk, *export(case(1, CURED), b'{"case": "C-2"}\n'), source="export.jsonl", leave_out=True)
    bring(desk, *export(case(8, CURED)), source="export.jsonl", leave_out=True)
    assert client.get("/api/left-out").json["total"] == 1
    bring(desk, *export(case(1, CURED), case(2, CURED)), source="export.jsonl", leave_out=True)
    assert client.get("/api/left-out").json["total"] == 0


def test_a_page_deep_in_the_log_is_found_by_its_rank(desk, client):
    bring(desk, *(case(number, CURED, days_ago=number / 3) for number in range(40)))
    page = client.get("/api/cases?rank=25&limit=5").json["cases"]
    assert [row["case"] for row in page] == [f"C-{number}" for number in range(25, 30)]
    fitting = client.get("/api/cases?end=resolved&limit=200").json["cases"]
    assert client.get("/api/cases?rank=5&end=resolved&limit=7").json["cases"] == fitting[5:12]
    assert client.get("/api/cases?rank=5&after=7").status_code == 422
    assert client.get("/api/cases?rank=500").json["cases"] == []


def test_words_are_found_wherever_they_begin_one_whatever_marks_they_bear(desk, client):
    bring(
        desk,
        case(1, CURED, said="The barrière is stuck, lane 3"),
        case(2, CURED, notes="Barriers were wiped", unit="GR4-17"),
    )

    def found(words):
        return [row["case"] for row in client.get("/api/cases", query_string={"words": words}).json["cases"]]

    assert (found("barrier"), found("Barriere lane"), found("gr4-17"), found("arrier"), found("%")) == (
        ["C-2", "C-1"],
        ["C-1"],
        ["C-2"],
        [],
        [],
    )
