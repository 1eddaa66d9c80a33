"""What is known now, who is logged to it and called back; and what agents say of texts."""

from datetime import timedelta

from mildladder.api.app import create_app
from tests.conftest import LEAD_ID
from tests.samples import NOON

DOWN = {"playbook": "gate-arm-up", "says": "The lane server is down, back at 15:00"}


def post_notice(client, **changes):
    return client.post("/api/notices", json={**DOWN, **changes})


def call(client, number, name, **more):
    return client.post(f"/api/notices/{number}/calls", json={"id": f"call-{name:>06}", "caller": name, **more})


def shown(client):
    return client.get("/api/notices").json["notices"]


def test_three_callers_are_logged_to_a_notice_and_called_back_at_its_end(client):
    number = post_notice(client).json["notices"][0]["number"]
    for name, at in (("Bo", "12"), ("Cy", "13"), ("Di", "14")):
        assert call(client, number, name, call_back=at).status_code == 200
    assert call(client, number, "Di").status_code == 200, "sent again, it counts once"
    assert [one["caller"] for one in shown(client)[0]["calls"]] == ["Bo", "Cy", "Di"]
    assert client.post(f"/api/notices/{number}/end").status_code == 200
    refused = call(client, number, "Ed")
    assert (refused.status_code, refused.json["detail"]) == (409, "that is over; start a case instead")
    back = client.post(f"/api/notices/{number}/calls/call-0000Cy/called-back").json["notices"][0]
    assert [one["called_back"] is not None for one in back["calls"]] == [False, True, False]
    # They are counted here alone: the log, and with it the evidence, knows nothing of them.
    assert client.get("/api/cases").json["cases"] == []


def test_what_is_over_stands_last_and_is_forgotten_after_two_days(desk):
    passed = [timedelta()]
    client = create_app(desk, now=lambda: NOON + passed[0]).test_client()
    client.put("/api/me", json={"person": LEAD_ID})
    first = post_notice(client, until=(NOON + timedelta(hours=1)).isoformat()).json["notices"][0]["number"]
    passed[0] = timedelta(hours=2)
    second = post_notice(client).json["notices"][0]["number"]
    assert [one["number"] for one in shown(client)] == [second, first]
    assert call(client, first, "Bo").status_code == 409
    passed[0] = timedelta(days=3)
    assert [one["number"] for one in shown(client)] == [second]


def test_what_makes_no_sense_is_refused(client):
    assert post_notice(client, fact="site").status_code == 409
    assert post_notice(client, until=(NOON - timedelta(hours=1)).isoformat()).status_code == 409
    assert post_notice(client, says="").status_code == 422
    assert client.post("/api/notices/99/end").status_code == 404
    assert client.post("/api/notices/99/calls/call-000001/called-back").status_code == 404


def test_an_agents_notice_holds_for_an_hour(desk):
    client = create_app(desk, now=lambda: NOON).test_client()
    client.put("/api/me", json={"person": LEAD_ID})
    agent = client.post("/api/people", json={"name": "E. Orrin", "role": "agent"}).json
    client.put("/api/me", json={"person": agent["id"]})
    until = post_notice(client, until=(NOON + timedelta(days=1)).isoformat()).json["notices"][0]["until"]
    assert until == (NOON + timedelta(hours=1)).isoformat().replace("+00:00", "Z")


REMARK = {"key": "remark-0001", "playbook": "gate-arm-up", "edition": 1, "step": "clear-hold", "says": "It is grey"}


def test_a_remark_reaches_the_lead_once_and_is_seen_to(client):
    for _ in range(2):
        assert client.post("/api/remarks", json={**REMARK, "text": "Open the lane page"}).status_code == 201
    [one] = client.get("/api/remarks").json["remarks"]
    assert (one["title"], one["text"], one["says"]) == (
        "Clear the hold-open setting",
        "Open the lane page",
        "It is grey",
    )
    assert client.get("/api/remarks?playbook=nothing-else").json["remarks"] == []
    assert client.post(f"/api/remarks/{one['number']}/settled").json["remarks"] == []


def test_a_remark_on_what_is_not_there_is_refused(client):
    assert client.post("/api/remarks", json={**REMARK, "step": "nonsense"}).status_code == 404
    assert client.post("/api/remarks", json={**REMARK, "edition": 9}).status_code == 404
    assert client.post("/api/remarks", json={**REMARK, "says": ""}).status_code == 422


# Cases that change hands, and come back


def move(client, climb, after, **what):
    return client.post(f"/api/climbs/{climb}/moves", json={"key": f"key-{after:05}", "after": after, "move": what})


def start(client, climb="climb-0009", **started):
    body = {
        "id": climb,
        "playbook": "gate-arm-up",
        "started": {"kind": "started", "facts": {"model": "GR4"}, **started},
    }
    return client.post("/api/climbs", json=body)


def test_two_people_never_answer_one_case_and_it_can_be_taken_over(client):
    start(client)
    agent = client.post("/api/people", json={"name": "E. Orrin", "role": "agent"}).json
    client.put("/api/me", json={"person": agent["id"]})
    refused = move(client, "climb-0009", 1, kind="baseline", result="fails")
    assert (refused.status_code, "has this case" in refused.json["detail"]) == (409, True)
    assert move(client, "climb-0009", 1, kind="note", text="Ring them").status_code == 200
    taken = move(client, "climb-0009", 2, kind="taken-over").json
    assert [one["name"] for one in taken["hands"]] == ["R. Tamsin", "E. Orrin"]
    assert move(client, "climb-0009", 3, kind="baseline", result="fails").status_code == 200
    assert client.get("/api/climbs").json["climbs"][0]["who"] == "E. Orrin"
    client.put("/api/me", json={"person": LEAD_ID})
    assert move(client, "climb-0009", 4, kind="took-back").status_code == 422
    assert move(client, "climb-0009", 4, kind="take-back").status_code == 409


def test_a_case_that_came_back_goes_on_with_all_that_is_known(client):
    start(client, unit="GR4-0117", ticket="88-2071", caller="Deck office", call_back="117")
    moves = [
        {"kind": "baseline", "result": "fails"},
        {"kind": "answer", "step": "sensor-look", "finding": "clear"},
        {"kind": "answer", "step": "clear-hold", "outcome": "fixed"},
        {"kind": "end", "end": "resolved", "confirmed": "caller"},
    ]
    for after, what in enumerate(moves, start=1):
        view = move(client, "climb-0009", after, **what).json
    case = view["case"]
    for words in ("88-2071", "deck", "117"):
        assert [one["case"] for one in client.get(f"/api/cases?words={words}").json["cases"]] == [case], words
    again = client.post(f"/api/cases/{case}/reopen", json={"id": "climb-0010"}).json
    assert (again["reopened_from"], again["ticket"], again["unit"]) == (case, "88-2071", "GR4-0117")
    assert f"Came back after: {case}" in again["hand_off"]
    assert client.post(f"/api/cases/{case}/reopen", json={"id": "climb-0010"}).status_code == 201
    move(client, "climb-0010", again["number"], kind="baseline", result="fails")
    view = move(client, "climb-0010", again["number"] + 1, kind="answer", step="sensor-look", finding="clear").json
    passed = next(rung for rung in view["path"] if rung["step"] == "clear-hold")
    assert (passed["state"], passed["says"]) == ("passed", f"tried on {case}, which came back")
    ended = move(client, "climb-0010", view["number"], kind="end", end="handed-off", why_left="Later").json
    logged = client.get(f"/api/cases/{ended['case']}").json["case"]
    assert logged["reopened_from"] == case
    assert client.get(f"/api/cases/{case}").json["case"]["came_back"] is not None
    assert client.post("/api/cases/G-9999/reopen", json={"id": "climb-0011"}).status_code == 404


def test_a_step_of_the_library_is_logged_off_the_ladder_and_a_rough_one_asks(client):
    start(client)
    move(client, "climb-0009", 1, kind="baseline", result="fails")
    off = {"kind": "off-ladder", "step": "nowhere", "called": "Nothing", "outcome": "no-change"}
    refused = move(client, "climb-0009", 2, **off)
    assert (refused.status_code, "the library has no step" in refused.json["detail"]) == (409, True)
    done = move(client, "climb-0009", 2, kind="off-ladder", called="Knock on it", outcome="no-change").json
    assert done["off_ladder"] == ["Knock on it: no"]


def begun(client, climb):
    started = {"kind": "started", "said": "It is up", "caller": "Bo", "call_back": "12", "unit": "GR4-0117"}
    client.post("/api/climbs", json={"id": climb, "playbook": "gate-arm-up", "started": started})


def give(client, climb, number, end="abandoned"):
    body = {"key": f"give-{end}-{number}", "after": 1, "move": {"kind": "end", "end": end, "notice": number}}
    return client.post(f"/api/climbs/{climb}/moves", json=body)


def test_the_caller_of_a_begun_case_is_logged_to_what_is_known_now_and_nowhere_else(client):
    number = post_notice(client).json["notices"][0]["number"]
    begun(client, "climb-0001")
    view = give(client, "climb-0001", number).json
    assert (view["place"], view["ended"], view["is_logged"]) == ("ended", "Logged to what is known now", False)
    assert give(client, "climb-0001", number).status_code == 200, "sent again, it counts once"
    (there,) = shown(client)[0]["calls"]
    assert {name: there[name] for name in ("caller", "call_back", "unit", "said")} == {
        "caller": "Bo",
        "call_back": "12",
        "unit": "GR4-0117",
        "said": "It is up",
    }
    assert client.get("/api/cases").json["cases"] == []
    assert client.get("/api/climbs").json["climbs"] == []


def test_a_begun_case_goes_on_where_what_was_known_is_over_or_was_never_there(client):
    number = post_notice(client).json["notices"][0]["number"]
    client.post(f"/api/notices/{number}/end")
    begun(client, "climb-0001")
    assert give(client, "climb-0001", number).status_code == 409
    assert give(client, "climb-0001", 99).status_code == 404
    assert give(client, "climb-0001", number, end="handed-off").status_code == 409
    assert client.get("/api/climbs/climb-0001").json["number"] == 1


def test_a_notice_that_is_sent_again_is_put_up_once(client):
    assert [one["says"] for one in post_notice(client).json["notices"]] == [DOWN["says"]]
    assert len(post_notice(client).json["notices"]) == 1, "its acknowledgement may have been lost"
    assert len(post_notice(client, says="And the printers").json["notices"]) == 2
    client.post(f"/api/notices/{shown(client)[-1]['number']}/end")
    assert len([one for one in post_notice(client).json["notices"] if one["ended"] is None]) == 2, "that one was over"
