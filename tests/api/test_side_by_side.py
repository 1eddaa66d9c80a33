"""Two editions at once, over HTTP: a coin that nobody foresees, cases that belong together, and its end."""

from collections import Counter
from uuid import uuid4

import pytest

from mildladder.desk.documents import document
from mildladder.desk.publishing.files import import_playbook
from mildladder.store.tables import TrialCaseRow, TrialRow
from tests.api.test_evidence import ID, at_noon, log
from tests.conftest import AGENT_ID, LEAD_ID
from tests.samples import NOON

PATH = f"/api/playbooks/{ID}/side-by-side"


@pytest.fixture
def client(desk):
    """The lead's browser at a desk with two editions and 80 logged cases."""
    with desk.writing() as session:
        other = document(session, ID, 1).model_copy(update={"title": "Gate arm is up"})
        import_playbook(session, other, LEAD_ID, NOON, "file", "Under another title")
    log(desk, 80)
    return at_noon(desk)


# Eighty cases, the first of them closed 79 days ago.
A_MONTH = 80 * 30.44 / 79


def begin(client, **asked):
    return client.post(PATH, json={"a": 1, "b": 2, **asked})


def start(client, unit="", climb=None):
    body = {"id": climb or str(uuid4()), "playbook": ID, "started": {"kind": "started", "unit": unit}}
    made = client.post("/api/climbs", json=body)
    assert made.status_code == 201, made.json
    return made.json


def abandon(client, view):
    sent = {"key": str(uuid4()), "after": view["number"], "move": {"kind": "end", "end": "abandoned"}}
    made = client.post(f"/api/climbs/{view['id']}/moves", json=sent)
    assert made.status_code == 200, made.json
    return made.json


def test_before_it_starts_it_is_said_how_long_it_will_take_and_what_that_is_worth(client):
    found = client.get(PATH, query_string={"a": 1, "b": 2, "difference": 2}).json
    assert found["trial"] is None
    plan = found["plan"]
    assert plan["difference"] == 2
    assert plan["worth"] == pytest.approx(2 * 12 * A_MONTH)
    wider = client.get(PATH, query_string={"a": 1, "b": 2, "difference": 4}).json["plan"]
    assert plan["cases"] >= wider["cases"] >= 40
    assert plan["weeks"] == pytest.approx(plan["cases"] / A_MONTH * 52 / 12)
    usual = client.get(PATH, query_string={"a": 1, "b": 2}).json
    assert usual["plan"]["difference"] == pytest.approx(usual["mean_cost"] / 5)


def test_each_case_is_given_one_of_both_and_belongs_to_its_fault(client, desk):
    assert begin(client).json["trial"]["now"]["stopped"] is None
    editions = Counter(start(client)["edition"] for _ in range(60))
    assert 15 < editions[1] < 45
    first = start(client, unit="G-7")
    for _ in range(6):
        assert start(client, unit="G-7")["edition"] == first["edition"], "nobody starts anew to get the other"
    again = start(client, unit="G-8", climb="a-case-of-its-own")
    assert start(client, unit="G-8", climb="a-case-of-its-own")["edition"] == again["edition"]
    assert "seed" not in client.get(PATH).get_data(as_text=True)
    with desk.reading() as session:
        rows = session.query(TrialCaseRow).filter_by(unit="G-7").all()
        assert (len(rows), {row.first for row in rows}) == (7, {first["id"]})


def test_a_case_that_came_back_keeps_its_edition_and_counts_with_the_one_before(client):
    begin(client)
    for _ in range(4):
        view = abandon(client, start(client))
        again = client.post(f"/api/cases/{view['case']}/reopen", json={"id": str(uuid4())}).json
        assert again["edition"] == view["edition"]
        abandon(client, again)
    now = client.get(PATH).json["trial"]["now"]
    assert now["count_a"] + now["count_b"] == 4, "each fault is one case of the trial"


def test_it_counts_what_cases_cost_and_stops_by_itself_for_good(client, desk):
    begin(client)
    with desk.writing() as session:
        row = session.query(TrialRow).one()
        row.ground = {**row.ground, "cap": 1e9}
    views = [start(client) for _ in range(41)]
    for view in views[:39]:
        abandon(client, view)
    # As if cases by the second edition cost next to nothing.
    with desk.writing() as session:
        for place, one in enumerate(session.query(TrialCaseRow)):
            one.cost = 100.0 + place % 3 if one.arm == "a" else 1.0
    before = client.get(PATH).json["trial"]
    assert (before["now"]["count_a"] + before["now"]["count_b"], before["now"]["difference"]) == (39, None)
    abandon(client, views[39])
    ended = client.get(PATH).json["trial"]
    assert (ended["stopped"], ended["better"], ended["now"]["better"]) == ("decided", 2, "b")
    assert ended["now"]["high"] < 0
    assert ended["ended"] is not None
    assert {start(client)["edition"] for _ in range(6)} == {2}


def test_the_milder_edition_is_followed_after_harm_though_it_is_the_older_one(client, desk):
    begin(client)
    views = [start(client) for _ in range(60)]
    for view in [one for one in views if one["edition"] == 2][:8]:
        abandon(client, view)
        with desk.writing() as session:
            session.query(TrialCaseRow).filter_by(climb_id=view["id"]).one().is_severe = True
    abandon(client, next(one for one in views if one["edition"] == 1))
    ended = client.get(PATH).json["trial"]
    assert (ended["stopped"], ended["better"]) == ("harm", 1)
    assert {start(client)["edition"] for _ in range(6)} == {1}


def test_nothing_is_published_meanwhile_and_a_lead_may_stop_it(client):
    begin(client)
    assert begin(client).status_code == 409
    refused = client.post(f"/api/playbooks/{ID}/editions", json={"note": "x"}, headers={"If-Match": '"1"'})
    assert "run side by side" in refused.get_data(as_text=True)
    client.put("/api/me", json={"person": AGENT_ID})
    assert client.delete(PATH).status_code == 403
    client.put("/api/me", json={"person": LEAD_ID})
    stopped = client.delete(PATH).json["trial"]
    assert (stopped["stopped"], stopped["better"]) == (None, None)
    assert stopped["ended"] is not None
    assert client.delete(PATH).status_code == 409
    assert {start(client)["edition"] for _ in range(8)} == {2}


def test_what_cannot_be_run_is_said(client):
    assert begin(client, b=1).status_code == 409
    assert begin(client, b=7).status_code == 404
    assert begin(client, difference=0).status_code == 422
    client.put("/api/me", json={"person": AGENT_ID})
    assert begin(client).status_code == 403


def test_a_log_that_says_too_little_of_costs_plans_nothing(desk):
    log(desk, 20)
    client = at_noon(desk)
    assert client.get(PATH, query_string={"a": 1, "b": 1}).json == {
        "trial": None,
        "plan": None,
        "pace": None,
        "mean_cost": None,
    }
