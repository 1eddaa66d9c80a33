"""Evidence over HTTP: counted by filter, estimated as a job, an older answer told as such."""

from datetime import timedelta

import pytest
from sqlalchemy import delete

from mildladder.api.app import create_app
from mildladder.core.errors import BadInput
from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.lesson import Lesson, Teaching
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.content import content_hash
from mildladder.desk.documents import document
from mildladder.desk.evidence.measuring import measure, replay_cases
from mildladder.desk.log.intake import import_cases
from mildladder.desk.publishing.files import import_playbook
from mildladder.desk.work.kinds import InlineWorkers
from mildladder.exchange.case_lines import read_each, write_cases
from mildladder.store.tables import JobRow
from tests.conftest import AGENT_ID, LEAD_ID, SHELL
from tests.samples import GATE, NOON, case, gate

ID = "gate-arm-up"


class Nobody:
    """Workers that never come to it."""

    def notify(self, kind):
        """Asked for, and left."""


def bring(desk, *cases):
    with desk.writing() as session:
        return import_cases(session, cases, "import", SHELL, NOON, "office.jsonl", False)


def log(desk, count=60, first=0):
    """Cases of two sites and models, half of them ended by the first fix."""
    made = []
    for number in range(first, first + count):
        outcome = "fixed" if number % 2 else "no-change"
        facts = {"model": "GR4" if number % 3 else "GR6", "site": "Low Harrow" if number % 4 else "Vane Island"}
        made.append(case(number, ("clear-hold", outcome), days_ago=number % 90, facts=facts, baseline="fails"))
    return bring(desk, *made)


def at_noon(desk, workers=None):
    """A browser at which the lead sits, on the day on which the last case was closed."""
    client = create_app(desk, now=lambda: NOON, workers=workers).test_client()
    client.put("/api/me", json={"person": LEAD_ID})
    return client


def evidence(client, **query):
    return client.get(f"/api/playbooks/{ID}/evidence", query_string=query)


def estimate(client, **query):
    return client.get(f"/api/playbooks/{ID}/estimate", query_string=query)


def row(answer, step="clear-hold"):
    return next(one for one in answer.json["rows"] if one["step"] == step)


def test_a_filter_leaves_the_cases_that_it_asks_for(client, desk):
    log(desk)
    whole = evidence(client).json
    assert (whole["cases"], whole["of"]) == (60, 60)
    assert whole["filters"]["sites"] == ["Low Harrow", "Vane Island"]
    models = next(one for one in whole["filters"]["facts"] if one["fact"] == "model")
    assert models["values"] == ["GR4", "GR6"]
    some = evidence(client, unit="model:GR6", site="Vane Island")
    assert (some.json["cases"], some.json["of"]) == (5, 60)
    assert row(some)["counts"]["tried"] == 5
    by_month = [evidence(client, since=month, until=month).json["cases"] for month in whole["filters"]["months"]]
    assert sum(by_month) == 60
    assert len(by_month) >= 3
    assert evidence(client, source="guided").json["cases"] == 0
    assert evidence(client, edition=1).json["cases"] == 0


def test_each_step_has_its_months_and_its_minutes(client, desk):
    attempts = [{"step": "clear-hold", "outcome": "no-change", "minutes": 6}]
    bring(desk, *(case(number, days_ago=number, attempts=attempts) for number in range(40)))
    found = row(evidence(client))
    assert sum(one["tried"] for one in found["months"]) == 40
    assert found["minutes"]["tries"] == 40
    assert found["minutes"]["median"] == pytest.approx(6, rel=0.05)


def test_the_estimate_is_a_job_and_its_answer_is_kept(client, desk):
    log(desk)
    made = estimate(client)
    assert made.status_code == 200
    assert made.json["estimate"]["cases"] == 60
    first = next(one for one in made.json["estimate"]["steps"] if one["step"] == "clear-hold")["first"]
    assert first["low"] < first["mean"] < first["high"]
    assert made.json["edition"] == 1
    assert made.json["filtered"] is None
    assert made.json["is_stale"] is False
    assert estimate(client).json == made.json


def test_a_filtered_estimate_says_how_many_cases_it_rests_on(client, desk):
    log(desk)
    assert estimate(client, unit="model:GR4").json["filtered"] == 40
    few = estimate(client, unit="model:GR6", site="Vane Island").json
    assert (few["filtered"], few["estimate"]["refused"]) == (5, "too-few")


def test_an_older_estimate_is_shown_as_such_while_a_newer_one_is_made(desk, client):
    log(desk)
    before = estimate(client).json
    bring(desk, case(1000, ("clear-hold", "fixed")))
    waiting = at_noon(desk, Nobody())
    again = estimate(waiting).json
    assert again["is_stale"] is True
    assert again["estimate"] == before["estimate"]
    assert estimate(waiting, unit="model:GR4").status_code == 202, "another filter has no answer yet"
    InlineWorkers(desk).notify("estimating")
    newer = estimate(client).json
    assert (newer["is_stale"], newer["estimate"]["cases"]) == (False, 61)


def test_cases_brought_in_are_kept_out_of_what_is_estimated_and_speak_again(client, desk):
    """Elsewhere the first fix is said to end two of three, here it ends one in four."""

    def tried(number, ends):
        did = [("clear-hold", "fixed")] if ends else [("clear-hold", "no-change"), ("reload-program", "fixed")]
        return case(number, *did, days_ago=number % 90, baseline="fails")

    bring(desk, *(tried(number, number % 3 != 0) for number in range(60)))
    here = [tried(number, number % 4 == 0) for number in range(100, 160)]
    with desk.writing() as session:
        import_cases(session, here, "demo", SHELL, NOON)

    def first(made):
        (found,) = (one for one in made.json["estimate"]["steps"] if one["step"] == "clear-hold")
        return found["first"]["mean"]

    def exclude_cases(is_kept_out):
        return client.put(f"/api/playbooks/{ID}/brought-in", json={"is_kept_out": is_kept_out})

    whole, seen = estimate(client), evidence(client).json
    assert (whole.json["estimate"]["cases"], whole.json["kept_out"]) == (120, None)
    assert (seen["brought_in"], seen["kept_out"]) == (60, None)

    said = exclude_cases(True).json
    assert (said["cases"], said["kept_out"], row(evidence(client))["counts"]["tried"]) == (120, 60, 120)
    without = estimate(client)
    assert (without.json["estimate"]["cases"], without.json["kept_out"], without.json["filtered"]) == (60, 60, None)
    assert first(without) < first(whole) - 0.1
    assert estimate(client, source="brought-in").json["filtered"] == 60, "looked at for their own sake"
    revision = client.get(f"/api/playbooks/{ID}/draft").json["revision"]
    by_cases = client.get(f"/api/playbooks/{ID}/draft/figures?revision={revision}&by=cases").json
    assert by_cases["forecast"]["rungs"][0]["resolved"] < first(whole) - 0.1

    assert exclude_cases(False).json["kept_out"] is None
    assert first(estimate(client)) == first(whole)


def test_only_a_lead_keeps_cases_out(client, desk):
    log(desk, 3)
    body = {"is_kept_out": True}
    assert client.put("/api/playbooks/nothing/brought-in", json=body).status_code == 404
    client.put("/api/me", json={"person": AGENT_ID})
    assert client.put(f"/api/playbooks/{ID}/brought-in", json=body).status_code == 403
    assert evidence(client).json["kept_out"] is None


def test_without_a_case_every_figure_is_refused(client):
    made = estimate(client).json
    assert made["estimate"]["refused"] == "too-few"
    assert {one["first"]["mean"] for one in made["estimate"]["steps"]} == {None}
    assert evidence(client).json["of"] == 0


def test_what_makes_no_sense_is_refused(client):
    assert estimate(client, since="soon").status_code == 422
    assert estimate(client, unit="model").status_code == 422
    assert client.get("/api/playbooks/nothing/estimate").status_code == 404


def test_what_was_not_learned_of_callers_to_a_notice_is_said(client):
    notice = {"playbook": ID, "says": "The lane server is down"}
    number = client.post("/api/notices", json=notice).json["notices"][0]["number"]
    client.post(f"/api/notices/{number}/calls", json={"id": "call-000001", "caller": "Bo"})
    assert (evidence(client).json["calls"], evidence(client).json["of"]) == (1, 0)


def test_files_alone_give_the_figures_of_the_desk(desk):
    client = at_noon(desk)
    cases = [
        case(
            number,
            ("clear-hold", "fixed" if number % 3 else "no-change"),
            days_ago=number % 50,
            unit=f"U{number % 30}",
        )
        for number in range(80)
    ]
    bring(desk, *cases)
    with desk.reading() as session:
        playbook = document(session, ID, 1)
    lines = b"".join(write_cases(cases)).splitlines(keepends=True)
    made = {one.step: one for one in measure(playbook, [one.case for one in read_each(lines)]).steps}
    for one in estimate(client).json["estimate"]["steps"]:
        assert made[one["step"]].first.model_dump() == one["first"]
        assert made[one["step"]].here.model_dump() == one["here"]
    counts = row(evidence(client))["counts"]
    mine = made["clear-hold"]
    assert (mine.tried, mine.resolved, mine.held) == (counts["tried"], counts["resolved"], counts["held"])
    assert 0 < counts["held"] < counts["judged"] < counts["resolved"]


def figures(client, **query):
    return client.get(f"/api/playbooks/{ID}/draft/figures", query_string=query).json


def test_figures_by_the_cases_are_the_guesses_until_there_are_cases_and_then_what_they_have_taught(client, desk):
    judged = figures(client)
    assert judged["taught_by"] is None
    assert figures(client, by="cases") == judged, "nobody has taught anything yet"
    log(desk)
    estimate(client)
    taught = figures(client, by="cases")
    assert isinstance(taught["taught_by"], str)
    lesson = Lesson.model_validate(estimate(client).json["lesson"])
    with desk.reading() as session:
        draft = document(session, ID, "draft")
        edition = document(session, ID, 1)
    teaching = Teaching("1", learnable(edition), lesson)
    assert taught["forecast"]["effort"] == pytest.approx(forecast(teaching.taught(draft)).effort, abs=1e-9)
    assert taught["published"]["forecast"]["effort"] == pytest.approx(
        forecast(teaching.taught(edition)).effort, abs=1e-9
    )
    assert taught["forecast"]["effort"] != pytest.approx(judged["forecast"]["effort"])
    assert taught["playbook"] == judged["playbook"], "the document says what the lead wrote"
    assert figures(client, by="judged") == judged
    by_unit = figures(client, by="cases", unit="model:GR4")
    assert by_unit["forecast"]["effort"] != pytest.approx(taught["forecast"]["effort"])


def test_minutes_and_the_history_of_units_are_learned_and_no_history_is_written_into_a_ladder(client, desk):
    when = "earlier cases at least 1 within 30 days"
    ladder = [{**rung, "when": when} if rung["step"] == "reload-program" else rung for rung in GATE["ladder"]]
    with desk.writing() as session:
        import_playbook(session, gate(ladder=ladder), LEAD_ID, NOON, None, "Asks for history")
    tried = [{"step": "clear-hold", "outcome": "no-change", "minutes": 14}]
    # Two cases of each unit, the second under the history.
    bring(
        desk,
        *(case(2000 + n, attempts=tried, days_ago=20 - n % 2 * 9, unit=f"U-{n // 2}") for n in range(80)),
        *(case(2100 + n, ("clear-hold", "fixed"), days_ago=3) for n in range(20)),
    )
    lesson = estimate(client).json["lesson"]
    assert lesson["histories"] == {when: 0.4}
    assert lesson["minutes"]["clear-hold"] == pytest.approx(14, rel=0.05)
    taught = figures(client, by="cases")["forecast"]
    at = next(number for number, rung in enumerate(ladder) if rung["step"] == "reload-program")
    assert figures(client)["forecast"]["rungs"][at]["reach"] == 0
    assert taught["rungs"][at]["reach"] == pytest.approx(0.4 * taught["rungs"][at]["arriving"])
    told = client.get(f"/api/playbooks/{ID}/draft/suggestions?by=cases").json["suggestions"]
    written = {rung.get("when") for one in told for rung in one["ladder"] or ()}
    assert all(text is None or "history" not in text for text in written)
    learned = client.get(f"/api/playbooks/{ID}/draft/learned").json
    assert learned["effort"]["low"] < taught["effort"] < learned["effort"]["high"]


def test_orders_and_reasons_are_by_the_cases_where_that_is_wanted(client, desk):
    log(desk)
    estimate(client)
    taught = figures(client, by="cases")["forecast"]

    def asked(what, **query):
        return client.get(f"/api/playbooks/{ID}/draft/{what}", query_string=query).json

    assert asked("curve", by="cases")["draft"]["effort"] == pytest.approx(taught["effort"])
    assert asked("curve")["draft"]["effort"] == pytest.approx(figures(client)["forecast"]["effort"])
    assert asked("rungs/1/why", by="cases")["resolved"] != asked("rungs/1/why")["resolved"]
    changes = {"steps": []}
    then = client.post(f"/api/playbooks/{ID}/draft/what-if?by=cases", json=changes).json
    assert then["now"]["effort"] == pytest.approx(taught["effort"])
    assert asked("suggestions", by="cases").keys() == {"suggestions"}


def test_what_an_estimate_taught_that_is_kept_no_longer_is_asked_anew(client, desk):
    log(desk)
    estimate(client)
    assert figures(client, by="cases")["taught_by"] is not None
    with desk.writing() as session:
        session.execute(delete(JobRow))
    assert figures(client, by="cases")["taught_by"] is None


def replayed(client, **query):
    return client.get(f"/api/playbooks/{ID}/replay", query_string=query)


def test_a_ladder_is_replayed_on_the_logged_cases_as_a_job_and_as_the_shell_does(desk):
    cases = [
        case(number, ("clear-hold", "fixed" if number % 2 else "no-change"), days_ago=number % 60, baseline="fails")
        for number in range(90)
    ]
    bring(desk, *cases)
    client = at_noon(desk)
    made = replayed(client, before="1").json["replay"]
    assert made["cases"] == 90
    assert sum(part["cases"] for part in made["months"]) == pytest.approx(90)
    # The draft is the edition as it was published: nothing is spared.
    assert made["less"]["effort"] == {"mean": 0, "low": 0, "high": 0}
    assert replayed(client, before="1").json["observed"] is None
    with desk.reading() as session:
        playbook = document(session, ID, 1)
    by_shell = replay_cases(playbook, cases, None)
    for name in ("effort", "harm", "handed_off"):
        assert made["ladder"][name] == pytest.approx(getattr(by_shell, name).model_dump(), rel=1e-9)
    assert at_noon(desk, workers=Nobody()).get(f"/api/playbooks/{ID}/replay?after=1").status_code == 202


def test_what_cannot_be_replayed_is_said(client, desk):
    log(desk, 12)
    few = replayed(client)
    assert few.status_code == 422
    assert "fewer than 30" in few.json["detail"]
    assert replayed(client, after="7").status_code == 404
    assert replayed(client, after="newest").status_code == 422
    with desk.reading() as session:
        playbook = document(session, ID, 1)
    with pytest.raises(BadInput, match="another symptom"):
        replay_cases(playbook, [], playbook.model_copy(update={"id": "another"}))


def test_two_editions_are_compared_as_their_own_cases_went(client, desk):
    with desk.writing() as session:
        other = document(session, ID, 1).model_copy(update={"title": "Gate arm is up"})
        import_playbook(session, other, LEAD_ID, NOON, "file", "Another title")
        digests = {number: content_hash(document(session, ID, number)) for number in (1, 2)}
    made = []
    for number in range(120):
        edition = 1 + number % 2
        closed = NOON - timedelta(days=number % 60)
        made.append(
            case(
                number,
                ("clear-hold", "fixed"),
                closed=closed,
                opened=closed - timedelta(minutes=30 - 10 * edition),
                playbook=ID,
                edition=edition,
                edition_hash=digests[edition],
            )
        )
    bring(desk, *made)
    seen = replayed(client, before="1", after="2").json["observed"]
    assert (seen["cases_before"], seen["cases_after"]) == (60, 60)
    assert seen["before"]["minutes"]["mean"] == pytest.approx(20)
    assert seen["more"]["minutes"]["mean"] == pytest.approx(-10)
    assert seen["more"]["resolved"]["mean"] == 0
