"""Drafts, revisions and editions on the real database, also read by another connection."""

import json
import zlib

import pytest

from mildladder.core.draft.groups import undoable
from mildladder.core.errors import Conflict, NotFound, Unsound
from mildladder.core.figures.forecast import forecast
from mildladder.core.model import Document, Playbook
from mildladder.desk.documents import newest
from mildladder.desk.drafts import author
from mildladder.desk.drafts.draft_view import figures_of, review_of
from mildladder.desk.drafts.drafting import Sender, become, take, undo_operations
from mildladder.desk.drafts.editions import edition_list
from mildladder.desk.publishing import publish
from mildladder.desk.publishing.files import export_playbook, import_playbook
from mildladder.store.database import Database
from mildladder.store.documents import document_of
from mildladder.store.drafts import form_at, groups_of, newest_revision, revision
from mildladder.store.editions import newest_edition
from mildladder.store.tables import FormRow
from tests.conftest import LEAD_ID
from tests.samples import NOON, gate, gate_with_step, order_of

ID = "gate-arm-up"


def turned(*order: int) -> Document:
    """The sample with its rungs in another order."""
    rungs = gate().ladder
    playbook = gate().model_copy(update={"ladder": tuple(rungs[number] for number in order)})
    return Document(playbook=playbook, origins={step.id: (step.id, 1) for step in playbook.steps})


def bring(desk: Database, document: Document, who: int = LEAD_ID) -> int:
    """Make it the draft; the revision."""
    with desk.writing() as session:
        return become(session, document, None, who, NOON).number


def stored(desk: Database) -> tuple[Playbook, int]:
    """The draft as another process would read it, and its revision."""
    other = Database(desk.path)
    with other.reading() as session:
        found = newest(session, ID)
    other.close()
    return found


def test_a_changed_document_is_kept_as_what_changed_with_a_label(desk):
    number = bring(desk, turned(1, 0, 2, 3, 4))
    playbook, revision = stored(desk)
    assert (order_of(playbook)[:2], revision) == (["clear-hold", "sensor-look"], number)
    with desk.reading() as session:
        row = newest_revision(session, ID)
        assert row.label == "“Clear the hold-open setting” moved from 2 to 1"
        assert [one["op"] for one in row.operations] == ["move"]
        assert not figures_of(session, ID).is_published


def test_any_revision_can_be_made_again_by_another_process(desk):
    orders = [(1, 0, 2, 3, 4), (4, 1, 0, 2, 3), (0, 1, 2, 3, 4), (0, 1, 4, 2, 3)]
    numbers = [bring(desk, turned(*order)) for order in orders]
    other = Database(desk.path)
    with other.reading() as session:
        for order, number in zip(orders, numbers, strict=True):
            assert document_of(revision(session, ID, number)).playbook == turned(*order).playbook
    other.close()


def test_publishing_freezes_document_and_figures(desk):
    with pytest.raises(Conflict, match="nothing has changed since edition 1"), desk.writing() as session:
        publish.publish(session, ID, "Again", 1, LEAD_ID, NOON)
    moved = bring(desk, turned(1, 0, 2, 3, 4))
    with desk.writing() as session:
        edition = publish.publish(session, ID, "Setting first", moved, LEAD_ID, NOON)
    assert (edition.number, edition.forecast) == (2, forecast(turned(1, 0, 2, 3, 4).playbook))
    bring(desk, turned(0, 1, 2, 3, 4))
    with desk.reading() as session:
        assert order_of(export_playbook(session, ID, False)) == order_of(turned(1, 0, 2, 3, 4).playbook)
        assert [e.note for e in edition_list(session, ID)] == ["Setting first", "First edition"]


def test_a_broken_rule_stops_publishing(desk):
    wrong = gate(ladder=[{"step": "reload-program"}, {"step": "save-counts"}])
    number = bring(desk, Document(playbook=wrong, origins={}))
    with desk.writing() as session:
        says = "“Save the passage counts” must stand above “Load the lane unit's program again”, which it protects"
        assert [one.says for one in review_of(session, ID, NOON.date()).review if one.level == "blocker"] == [says]
        with pytest.raises(Unsound, match="cannot be published") as stopped:
            publish.publish(session, ID, "Wrong", number, LEAD_ID, NOON)
        rung = next(one for one in form_at(session, ID, number)["ladder"] if one.get("step") == "reload-program")
    assert [(place[0], place[2]) for place in stopped.value.places] == [(rung["key"], says)]


def test_the_same_document_makes_no_revision(desk):
    assert bring(desk, turned(0, 1, 2, 3, 4)) == 1


def test_an_import_replaces_the_draft_as_one_undoable_revision(desk):
    bring(desk, turned(1, 0, 2, 3, 4))
    with desk.writing() as session:
        done = import_playbook(session, gate(title="Gate arm is up"), LEAD_ID, NOON, None, None)
    assert (done.is_new, done.edition, len(done.linked)) == (False, None, 5)
    assert stored(desk)[0].title == "Gate arm is up"
    with desk.writing() as session:
        group = undoable(groups_of(session, ID, LEAD_ID))
        operations, _ = undo_operations(session, ID, group.name, LEAD_ID)
        take(session, ID, Sender("undoing1", 1, "undoing-1", LEAD_ID), operations, NOON, None, group.name)
    playbook, _ = stored(desk)
    assert (playbook.title, order_of(playbook)) == ("Gate arm stays raised", order_of(turned(1, 0, 2, 3, 4).playbook))


def test_a_step_with_another_text_than_the_librarys_asks_which_to_keep(desk):
    changed = gate_with_step("clear-hold", title="Take the hold off")
    with pytest.raises(Conflict, match="other texts of these steps: clear-hold"), desk.writing() as session:
        import_playbook(session, changed, LEAD_ID, NOON, None, None)
    assert stored(desk)[0] == gate()
    with desk.writing() as session:
        import_playbook(session, changed, LEAD_ID, NOON, "library", None)
    assert stored(desk)[0].step("clear-hold").title == "Clear the hold-open setting"
    with desk.writing() as session:
        import_playbook(session, changed, LEAD_ID, NOON, "file", None)
    assert stored(desk)[0].step("clear-hold").title == "Take the hold off"


def test_a_step_of_another_kind_is_never_merged(desk):
    with pytest.raises(Conflict, match="only a separate id"), desk.writing() as session:
        import_playbook(session, gate_with_step("wave-through", kind="fix"), LEAD_ID, NOON, "file", None)


def test_a_fact_keeps_its_type_and_unites_its_choices(desk):
    facts = [{"id": "model", "ask": "Which?", "type": "choice", "choices": {"GR4": 0.5, "GR8": 0.5}}]
    with desk.writing() as session:
        import_playbook(session, gate(id="other", facts=facts), LEAD_ID, NOON, None, None)


def test_a_playbook_that_is_not_there_is_not_found(desk):
    with pytest.raises(NotFound, match="there is no playbook 'nothing'"), desk.reading() as session:
        author.draft_form(session, "nothing", None)


def test_one_more_key_in_a_stored_forecast_stops_nothing(desk, client):
    with desk.writing() as session:
        row = newest_edition(session, ID)
        row.forecast = {**row.forecast, "luck": 0.5, "rungs": [{**rung, "luck": 1} for rung in row.forecast["rungs"]]}
    assert client.get("/api/symptoms").status_code == 200
    assert client.get(f"/api/playbooks/{ID}/editions").json["editions"][0]["forecast"]["rungs"]


def test_a_form_that_cannot_be_read_is_told_in_plain_words(desk, client):
    with desk.writing() as session:
        row = session.get(FormRow, (ID, 1))
        form = json.loads(zlib.decompress(row.form))
        row.form = zlib.compress(json.dumps({**form, "shape": 99}).encode())
    answer = client.get(f"/api/playbooks/{ID}/draft")
    assert (answer.status_code, "newer version" in answer.json["detail"]) == (503, True)
