"""The API of the guided case: sending twice is harmless, another window's moves are shown, the end is logged."""

from mildladder.store.climbs import events as climb_events
from tests.pages import Page

CLIMB = "climb-0001"


def start(client, climb=CLIMB, **started):
    body = {"id": climb, "playbook": "gate-arm-up", "started": {"kind": "started", "said": "It is up", **started}}
    return client.post("/api/climbs", json=body)


def send(client, after, move, key=None, climb=CLIMB):
    body = {"key": key or f"key-of-{after:04}", "after": after, "move": move}
    return client.post(f"/api/climbs/{climb}/moves", json=body)


def climb_to_the_end(client, climb=CLIMB):
    start(client, climb, facts={"model": "GR4"}, unit="GR4-0117")
    moves = [
        {"kind": "baseline", "result": "fails"},
        {"kind": "answer", "step": "sensor-look", "finding": "clear"},
        {"kind": "answer", "step": "clear-hold", "outcome": "fixed"},
        {"kind": "end", "end": "resolved", "confirmed": "caller"},
    ]
    for after, move in enumerate(moves, start=1):
        answer = send(client, after, move, climb=climb)
        assert answer.status_code == 200, answer.json
    return answer.json


def test_a_case_is_guided_to_its_end_and_stands_in_the_log(client):
    view = climb_to_the_end(client)
    assert (view["place"], view["end"], view["answers"]) == ("ended", "resolved", [])
    logged = client.get(f"/api/cases/{view['case']}").json
    assert logged["case"]["resolved_by"] == "clear-hold"
    assert logged["lines"][0] == {"title": "Read the home sensor", "says": "Reads clear", "harms": []}
    assert (logged["origin"], logged["who"], logged["climb"]) == ("guided", "R. Tamsin", CLIMB)
    counts = {row["step"]: row["counts"] for row in client.get("/api/playbooks/gate-arm-up/evidence").json["rows"]}
    assert (counts["clear-hold"]["tried"], counts["clear-hold"]["resolved"]) == (1, 1)
    assert counts["clear-hold"]["judged"] == 0


def test_commands_come_filled_in_and_unknown_values_stay_marked(client):
    start(client, facts={"model": "GR6"})
    send(client, 1, {"kind": "baseline", "result": "fails"})
    view = send(client, 2, {"kind": "answer", "step": "sensor-look", "finding": "clear"}).json
    assert view["current"]["do"][1]["copy_text"] == "lanectl hold --model GR6 off"
    assert view["current"]["do"][0]["text"] == "Open the lane page of a **GR6** gate"


def test_what_the_last_cases_of_a_unit_knew_is_offered_and_not_taken_for_granted(client):
    ended = climb_to_the_end(client)

    def asked(unit: str, climb: str):
        start(client, climb, unit=unit)
        send(client, 1, {"kind": "baseline", "result": "fails"}, climb=climb)
        view = send(client, 2, {"kind": "answer", "step": "sensor-look", "finding": "clear"}, climb=climb).json
        assert (view["question"]["id"], view["known"]) == ("model", [])
        return view["question"]["known_before"]

    before = asked("GR4-0117", "climb-0002")
    assert (before["value"], before["closed"]) == (
        "GR4",
        client.get(f"/api/cases/{ended['case']}").json["case"]["closed"],
    )
    assert asked("GR4-0118", "climb-0003") is None
    view = send(client, 3, {"kind": "fact", "fact": "model", "value": before["value"]}, climb="climb-0002").json
    assert [one["value"] for one in view["known"]] == ["GR4"]


def test_sending_the_same_move_twice_counts_once(client):
    start(client)
    move = {"kind": "baseline", "result": "fails"}
    first = send(client, 1, move, key="the-same-key").json
    assert send(client, 1, move, key="the-same-key").json["number"] == first["number"] == 2


def test_a_key_that_comes_with_another_answer_is_refused(client):
    start(client)
    assert send(client, 1, {"kind": "baseline", "result": "fails"}, key="the-same-key").status_code == 200
    again = send(client, 1, {"kind": "baseline", "result": "works"}, key="the-same-key")
    assert (again.status_code, again.json["type"]) == (409, "conflict")
    assert client.get(f"/api/climbs/{CLIMB}").json["number"] == 2


def test_starting_twice_with_one_id_opens_one_case(client):
    assert start(client).json["case"] == start(client).json["case"]
    assert start(client, facts={"model": "GR6"}).status_code == 409
    assert len(client.get("/api/climbs").json["climbs"]) == 1


def test_nobody_can_have_speech_trusted(client):
    body = {"id": CLIMB, "playbook": "gate-arm-up", "started": {"kind": "started", "trusts_speech": True}}
    assert client.post("/api/climbs", json=body).status_code == 201
    with client.application.extensions["mildladder"].database.reading() as session:
        assert not climb_events(session, CLIMB)[0].move.trusts_speech


def test_a_move_after_another_windows_move_is_shown_and_not_applied(client):
    start(client)
    send(client, 1, {"kind": "baseline", "result": "fails"})
    answer = send(client, 1, {"kind": "baseline", "result": "works"}, key="another-key")
    assert (answer.status_code, answer.json["current"]) == (412, 2)


def test_a_move_that_does_not_fit_is_409_and_leaves_no_event(client):
    start(client)
    assert send(client, 1, {"kind": "answer", "step": "clear-hold", "outcome": "fixed"}).status_code == 409
    assert client.get(f"/api/climbs/{CLIMB}").json["number"] == 1


def test_an_open_case_stays_on_its_edition(client):
    start(client)
    Page(client).move(1, 0)
    client.post("/api/playbooks/gate-arm-up/editions", json={"note": "Second"}, headers={"If-Match": '"2"'})
    view = send(client, 1, {"kind": "baseline", "result": "fails"}).json
    assert (view["edition"], view["current"]["step"]["id"]) == (1, "sensor-look")
    assert start(client, climb="climb-0002").json["edition"] == 2


def test_bad_facts_and_unknown_playbooks_are_refused(client):
    assert start(client, facts={"model": "GR9"}).status_code == 409
    assert start(client, facts={"colour": "red"}).status_code == 409
    body = {"id": CLIMB, "playbook": "nothing", "started": {"kind": "started"}}
    assert client.post("/api/climbs", json=body).status_code == 404


def test_every_answer_offered_is_accepted(client):
    """From the start onwards, each answer that the screen offers is taken by the server."""
    start(client, facts={"model": "GR4"})
    number = 1
    while (view := client.get(f"/api/climbs/{CLIMB}").json)["place"] != "ended":
        for answer in view["answers"]:
            assert send(client, number, answer["move"], key=f"try-{number:04}-{answer['key']}xx").status_code == 200
            number += 1
            if answer["move"]["kind"] != "end" and answer is not view["answers"][-1]:
                assert send(client, number, {"kind": "take-back"}, key=f"back-{number:04}").status_code == 200
                number += 1
            else:
                break
