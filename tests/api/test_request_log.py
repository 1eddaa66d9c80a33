"""One line a request and a job, and nothing of what callers said."""

import errno
import io
import json
import logging

import pytest

from mildladder.diagnostics import events as logs

SAID = "the barrier ate my ticket"


@pytest.fixture
def lines(monkeypatch):
    """What is noted, line by line, as JSON."""
    stream = io.StringIO()
    monkeypatch.setattr(logs, "_writers", [])
    logs.configure(stream)

    def written():
        logs.drain()
        return [json.loads(line) for line in stream.getvalue().splitlines()]

    return written


def test_a_request_is_one_line_with_route_status_time_and_person(client, lines):
    client.get("/api/playbooks/gate-arm-up/draft")
    (line,) = lines()
    assert (line["event"], line["method"], line["status"]) == ("request", "GET", 200)
    assert line["route"] == "/api/playbooks/<playbook_id>/draft"
    assert line["ms"] > 0
    assert line["who"] == 2
    assert "problem" not in line


def test_a_refusal_says_which_problem_it_was(client, lines):
    client.get("/api/playbooks/nothing/draft")
    assert (lines()[0]["status"], lines()[0]["problem"]) == (404, "not-found")


def test_what_a_caller_said_is_in_no_line(client, lines):
    started = {"said": SAID, "unit": "Mrs Pell", "facts": {"model": SAID}}
    client.post("/api/climbs", json={"id": "climb-0001", "playbook": "gate-arm-up", "started": started})
    client.get(f"/api/cases?words={SAID}")
    text = json.dumps(lines())
    assert len(lines()) == 2
    assert SAID not in text
    assert "Pell" not in text


def test_a_fault_of_our_own_tells_its_kind_and_place_and_not_its_message(client, lines, monkeypatch):
    def broken(*_):
        raise ZeroDivisionError(SAID)

    monkeypatch.setattr("mildladder.desk.home.symptoms", broken)
    client.application.config["PROPAGATE_EXCEPTIONS"] = False
    assert client.get("/api/symptoms").status_code == 500
    fault, request = lines()
    assert (fault["event"], fault["error"], request["status"]) == ("fault", "ZeroDivisionError", 500)
    assert "api/home.py" in fault["at"]
    assert SAID not in json.dumps(lines())


def test_a_job_is_one_line(client, lines):
    client.get("/api/playbooks/gate-arm-up/draft/curve")
    job, _request = lines()
    assert (job["event"], job["kind"], job["state"]) == ("job", "ordering", "done")
    assert (job["subject"], job["version"]) == ("gate-arm-up", 1)


def test_nothing_is_written_before_somebody_wants_it(client, capsys):
    client.get("/api/symptoms")
    assert capsys.readouterr() == ("", "")


def test_what_the_server_s_own_package_says_is_a_line_like_all_others(lines, capsys):
    logging.getLogger("waitress.queue").warning("Task queue depth is %d", 12)
    (line,) = lines()
    assert (line["event"], line["level"], line["says"]) == ("server", "error", "Task queue depth is %d")
    assert capsys.readouterr() == ("", "")


class Refusing(io.StringIO):
    """A stream that takes nothing while it is full."""

    is_full = True

    def write(self, text):
        if self.is_full:
            raise OSError(errno.ENOSPC, "No space left on device")
        return super().write(text)


def test_a_stream_that_takes_nothing_stops_no_answer_and_what_was_lost_is_counted(client, monkeypatch):
    stream = Refusing()
    monkeypatch.setattr(logs, "_writers", [])
    logs.configure(stream)
    for _ in range(3):
        assert client.get("/api/me").status_code == 200
    logs.drain()
    stream.is_full = False
    assert client.get("/api/me").status_code == 200
    logs.drain()
    lost, request = [json.loads(line) for line in stream.getvalue().splitlines()]
    assert (lost["event"], lost["lost"], request["event"]) == ("log", 3, "request")
