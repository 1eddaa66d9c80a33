"""What to do next over HTTP: a job of each symptom, an older answer told as such, opened in the draft, declined."""

from datetime import timedelta

import pytest

from mildladder.api.app import create_app
from mildladder.core.ladder.content import content_hash
from mildladder.desk.advice import nudging
from mildladder.desk.advice.nudging import NudgeQuestion
from mildladder.desk.documents import document
from mildladder.desk.evidence import studying
from mildladder.desk.evidence.estimating import LearnedQuestion
from mildladder.desk.evidence.studying import EstimateView
from mildladder.desk.jobs.task import Task
from mildladder.desk.publishing.files import import_playbook
from mildladder.desk.work.kinds import run_waiting
from mildladder.store.advice import promises
from mildladder.store.drafts import states
from mildladder.store.tables import DeclinedNudgeRow
from tests.api.test_evidence import ID, Nobody, at_noon, bring, log
from tests.conftest import LEAD_ID
from tests.pages import Page
from tests.samples import GATE, NOON, case, gate

DROP = "Take “Read the home sensor” out of the ladder"


def told(client):
    return client.get("/api/nudges").json


def only(client):
    ((symptom),) = told(client)["symptoms"]
    return symptom, symptom["nudges"]


@pytest.fixture
def client(desk):
    """A browser at which the lead sits, on the day of the last of 240 cases in three months."""
    log(desk, 240)
    return at_noon(desk)


def decline(client, nudge, **said):
    return client.post(f"/api/nudges/{ID}/{nudge['key']}/declined", json={"is_for_good": False, **said})


def test_what_to_do_next_says_what_it_saves_a_month_and_by_how_many_cases(client):
    symptom, (nudge, *_) = only(client)
    assert (symptom["playbook"], symptom["is_stale"], told(client)["waiting"]) == (ID, False, 0)
    assert (nudge["kind"], nudge["says"], nudge["cases"]) == ("drop", DROP, 240)
    # One minute of the desk a case; 240 cases, the first of them closed 89 days ago.
    assert symptom["pace"] == {"a_month": pytest.approx(240 * 30.44 / 89), "days": 89}
    assert nudge["people"]["mean"] == pytest.approx(240 * 30.44 / 89)
    assert nudge["by_person"]["desk"] == pytest.approx(240 * 30.44 / 89)
    assert len(nudge["before"]) == len(nudge["after"]) + 1


def test_with_few_cases_nothing_is_worked_out(desk):
    log(desk, 20)
    assert told(at_noon(desk)) == {"symptoms": [], "of": 0, "waiting": 0, "counted_on": 1.0}


def test_an_older_answer_is_shown_as_such_while_a_newer_one_is_made(desk, client):
    only(client)
    log(desk, 5, first=300)
    waiting = create_app(desk, now=lambda: NOON, workers=Nobody()).test_client()
    waiting.put("/api/me", json={"person": LEAD_ID})
    (symptom,) = told(waiting)["symptoms"]
    assert (symptom["is_stale"], told(waiting)["waiting"]) == (True, 1)
    assert symptom["nudges"][0]["says"] == DROP


def test_what_is_opened_in_the_draft_is_one_change_that_is_undone_in_one(client):
    symptom, (nudge, *_) = only(client)
    page = Page(client)
    before = page.rungs()
    says = f"{nudge['says']}. {nudge['why']}"
    deed = {"kind": "suggestion", "revision": symptom["revision"], "ladder": nudge["ladder"], "says": says}
    assert page.send(deed=deed).status_code == 200
    assert page.rungs() == [rung["step"] for rung in nudge["ladder"]]
    again = Page(client).send(deed=deed)
    assert "that is in the draft already" in again.get_data(as_text=True), "pressed in another window too"
    assert page.rungs() == [rung["step"] for rung in nudge["ladder"]]
    assert nudge["says"] not in [one["says"] for one in only(client)[1]], "what is done is not suggested again"
    assert page.undo().status_code == 200
    assert page.rungs() == before


def test_what_is_not_wanted_now_comes_back_when_the_cases_say_something_else(desk, client):
    _, (nudge, *_) = only(client)
    assert decline(client, nudge, why="The crew likes it").status_code == 200
    assert nudge["key"] not in [one["key"] for one in only(client)[1]]
    with desk.writing() as session:
        row = session.get(DeclinedNudgeRow, (ID, nudge["key"]))
        assert (row.why, row.who, row.is_for_good) == ("The crew likes it", LEAD_ID, False)
        # Half of its interval's width is soon gone through where the interval is narrow.
        row.mean += 20
    assert nudge["key"] in [one["key"] for one in only(client)[1]]


def test_never_is_for_good_and_wants_a_reason(desk, client):
    _, (nudge, *_) = only(client)
    refused = decline(client, nudge, is_for_good=True, why=" ")
    assert (refused.status_code, refused.json["detail"]) == (409, "say why it is never to be shown again")
    assert decline(client, nudge, is_for_good=True, why="The law wants it").status_code == 200
    with desk.writing() as session:
        session.get(DeclinedNudgeRow, (ID, nudge["key"])).mean += 1000
    assert nudge["key"] not in [one["key"] for one in only(client)[1]]


def test_only_a_lead_declines_and_only_what_is_suggested(client):
    _, (nudge, *_) = only(client)
    assert decline(client, {"key": "0" * 16}).status_code == 404
    people = client.get("/api/me").json["people"]
    agent = next(one for one in people if one["role"] == "agent")
    client.put("/api/me", json={"person": agent["id"]})
    assert decline(client, nudge).status_code == 403
    assert nudge["key"] in [one["key"] for one in only(client)[1]]


def test_cases_a_month_are_those_of_the_last_half_year(desk, client):
    assert only(client)[1]
    later = create_app(desk, now=lambda: NOON.replace(year=NOON.year + 2)).test_client()
    later.put("/api/me", json={"person": LEAD_ID})
    assert told(later)["symptoms"][0]["nudges"] == [], "nobody calls about it any more"


def published(client):
    """The draft as the next edition."""
    revision = client.get(f"/api/playbooks/{ID}/draft").json["revision"]
    answer = client.post(
        f"/api/playbooks/{ID}/editions", json={"note": "Fewer looks"}, headers={"If-Match": f'"{revision}"'}
    )
    assert answer.status_code == 201, answer.json
    return answer.json["number"]


def test_what_an_edition_promised_is_kept_and_stands_beside_what_came_of_it(desk, client):
    symptom, (nudge, *_) = only(client)
    page = Page(client)
    deed = {"kind": "suggestion", "revision": symptom["revision"], "ladder": nudge["ladder"], "says": nudge["says"]}
    assert page.send(deed=deed).status_code == 200
    assert published(client) == 2
    ((symptom,),) = [told(client)["symptoms"]]
    (promised,) = symptom["followed"]
    assert (promised["edition"], promised["since"], promised["came"]) == (2, 0, None)
    assert promised["a_month"] == pytest.approx(240 * 30.44 / 89)
    # What the nudge would save a month is what the edition promises of each case.
    saving = promised["promised"]["saving"]
    assert promised["a_month"] * saving["mean"] == pytest.approx(nudge["saving"]["mean"])
    assert saving["low"] <= saving["mean"] <= saving["high"]

    with desk.reading() as session:
        digest = content_hash(document(session, ID, 2))
    climbed = {"playbook": ID, "edition": 2, "edition_hash": digest, "baseline": "fails"}
    more = [
        case(1000 + number, ("clear-hold", "fixed" if number % 2 else "no-change"), days_ago=number % 9, **climbed)
        for number in range(29)
    ]
    bring(desk, *more)
    (before,) = told(client)["symptoms"][0]["followed"]
    assert (before["since"], before["came"]) == (29, None), "thirty cases are waited for"
    bring(desk, case(2000, ("clear-hold", "fixed"), **climbed))
    (after,) = told(client)["symptoms"][0]["followed"]
    assert after["since"] == 30
    assert after["promised"] == promised["promised"], "what was promised is never told otherwise"
    assert after["came"]["saving"]["mean"] == pytest.approx(saving["mean"], rel=0.2)
    assert after["came"] != after["promised"], "worked out anew, by all cases"


def test_a_promise_that_is_worked_out_after_the_cases_have_come_is_none(desk):
    log(desk, 60)
    left = create_app(desk, now=lambda: NOON, workers=Nobody()).test_client()
    left.put("/api/me", json={"person": LEAD_ID})
    assert Page(left).move(0, 1).status_code == 200
    assert published(left) == 2
    log(desk, 60, first=60)
    run_waiting(desk, "nudging")
    with desk.reading() as session:
        assert not promises(session, ID)


def test_an_edition_that_was_published_on_few_cases_promises_nothing(desk):
    client = at_noon(desk)
    page = Page(client)
    assert page.move(0, 1).status_code == 200
    assert published(client) == 2
    log(desk, 240)
    assert told(client)["symptoms"][0]["followed"] == []


def test_a_step_that_has_stopped_working_is_told_by_its_title_with_the_month(desk):
    made = [
        case(number, ("clear-hold", "no-change" if number < 120 and number % 8 else "fixed"), days_ago=number * 0.8)
        for number in range(360)
    ]
    bring(desk, *made)
    client = at_noon(desk)
    ((drift,),) = [told(client)["symptoms"][0]["drifts"]]
    assert drift["title"] == "Clear the hold-open setting"
    assert drift["since"] >= (NOON - timedelta(days=130)).date().isoformat()[:7]
    assert drift["resolved_after"] < drift["expected_after"]
    assert decline(client, {"key": "0" * 16}).status_code == 404
    assert decline(client, drift).status_code == 200
    assert told(client)["symptoms"][0]["drifts"] == [], "it is told once"
    with desk.writing() as session:
        session.delete(session.get(DeclinedNudgeRow, (ID, drift["key"])))
    assert told(client)["symptoms"][0]["drifts"] == [drift]


def question(desk) -> NudgeQuestion:
    """What would be asked of the symptom now."""
    with desk.reading() as session:
        (state,) = [one for one in states(session) if one.playbook == ID]
        return nudging._question(session, state, nudging._guards_by_step(session), 14, NOON)


def easing(step_id: str, name: str):
    """Another playbook in which a step is eased by a safeguard."""
    save = {"id": "save", "title": "Save it", "kind": "safeguard", "effort": {"hands_on": 1}}
    hazard = {"kind": "service", "severity": 2, "chance": 0.1, "eased_by": "save", "eased_to": 0.1}
    steps = [
        {**step, "id": step_id, "hazards": [hazard]} if step["id"] == "clear-hold" else step for step in GATE["steps"]
    ]
    ladder = [{**rung, "step": step_id} if rung["step"] == "clear-hold" else rung for rung in GATE["ladder"]]
    return gate(id=name, steps=[*steps, save], ladder=ladder)


def test_another_playbook_s_safeguard_for_one_of_its_steps_asks_anew_and_any_other_does_not(desk):
    with desk.writing() as session:
        import_playbook(session, gate(id="first"), LEAD_ID, NOON, None, None)
    before = question(desk)
    with desk.writing() as session:
        import_playbook(session, easing("their-own", "second"), LEAD_ID, NOON, None, None)
    assert question(desk) == before
    with desk.writing() as session:
        import_playbook(session, easing("clear-hold", "third"), LEAD_ID, NOON, "file", None)
    assert question(desk) != before


def test_a_study_of_another_day_or_window_is_another_study(desk, monkeypatch):
    log(desk, 60)
    studied = []
    monkeypatch.setattr(studying, "study", lambda *asked, **_: studied.append(asked[2:4]) or (None, EMPTY))

    def study(day, window):
        asked = LearnedQuestion(subject=ID, version=1, edition=1, revision=None, window=window, today=day)
        task = Task(desk, 1, asked, {}, None, NOON, False)
        with desk.reading() as session:
            read = studying.read_log(session, task)
        studying.estimated_of(task, read)

    today = NOON.date()
    for day, window in ((today, 14), (today, 14), (today + timedelta(days=1), 14), (today, 7), (today, 14)):
        study(day, window)
    assert studied == [(today, 14), (today + timedelta(days=1), 14), (today, 7)]


EMPTY = EstimateView.model_construct()
