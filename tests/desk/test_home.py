"""The Desk's symptoms: what of the cures held, what the newest edition changed, how a draft stands."""

from datetime import date, timedelta

import pytest

from mildladder.api.app import create_app
from mildladder.core.ladder.content import content_hash
from mildladder.desk import home
from mildladder.desk.documents import document
from mildladder.desk.drafts.step_search import find_steps
from mildladder.desk.home import SymptomCard, symptoms
from mildladder.desk.log.intake import import_cases
from mildladder.desk.publishing.files import import_playbook
from mildladder.store import drafts
from mildladder.store.database import Database
from mildladder.store.log.tallies import fold
from mildladder.store.log.writing import Logging, log_cases
from tests.conftest import LEAD_ID, SHELL
from tests.pages import Page
from tests.samples import GATE, NOON, case, gate

ID = "gate-arm-up"
TODAY = NOON.date()
FIXED, FAILED = ("clear-hold", "fixed"), ("clear-hold", "no-change")


@pytest.fixture
def client(desk: Database):
    made = create_app(desk, now=lambda: NOON).test_client()
    made.put("/api/me", json={"person": LEAD_ID})
    return made


def log(desk: Database, *cases) -> None:
    with desk.writing() as session:
        import_cases(session, cases, "import", SHELL, NOON)


def card(desk: Database, today: date = TODAY) -> SymptomCard:
    with desk.reading() as session:
        return symptoms(session, today)[0]


def published(client) -> int:
    revision = client.get(f"/api/playbooks/{ID}/draft").json["revision"]
    made = client.post(f"/api/playbooks/{ID}/editions", json={"note": "So"}, headers={"If-Match": f'"{revision}"'})
    return made.json["number"]


def climbed_by(desk: Database, edition: int) -> dict[str, object]:
    with desk.reading() as session:
        digest = content_hash(document(session, ID, edition))
    return {"playbook": ID, "edition": edition, "edition_hash": digest}


def test_cures_have_held_once_their_window_has_passed_or_else_their_fault_has_come_back(desk):
    log(
        desk,
        *(case(number, FIXED, days_ago=40, unit=f"GR4-{number}") for number in range(6)),
        *(case(10 + number, FIXED, days_ago=2, unit=f"GR6-{number}") for number in range(3)),
        case(20, FAILED, days_ago=35, unit="GR4-1"),
        case(21, FAILED, days_ago=1, unit="GR6-1"),
        case(22, FAILED, days_ago=40, unit="GR4-9"),
    )
    made = card(desk).held
    assert made.mean == pytest.approx(5 / 7), "six that are old, one of them back; of the new ones that which is back"
    later = TODAY + timedelta(days=13)
    assert card(desk, later).held.mean == pytest.approx(7 / 9)
    with desk.writing() as session:
        fold(session, later, 14)
    assert card(desk, later).held.mean == pytest.approx(7 / 9), "counted by month they say the same"


def test_names_that_nobody_has_decided_on_are_told_until_a_lead_has_said_what_they_are(desk, client):
    log(
        desk,
        *(case(number, ("arm reset", "no-change"), FIXED) for number in range(5)),
        case(9, ("ARM DOWN", "no-change"), ("arm reset", "no-change"), FAILED),
    )
    odd = card(desk).odd_names
    assert (odd.names, odd.attempts, odd.most, odd.most_attempts) == (2, 7, "arm reset", 6)
    said = {"name": "arm reset", "step": "clear-hold"}
    assert client.post(f"/api/playbooks/{ID}/names", json=said).status_code < 300
    assert card(desk).odd_names.most == "ARM DOWN"
    of_its_own = {"name": "ARM DOWN", "step": None}
    assert client.post(f"/api/playbooks/{ID}/names", json=of_its_own).status_code < 300
    assert card(desk).odd_names is None


def test_what_the_newest_edition_changed_is_told_once_enough_cases_say_something(desk, client):
    assert Page(client).move(0, 1).status_code == 200
    assert published(client) == 2
    by_first, by_it = (climbed_by(desk, edition) for edition in (1, 2))
    log(desk, *(case(number, FIXED if number % 2 else FAILED, **by_first) for number in range(40)))
    log(desk, *(case(200 + number, FAILED) for number in range(40)))
    log(desk, *(case(100 + number, FIXED if number % 4 else FAILED, **by_it) for number in range(29)))
    assert card(desk).since is None
    log(desk, case(129, FIXED, **by_it), case(130, FIXED, **by_it), case(131, FIXED, **by_it))
    since = card(desk).since
    assert (since.edition, since.cases) == (2, 32)
    assert (since.before.mean, since.resolved.mean) == (0.5, pytest.approx(24 / 32)), "those by no edition do not count"


def test_a_draft_says_what_it_would_spare_and_what_keeps_it_from_agents(desk, client):
    assert card(desk).unpublished is None
    page = Page(client)
    assert page.move(0, 1).status_code == 200
    waiting = card(desk).unpublished
    figures = page.figures()
    less = figures["published"]["forecast"]["effort"] - figures["forecast"]["effort"]
    assert (waiting.less, waiting.held_by) == (pytest.approx(less), None)
    assert less != 0
    assert page.type("playbook", ["title"], "").status_code == 200
    held = card(desk).unpublished
    assert held.less is None
    assert held.held_by
    assert page.undo().status_code == 200
    assert published(client) == 2
    assert card(desk).unpublished is None


def test_a_desk_of_many_symptoms_is_worked_out_once(desk, monkeypatch):
    with desk.writing() as session:
        for number in range(140):
            import_playbook(session, gate().model_copy(update={"id": f"gate-{number}"}), LEAD_ID, NOON, None, None)
    made = []
    worked_out = home._written
    monkeypatch.setattr(home, "_written", lambda *about: made.append(about) or worked_out(*about))
    with desk.reading() as session:
        first = symptoms(session, TODAY)
    assert len(made) == len(first) >= 140
    with desk.reading() as session:
        assert symptoms(session, TODAY) == first
    assert len(made) == len(first)


def test_a_name_that_becomes_a_step_of_the_library_is_odd_no_longer(desk):
    log(desk, *(case(number, ("hold-off", "fixed"), days_ago=number) for number in range(9)))
    assert card(desk).odd_names.most == "hold-off"
    fix = {"id": "hold-off", "title": "Switch the hold off", "kind": "fix", "fixes": {"bad-setting": 0.5}}
    with desk.writing() as session:
        import_playbook(session, gate(id="other", steps=[*GATE["steps"], fix]), LEAD_ID, NOON, None, None)
        log_cases(session, [case(99, days_ago=1, symptom="other")], Logging("import", LEAD_ID, NOON, 14))
    with desk.reading() as session:
        (mine,) = [one for one in symptoms(session, TODAY) if one.id == ID]
    assert mine.odd_names is None


def test_neither_a_new_day_nor_another_symptom_reads_a_draft_again(desk, monkeypatch):
    log(desk, *(case(number, FIXED, days_ago=number) for number in range(9)))
    assert card(desk).cases == 9
    unpacked = []
    monkeypatch.setattr("mildladder.store.drafts._made_again", lambda *asked: unpacked.append(asked))
    monkeypatch.setattr(home, "document_of", lambda row: unpacked.append(row))
    assert card(desk, TODAY + timedelta(days=1)).cases == 9
    with desk.writing() as session:
        log_cases(session, [case(99, days_ago=1, symptom="other")], Logging("import", LEAD_ID, NOON, 14))
    assert card(desk).cases == 9
    assert unpacked == []


def test_lists_of_very_many_symptoms_unpack_no_draft_twice(desk, monkeypatch):
    """Whatever number of drafts there are, typing in the find box reads what was read of them before."""
    count = 140
    with desk.writing() as session:
        for number in range(count):
            import_playbook(session, gate(id=f"gate-{number}"), LEAD_ID, NOON, None, None)

    def look():
        with desk.reading() as session:
            assert find_steps(session, "hold", None, TODAY).steps
            assert len(symptoms(session, TODAY)) == count + 1

    look()
    unpacked = []
    made_again = drafts._made_again
    monkeypatch.setattr(drafts, "_made_again", lambda *asked: unpacked.append(asked) or made_again(*asked))
    look()
    assert unpacked == []
